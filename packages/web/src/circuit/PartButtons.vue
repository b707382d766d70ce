<script setup lang="ts">
import type { SceneLabel } from './scene'

/** The parts on the sheet, for whoever does not see it. */
defineProps<{ labels: readonly SceneLabel[] }>()
defineEmits<{ open: [part: string] }>()
</script>

<template>
  <ul class="visually-hidden" aria-label="Parts on the sheet">
    <li v-for="l in labels" :key="l.id">
      <button
        tabindex="-1"
        :aria-label="`${l.name}${l.value ? `, ${l.value}: type another value` : ': show its values'}`"
        @click="$emit('open', l.id)"
      ></button>
    </li>
  </ul>
</template>
