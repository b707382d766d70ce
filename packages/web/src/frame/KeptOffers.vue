<script setup lang="ts">
import { useRouter } from 'vue-router'
import type { Kept } from '../document/keeping'
import { useDesignStore } from '../stores/design'

/** Work of other tabs that is kept on this device, was never saved, and differs from what is open. */
const design = useDesignStore()
const router = useRouter()
const time = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short' })

async function copy(offer: Kept) {
  const made = await design.copyOffer(offer)
  if (made) await router.push({ name: 'design', params: { id: made, stage: 'specify' } })
}
</script>

<template>
  <ul v-if="design.offers.length" class="offers" aria-label="Unsaved work of other tabs">
    <li v-for="offer in design.offers" :key="offer.tab">
      <span>
        Another tab, closed since, left unsaved work of {{ time.format(offer.at) }} that differs from what is here.
      </span>
      <button class="plain-button strong" @click="design.takeOffer(offer)">Put it in place of this</button>
      <button v-if="offer.document" class="plain-button" @click="copy(offer)">Make a design of its own of it</button>
      <button class="plain-button" @click="design.dropOffer(offer)">Let it go</button>
    </li>
  </ul>
</template>

<style scoped>
.offers {
  margin: 0;
  padding: 0;
  list-style: none;
}

li {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 4px 10px;
  padding: 5px 14px;
  border-left: 3px solid var(--accent);
  background: var(--accent-soft);
}

.strong {
  font-weight: 700;
}
</style>
