<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { computed, nextTick, onMounted, ref } from 'vue'
import { useComparedStore } from '../stores/compared'

/** The name and a note under which the run on the screen is kept. */
const { keep } = defineProps<{
  /** Keeps it; why not, or null. */
  keep: (name: string, note: string) => Promise<string | null>
}>()
const emit = defineEmits<{ close: [] }>()
const compared = useComparedStore()

const taken = computed(() => new Set(compared.items.map((i) => i.entry.name)))
const free = () => {
  for (let k = compared.items.length + 1; ; k++) if (!taken.value.has(`run ${k}`)) return `run ${k}`
}
const name = ref(free())
const note = ref('')
const problem = ref('')
const isKeeping = ref(false)
const field = ref<InstanceType<typeof ElInput> | null>(null)
onMounted(() => void nextTick(() => field.value?.select()))

async function pin() {
  const called = name.value.trim()
  problem.value = called === '' ? 'It needs a name.' : called.length > 80 ? 'A name has at most 80 characters.' : ''
  if (problem.value || isKeeping.value) return
  isKeeping.value = true
  const failure = await keep(called, note.value.trim())
  isKeeping.value = false
  if (failure === null) emit('close')
  else problem.value = `It is not kept: ${failure}`
}
</script>

<template>
  <form class="pin" aria-label="Pin this run" @submit.prevent="pin" @keydown.escape.stop="emit('close')">
    <label>name <ElInput ref="field" v-model="name" size="small" maxlength="80" aria-label="Name of the run" /></label>
    <label class="note"
      >note
      <ElInput
        v-model="note"
        size="small"
        maxlength="2000"
        aria-label="Note on the run"
        placeholder="what is different"
    /></label>
    <ElButton native-type="submit" size="small" type="primary" :loading="isKeeping">Pin</ElButton>
    <ElButton size="small" @click="emit('close')">Close</ElButton>
    <p v-if="problem" class="wrong" role="alert">{{ problem }}</p>
  </form>
</template>

<style scoped>
.pin {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 12px;
  padding: 4px 8px;
  border-bottom: 1px solid var(--line);
}

label {
  display: inline-flex;
  align-items: center;
  gap: 6px;
}

.note {
  flex: 1;
  max-width: 420px;
}

.wrong {
  flex-basis: 100%;
  margin: 0;
  color: var(--missed);
}
</style>
