<script setup lang="ts">
import { onErrorCaptured, ref } from 'vue'
import { useViewStore } from './stores/view'

/** The frame around every page: appearance, and what is shown when a part of the interface fails. */
useViewStore().followAppearance()

const failure = ref('')
onErrorCaptured((error) => {
  failure.value = error.message
  console.error(error)
  return false
})
const reload = () => location.reload()
</script>

<template>
  <RouterView />
  <div v-if="failure" class="app-failure" role="alert">
    A part of the page failed: {{ failure }} What you typed is kept.
    <button class="plain-button" @click="reload">Reload the page</button>
    <button class="plain-button" @click="failure = ''">Go on</button>
  </div>
</template>

<style scoped>
.app-failure {
  position: fixed;
  right: 16px;
  bottom: 100px;
  z-index: 3000;
  max-width: 420px;
  padding: 12px 16px;
  border: 1px solid var(--missed);
  border-radius: 6px;
  background: var(--missed-soft);
}
</style>
