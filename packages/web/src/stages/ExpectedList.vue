<script setup lang="ts">
import { deviationOf, type Expected, formatQuantity, readingText } from '@voskel/core'
import { computed, onScopeDispose } from 'vue'
import { useDesignStore } from '../stores/design'
import { useExpectedStore } from '../stores/followed'

/** Numbers that were found by hand beside what the circuit has; the deviation follows every edit. */
const emit = defineEmits<{ forget: [id: string] }>()
const design = useDesignStore()
const found = useExpectedStore()
onScopeDispose(found.look())
const expected = computed<readonly Expected[]>(() => design.document?.expected ?? [])
const rows = computed(() =>
  expected.value.map((asked) => {
    const own = found.answer?.find((f) => f.id === asked.id)
    if (!own || own.value === null) return { asked, text: own?.failure ?? 'none here', isWithin: false, unit: '' }
    const { percent, isWithin } = deviationOf(asked, own.value)
    const by = `${percent > 0 ? '+' : ''}${formatQuantity(percent, asked.value === 0 ? own.unit : '%', 3)}`
    return { asked, text: `${formatQuantity(own.value, own.unit)}, ${by}`, isWithin, unit: own.unit }
  }),
)
</script>

<template>
  <section v-if="rows.length" aria-label="By hand">
    <h3>By hand</h3>
    <ul>
      <li v-for="{ asked, text, isWithin, unit } in rows" :key="asked.id">
        <span
          ><b>{{ asked.id }}</b> <span class="soft">{{ readingText(asked.of) }}:</span>
          {{ formatQuantity(asked.value, unit) }} ± {{ formatQuantity(asked.tolerance, '%', 3) }}, here
          <b :class="isWithin ? 'met' : 'missed'">{{ text }}</b><span class="visually-hidden">{{
            isWithin ? ', within' : ', not within'
          }}</span></span
        >
        <button
          type="button"
          class="plain-button"
          :aria-label="`Forget the expected ${asked.id}`"
          @click="emit('forget', asked.id)"
        >
          ×
        </button>
      </li>
    </ul>
  </section>
</template>

<style scoped src="./reading.css"></style>
<style scoped>
li {
  display: flex;
  justify-content: space-between;
}

.met {
  color: var(--met);
}

.missed {
  color: var(--missed);
}
</style>
