<script setup lang="ts">
import { formatExact, parseQuantity, VoskelError } from '@voskel/core'
import { computed, ref, watch } from 'vue'

/** From where to where something is shown: two fields, taken together; emptied, everything is shown. */
const {
  label,
  unit,
  range,
  least = -Infinity,
  shown = null,
} = defineProps<{
  label: string
  unit: string
  /** SI; null where it is left to the curves. */
  range: readonly [number, number] | null
  /** What stands in the fields where nothing is said. */
  shown?: readonly [number, number] | null
  /** Where a range may begin. */
  least?: number
}>()
const emit = defineEmits<{ range: [range: readonly [number, number] | null] }>()

const said = computed(() => range ?? shown)
const show = (value: number | undefined) => (value === undefined ? '' : formatExact(Number(value.toPrecision(6)), unit))
const from = ref(show(said.value?.[0]))
const to = ref(show(said.value?.[1]))
const problem = ref('')
/** What is being typed is not overwritten by what comes in meanwhile. */
const isTyped = ref(false)
/** What stood in the fields when the typing began. */
let stood: readonly [string, string] = [from.value, to.value]
function reset() {
  from.value = show(said.value?.[0])
  to.value = show(said.value?.[1])
  stood = [from.value, to.value]
  problem.value = ''
}
watch(said, () => {
  if (!isTyped.value) reset()
})

/** Between its two fields nothing is taken yet. */
function left(event: FocusEvent) {
  const { currentTarget, relatedTarget } = event
  if ((currentTarget as HTMLElement).contains(relatedTarget as Node | null)) return
  done()
  if (!problem.value) isTyped.value = false
}

function done() {
  problem.value = ''
  if (from.value === stood[0] && to.value === stood[1]) return reset()
  if (from.value.trim() === '' && to.value.trim() === '') {
    isTyped.value = false
    return emit('range', null)
  }
  try {
    const [a, b] = [from.value, to.value].map((text) => parseQuantity(text, unit)) as [number, number]
    if (a < least) problem.value = `It begins at ${formatExact(least, unit)} or later.`
    else if (unit === 'Hz' && !(a > 0)) problem.value = 'A logarithm has no zero: it begins above 0 Hz.'
    else if (!(b > a)) problem.value = 'It must end above where it begins.'
    else {
      isTyped.value = false
      stood = [from.value, to.value]
      emit('range', [a, b])
    }
  } catch (error) {
    if (!(error instanceof VoskelError)) throw error
    problem.value = `${error.message} ${error.remedy}`
  }
}
</script>

<template>
  <fieldset class="range" :aria-label="label" @input="isTyped = true" @keydown.enter.prevent="done" @focusout="left">
    <input v-model="from" class="text-field" :aria-label="`${label} from`" spellcheck="false" />
    –
    <input v-model="to" class="text-field" :aria-label="`${label} to`" spellcheck="false" />
    <button
      v-if="range"
      type="button"
      class="plain-button"
      :aria-label="`${label}: everything`"
      @click="emit('range', null)"
    >
      all
    </button>
    <span v-if="problem" class="problem" role="alert">{{ problem }}</span>
  </fieldset>
</template>

<style scoped>
.range {
  display: inline-flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px;
  margin: 0;
  padding: 0;
  border: 0;
}

input {
  width: 82px;
  padding: 1px 6px;
}

.problem {
  color: var(--missed);
}
</style>
