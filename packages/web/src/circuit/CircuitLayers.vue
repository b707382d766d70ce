<script lang="ts">
/** How a net's curve is drawn in the diagrams. */
export interface CurveLook {
  /** Which of the palette's colours. */
  readonly color: number
  readonly dash: readonly number[]
}
</script>

<script setup lang="ts">
import { type Box, type GridPoint, NOTE_SIZE } from '@voskel/core'
import { computed } from 'vue'
import { GRID, type Scene } from './scene'

/** A circuit, drawn: wires below symbols below words. Used on the sheet, for small pictures and on paper. */
const {
  scene,
  marked = new Set<string>(),
  hidden = new Set<string>(),
  chosenWires = new Set<string>(),
  foundWires,
  curves,
  weights,
} = defineProps<{
  scene: Scene
  /** Parts that are chosen. */
  marked?: ReadonlySet<string>
  chosenWires?: ReadonlySet<string>
  /** Parts and wires that are shown elsewhere just now. */
  hidden?: ReadonlySet<string>
  /** Parts with something to say about, by how bad it is. */
  found?: ReadonlyMap<string, 'error' | 'warning'>
  /** Wires of nets with something to say about. */
  foundWires?: ReadonlyMap<string, 'error' | 'warning'>
  /** Nets whose voltage is a curve. */
  curves?: ReadonlyMap<string, CurveLook>
  /** How heavily parts are drawn, 0 … 1; left out, all alike. */
  weights?: ReadonlyMap<string, number>
}>()

/** Strokes of one kind are one path: many wires cost as much as one. */
const wires = computed(() =>
  scene.wires.flatMap((w) => (hidden.has(`wire ${w.id}`) || chosenWires.has(w.id) ? [] : [w.d])).join(''),
)
const chosen = computed(() => scene.wires.flatMap((w) => (chosenWires.has(w.id) ? [w.d] : [])).join(''))
const halo = (as: 'error' | 'warning') =>
  scene.wires.flatMap((w) => (foundWires?.get(w.id) === as && !hidden.has(`wire ${w.id}`) ? [w.d] : [])).join('')
const faulty = computed(() => halo('error'))
const doubtful = computed(() => halo('warning'))
const px = (v: number) => `${v}px`
const placeOf = ({ x, y }: GridPoint) => ({ left: px(x), top: px(y) })
const frameOf = ({ left, right, top, bottom }: Box) => ({
  ...placeOf({ x: left * GRID, y: top * GRID }),
  width: px((right - left) * GRID),
  height: px((bottom - top) * GRID),
})
/** The ring of a name carries its curve's colour and dash. */
const ringOf = (name: string) => {
  const look = curves?.get(name)
  if (!look) return undefined
  const [dash] = look.dash
  const style = dash === undefined ? 'solid' : dash > 4 ? 'dashed' : 'dotted'
  return { border: `2px ${style} var(--curve-${look.color + 1})` }
}
const dot = ({ x, y }: GridPoint) => `M${x * GRID - 4} ${y * GRID}a4 4 0 1 1 8 0a4 4 0 1 1 -8 0`
const dots = computed(() => scene.dots.map(dot).join(''))
const open = computed(() =>
  scene.openEnds.map(({ x, y }) => `M${x * GRID - 3} ${y * GRID}a3 3 0 1 1 6 0a3 3 0 1 1 -6 0`).join(''),
)
</script>

<template>
  <svg class="layer wires" aria-hidden="true">
    <path v-if="doubtful" class="doubtful" :d="doubtful" />
    <path v-if="faulty" class="faulty" :d="faulty" />
    <path :d="wires" />
    <path class="chosen" :d="chosen" />
    <path class="dots" :d="dots" />
    <path class="open" :d="open" />
    <path v-for="n in scene.names" :key="n.id" class="lead" :d="n.lead ?? ''" />
  </svg>
  <svg class="layer symbols" aria-hidden="true">
    <g
      v-for="s in scene.symbols"
      v-show="!hidden.has(s.id)"
      :key="s.id"
      v-memo="[s, marked.has(s.id), hidden.has(s.id), found?.get(s.id), weights?.get(s.id)]"
      :data-symbol="s.id"
      :class="{
        marked: marked.has(s.id),
        aside: s.part.aside,
        [found?.get(s.id) ?? 'fine']: true,
        weighed: weights?.has(s.id),
      }"
      :style="weights && { '--weight': weights.get(s.id) ?? 0 }"
    >
      <rect
        v-if="found?.has(s.id)"
        class="halo"
        :x="s.box.left * GRID - 5"
        :y="s.box.top * GRID - 5"
        :width="(s.box.right - s.box.left) * GRID + 10"
        :height="(s.box.bottom - s.box.top) * GRID + 10"
        rx="8"
      />
      <g :transform="s.transform">
        <path :d="s.strokes" />
        <path v-if="s.filled" class="filled" :d="s.filled" />
      </g>
    </g>
  </svg>
  <!-- Words are no SVG: there text is laid out anew at every scale. -->
  <div class="layer words">
    <template v-for="s in scene.symbols" :key="s.id">
      <span v-for="t in s.texts" v-show="!hidden.has(s.id)" :key="t.text" class="sign" :style="placeOf(t)">{{
        t.text
      }}</span>
    </template>
    <div
      v-for="n in scene.names"
      :key="n.id"
      v-memo="[n, curves?.get(n.name)]"
      class="net"
      :class="n.row"
      :style="[frameOf(n.box), ringOf(n.name)]"
    >
      {{ n.row === 'begins' ? `› ${n.name}` : n.row === 'ends' ? `${n.name} ›` : n.name }}
    </div>
    <div
      v-for="l in scene.labels"
      v-show="!hidden.has(l.id)"
      :key="l.id"
      v-memo="[
        l.value,
        l.isMarked,
        l.rows.length,
        l.align,
        l.box.left,
        l.box.top,
        l.box.right,
        marked.has(l.id),
        hidden.has(l.id),
      ]"
      class="label"
      :class="[l.rows.length > 1 ? 'stacked' : 'flat', { marked: marked.has(l.id) }]"
      :style="[frameOf(l.box), { textAlign: l.align }]"
    >
      <span class="name">{{ l.name }}</span>
      <span v-if="l.value !== null" class="value" :data-part="l.id"
        >{{ l.rows.length > 1 ? l.rows.slice(1).join('\n') : l.value
        }}<span v-if="l.isMarked" class="mark">*</span></span
      >
    </div>
    <div
      v-for="n in scene.notes"
      v-show="!hidden.has(`note ${n.id}`)"
      :key="n.id"
      class="note"
      :class="n.as"
      :style="{ ...placeOf({ x: n.at.x * GRID, y: n.at.y * GRID }), lineHeight: `${NOTE_SIZE[n.as].line * GRID}px` }"
    >
      {{ n.text }}
    </div>
  </div>
</template>

<style scoped>
.words {
  text-rendering: geometricPrecision;
}

.wires path {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.7;
  stroke-linejoin: round;
  stroke-linecap: round;
}

.wires .doubtful,
.wires .faulty {
  stroke: var(--waiting);
  stroke-width: 7;
  stroke-opacity: 0.3;
}

.wires .faulty {
  stroke: var(--missed);
}

.wires .chosen {
  stroke: var(--accent);
  stroke-width: 2.6;
}

.wires .dots {
  fill: var(--ink);
  stroke: none;
}

.wires .open {
  fill: var(--paper);
  stroke: var(--waiting);
  stroke-width: 1.4;
}

.wires .lead {
  stroke: var(--ink-soft);
  stroke-width: 1;
  stroke-dasharray: 2 3;
}

.symbols path {
  fill: none;
  stroke: var(--ink);
  stroke-width: 0.11;
  stroke-linejoin: round;
}

.symbols .filled {
  fill: var(--ink);
}

.symbols .marked path {
  stroke: var(--accent);
  stroke-width: 0.17;
}

.symbols .marked .filled {
  fill: var(--accent);
}

.symbols .weighed path {
  stroke: color-mix(in srgb, var(--accent) calc(100% * var(--weight)), var(--ink));
  stroke-width: calc(0.11 + 0.19 * var(--weight));
}

.symbols .aside path {
  stroke: var(--ink-soft);
  stroke-dasharray: 0.3 0.25;
}

.halo {
  fill: none;
  stroke: var(--waiting);
  stroke-width: 1.5;
  stroke-dasharray: 5 4;
}

.error .halo {
  stroke: var(--missed);
  stroke-dasharray: none;
}

.words > * {
  position: absolute;
  white-space: nowrap;
}

.sign {
  color: var(--ink);
  line-height: 1;
  transform: translate(-50%, -50%);
}

.net {
  display: grid;
  place-content: center;
  border: 1px solid var(--line-strong);
  border-radius: 6px;
  background: var(--paper);
  background-clip: padding-box;
  color: var(--ink);
  font-weight: 650;
}

.net.ends,
.net.begins {
  border-style: dashed;
}

.label {
  color: var(--ink);
  line-height: 20.3px;
}

.label .name {
  color: var(--ink-soft);
}

.label .value {
  pointer-events: auto;
  font-weight: 650;
  font-variant-numeric: tabular-nums;
}

/* With what the core leaves between the two. */
.label.flat .value {
  margin-left: 5px;
}

.label.stacked .value {
  display: block;
  white-space: pre;
}

.label.marked .name,
.mark {
  color: var(--accent);
}

.note {
  color: var(--ink);
  white-space: pre;
}

.note.title {
  font-size: 20px;
  font-weight: 700;
}
</style>
