<script setup lang="ts">
import { PART_GROUPS, type PartGroup, type PartKind, partKinds, readyCircuits } from '@voskel/core'
import { computed, nextTick, ref } from 'vue'
import { resistorLook } from './look'
import PartPicture from './PartPicture.vue'

/** Every kind of part and named net, in groups of what they do: a click grows one from the tip, a drag drops it. */
const {
  nets,
  blocks,
  shelf = [],
} = defineProps<{
  nets: readonly string[]
  blocks: readonly string[]
  /** Blocks of other designs. */
  shelf?: readonly { readonly name: string; readonly from: string }[]
}>()
const emit = defineEmits<{
  say: [text: string]
  block: [name: string]
  ready: [id: string]
  shelf: [index: number]
  look: []
  dragged: [kind: string | null]
}>()

/** What stands for each group. */
const SHOWN: Readonly<Record<PartGroup, string>> = {
  store: 'capacitor',
  resist: 'resistor',
  drive: 'voltage-source',
  amplify: 'opamp',
  switch: 'switch',
  join: 'ground',
}
const open = ref<PartGroup | null>(null)
const query = ref('')
const search = ref<HTMLInputElement | null>(null)
const kindOf = (id: string) => partKinds.find((k) => k.id === id)!
/** As it is said at the tip. */
const wordOf = ({ id, words = [], name }: PartKind) => (words.includes(id) ? id : name.toLowerCase())
const offered = partKinds.filter((k) => k.id !== 'subcircuit')

const listed = computed(() => {
  const wanted = query.value.trim().toLowerCase()
  if (wanted === '') return offered.filter((k) => k.group === open.value)
  return offered.filter((k) => [k.name.toLowerCase(), ...(k.words ?? [])].some((w) => w.includes(wanted)))
})
const listedNets = computed(() => {
  const wanted = query.value.trim().toLowerCase()
  if (open.value !== 'join' && wanted === '') return []
  return nets.filter((n) => n !== '0' && n.toLowerCase().includes(wanted))
})

const listedBlocks = computed(() => {
  const wanted = query.value.trim().toLowerCase()
  if (open.value !== 'join' && wanted === '') return []
  return blocks.filter((b) => b.toLowerCase().includes(wanted))
})

/** Ready circuits without their sources, as blocks. */
const listedReady = computed(() => {
  const wanted = query.value.trim().toLowerCase()
  if (open.value !== 'join' && wanted === '') return []
  return readyCircuits.filter((r) => r.name.toLowerCase().includes(wanted) && !blocks.includes(r.id))
})

const listedShelf = computed(() => {
  const wanted = query.value.trim().toLowerCase()
  if (open.value !== 'join' && wanted === '') return []
  return shelf.flatMap((s, index) => (`${s.name} ${s.from}`.toLowerCase().includes(wanted) ? [{ ...s, index }] : []))
})

async function show(group: PartGroup) {
  open.value = open.value === group ? null : group
  if (open.value === 'join') emit('look')
  query.value = ''
  await nextTick()
  search.value?.focus()
}

function say(text: string) {
  open.value = null
  emit('say', text)
}

function drag(event: DragEvent, kind: string) {
  event.dataTransfer?.setData('text/plain', kind)
  emit('dragged', kind)
}
</script>

<template>
  <nav class="tray" aria-label="Parts" @keydown.escape="open = null">
    <button
      v-for="g in PART_GROUPS"
      :key="g"
      type="button"
      :class="{ on: open === g }"
      :aria-expanded="open === g"
      :title="`Parts that ${g}`"
      @click="show(g)"
    >
      <PartPicture :kind="kindOf(SHOWN[g])" />
      <span>{{ g }}</span>
    </button>
    <div v-if="open" class="list">
      <input
        ref="search"
        v-model="query"
        class="text-field"
        type="search"
        placeholder="Find a part"
        aria-label="Find a part"
      />
      <ul>
        <li v-for="k in listed" :key="k.id">
          <button
            type="button"
            draggable="true"
            @click="say(wordOf(k))"
            @dragstart="drag($event, k.id)"
            @dragend="emit('dragged', null)"
          >
            <PartPicture :kind="k" />
            <span>{{ k.name }}</span>
          </button>
        </li>
        <li v-for="b in listedBlocks" :key="`block ${b}`">
          <button
            type="button"
            draggable="true"
            @click="((open = null), emit('block', b))"
            @dragstart="drag($event, `block:${b}`)"
            @dragend="emit('dragged', null)"
          >
            <span class="net">block</span> {{ b }}
          </button>
        </li>
        <li v-for="s in listedShelf" :key="`shelf ${s.index}`">
          <button type="button" @click="((open = null), emit('shelf', s.index))">
            <span class="net">{{ s.name }}</span> from {{ s.from }}
          </button>
        </li>
        <li v-for="r in listedReady" :key="`ready ${r.id}`">
          <button type="button" :title="r.purpose" @click="((open = null), emit('ready', r.id))">
            <span class="net">▢</span> {{ r.name }}, ready
          </button>
        </li>
        <li v-for="n in listedNets" :key="`net ${n}`">
          <button type="button" @click="say(`&quot;${n}&quot;`)">
            <span class="net">{{ n }}</span> net {{ n }}
          </button>
        </li>
      </ul>
      <p
        v-if="listed.length + listedNets.length + listedBlocks.length + listedReady.length + listedShelf.length === 0"
        class="none"
      >
        No part is called so.
      </p>
      <label v-if="open === 'resist'" class="look"
        ><input v-model="resistorLook" type="checkbox" true-value="zigzag" false-value="box" /> Draw resistances as
        zigzags</label
      >
      <p class="hint">Click: it grows from the tip. Drag it onto the paper, a wire or a part.</p>
    </div>
  </nav>
</template>

<style scoped>
.tray {
  position: relative;
  z-index: 4;
  display: flex;
  flex-direction: column;
  width: 60px;
  border-right: 1px solid var(--line);
  background: var(--panel);
}

.tray > button {
  display: grid;
  gap: 2px;
  justify-items: center;
  padding: 8px 2px 6px;
  border: 0;
  background: none;
  color: var(--ink-soft);
  font: inherit;
  font-size: 13px;
  cursor: pointer;
}

.tray > button:hover,
.tray > button.on {
  background: var(--accent-soft);
  color: var(--ink);
}

.list {
  position: absolute;
  top: 0;
  left: 100%;
  width: 270px;
  max-height: 100%;
  padding: 8px;
  overflow: auto;
  border: 1px solid var(--line-strong);
  border-radius: 0 0 10px;
  background: var(--raised);
  box-shadow: 0 8px 26px rgb(0 0 0 / 14%);
}

ul {
  margin: 6px 0;
  padding: 0;
  list-style: none;
}

li button {
  display: flex;
  align-items: center;
  gap: 10px;
  width: 100%;
  padding: 3px 6px;
  border: 0;
  border-radius: 5px;
  background: none;
  color: var(--ink);
  font: inherit;
  text-align: left;
  cursor: pointer;
}

li button:hover,
li button:focus-visible {
  background: var(--accent-soft);
}

.net {
  padding: 0 6px;
  border: 1px solid var(--line-strong);
  border-radius: 5px;
}

.look {
  display: block;
  margin-bottom: 6px;
}

.hint,
.none {
  margin: 0;
  color: var(--ink-soft);
  font-size: 13px;
}
</style>
