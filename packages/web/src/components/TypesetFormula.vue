<script setup lang="ts">
import { onBeforeUnmount, ref, watch } from 'vue'

/** A formula, typeset; until its font is there, and where it cannot be, as it is written. */
const { tex } = defineProps<{ tex: string }>()
const place = ref<HTMLElement | null>(null)
let isGone = false
onBeforeUnmount(() => (isGone = true))

watch(
  [() => tex, place],
  async () => {
    if (!place.value) return
    const { typeset } = await import('./typeset')
    if (!isGone && place.value) typeset(tex, place.value)
  },
  { immediate: true },
)
</script>

<template>
  <span ref="place" class="formula">{{ tex }}</span>
</template>

<style scoped>
.formula {
  display: block;
  overflow: auto hidden;
  padding: 3px 0;
}
</style>
