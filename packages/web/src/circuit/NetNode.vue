<script setup lang="ts">
import { computed } from 'vue'
import type { LabelData } from './scene'

/** The name of a net: above the place where it was put, or where a row ends and goes on. */
const { data } = defineProps<{ data: LabelData }>()
const title = computed(() =>
  data.row === 'ends' ? 'Goes on in the next row' : data.row === 'begins' ? 'Comes from the row above' : undefined,
)
</script>

<template>
  <span class="net" :class="data.row" :title="title">{{ data.name }}</span>
</template>

<style scoped>
.net {
  padding: 1px 7px;
  border: 1px solid var(--accent);
  border-radius: 4px;
  background: var(--paper);
  color: var(--accent);
  font-weight: 600;
}

/* A row's end is open on the side where it goes on. */
.ends,
.begins {
  display: block;
  height: 30px;
  border-color: var(--ink-soft);
  border-style: dashed;
  color: var(--ink-soft);
  font-weight: 500;
  line-height: 26px;
}
</style>
