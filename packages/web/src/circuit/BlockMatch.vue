<script setup lang="ts">
import { type Circuit, type EditCall, matchedPins, type Part, partShape, useOf } from '@voskel/core'
import { ElButton } from 'element-plus'
import { computed, ref, watch } from 'vue'

/** A block in the place of a part: which of its pins stands for which, matched once and remembered. */
const { part, circuit, matches } = defineProps<{
  part: Part
  circuit: Circuit
  /** What was matched before, by `keyOf`. */
  matches: Readonly<Record<string, Readonly<Record<string, string>>>>
}>()
const emit = defineEmits<{ edit: [call: EditCall]; match: [key: string, over: Record<string, string>] }>()

const blocks = computed(() => Object.keys(circuit.subcircuits ?? {}))
const block = ref('')
const pins = computed(() => partShape(part).pins)
const names = computed(() => (block.value ? (circuit.subcircuits?.[block.value]?.pins ?? []) : []))
const over = ref<Record<string, string>>({})
const keyOf = () => `${part.kind} ${block.value} ${names.value.join(' ')}`

watch(block, () => {
  const open = Object.fromEntries(pins.value.map((pin) => [pin, '']))
  const known = block.value ? (matches[keyOf()] ?? matchedPins(pins.value, names.value)) : {}
  over.value = { ...open, ...known }
})

function put() {
  const given = Object.fromEntries(Object.entries(over.value).filter(([, pin]) => pin !== ''))
  emit('match', keyOf(), given)
  emit('edit', { edit: 'replace-part', args: { part: part.id, by: { ...useOf(circuit, block.value) }, over: given } })
}
</script>

<template>
  <section v-if="blocks.length > 0 && part.kind !== 'subcircuit' && part.kind !== 'ground'" class="match">
    <label class="choice"
      >A block in its place
      <select v-model="block" class="text-field">
        <option value="">none</option>
        <option v-for="b in blocks" :key="b">{{ b }}</option>
      </select>
    </label>
    <template v-if="block">
      <label v-for="pin in pins" :key="pin" class="choice"
        >{{ pin }}
        <select v-model="over[pin]" class="text-field">
          <option value="">stays open</option>
          <option v-for="(name, k) in names" :key="name" :value="`p${k + 1}`">{{ name }}</option>
        </select>
      </label>
      <ElButton size="small" @click="put">Put the block there</ElButton>
    </template>
  </section>
</template>

<style scoped>
.match {
  display: grid;
  gap: 4px;
  padding: 6px 0;
}

.choice {
  display: flex;
  gap: 8px;
  align-items: center;
  justify-content: space-between;
}
</style>
