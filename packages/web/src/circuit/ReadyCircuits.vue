<script setup lang="ts">
import { arranged, type Circuit, partTexts, readNetlist, readyCircuits } from '@voskel/core'
import { onMounted, ref } from 'vue'
import SmallPicture from './SmallPicture.vue'

/** Circuits to begin from, each with what it is for and what to look at. */
const emit = defineEmits<{ take: [circuit: Circuit, name: string] }>()

const circuits = readyCircuits.map((ready) => {
  const { circuit } = readNetlist(ready.netlist)
  return { ...ready, circuit: arranged(circuit, partTexts(circuit)) }
})
const root = ref<HTMLElement | null>(null)
onMounted(() => root.value?.querySelector('button')?.focus())
</script>

<template>
  <ul ref="root" class="ready">
    <li v-for="c in circuits" :key="c.id">
      <button type="button" @click="emit('take', c.circuit, c.name)">
        <SmallPicture :circuit="c.circuit" :width="200" :height="84" />
        <span class="words"
          ><b>{{ c.name }}</b
          ><span>{{ c.purpose }}</span
          ><span class="look">Look at {{ c.look }}.</span></span
        >
      </button>
    </li>
  </ul>
</template>

<style scoped>
.ready {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(420px, 1fr));
  gap: 8px;
  max-height: 70vh;
  margin: 0;
  padding: 2px;
  overflow: auto;
  list-style: none;
}

button {
  display: flex;
  gap: 12px;
  align-items: center;
  width: 100%;
  height: 100%;
  padding: 8px 10px;
  border: 1px solid var(--line-strong);
  border-radius: 8px;
  background: var(--paper);
  color: var(--ink);
  font: inherit;
  text-align: left;
  cursor: pointer;
}

button:hover,
button:focus-visible {
  border-color: var(--accent);
  background: var(--accent-soft);
}

.words {
  display: grid;
  gap: 2px;
}

.look {
  color: var(--ink-soft);
  font-size: 13px;
}
</style>
