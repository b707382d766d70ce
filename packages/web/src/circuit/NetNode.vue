<script setup lang="ts">
/** The name of a net, above the place where it was put. */
defineProps<{ data: { name: string } }>()
</script>

<template>
  <span class="net">{{ data.name }}</span>
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
</style>
