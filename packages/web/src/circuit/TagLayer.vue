<script setup lang="ts">
import { computed } from 'vue'
import type { LayerTag } from './operatingLayer'
import { GRID, pathOf } from './scene'

/** What layers say over the drawing. Words are no SVG: there text is laid out anew at every scale. */
const { tags } = defineProps<{ tags: readonly LayerTag[] }>()

const leads = computed(() => tags.flatMap(({ kind, lead }) => (lead ? [{ kind, d: pathOf(lead) }] : [])))
/** As text, which is compared before it is set. */
const frameOf = ({ lines, box: { left, right, top, bottom } }: LayerTag) => {
  const [width, height] = [(right - left) * GRID, (bottom - top) * GRID - 2]
  const place = `left:${left * GRID}px;top:${top * GRID + 1}px;width:${width}px;height:${height}px`
  // Capitals and digits stand a little above the middle of their line.
  return `${place};padding-top:1px;line-height:${(height - 3) / lines.length}px`
}
</script>

<template>
  <svg v-if="leads.length > 0" class="layer" aria-hidden="true">
    <path v-for="(l, k) in leads" :key="k" class="lead" :class="l.kind" :d="l.d" />
  </svg>
  <div class="layer" aria-hidden="true">
    <div
      v-for="(t, k) in tags"
      :key="k"
      v-memo="[t.kind, t.box, t.lines.join()]"
      class="tag"
      :class="t.kind"
      :style="frameOf(t)"
    >
      {{ t.lines.join('\n') }}
    </div>
  </div>
</template>

<style scoped>
.lead {
  fill: none;
  stroke: var(--tag);
  stroke-width: 0.8;
  stroke-dasharray: 2 3;
}

.tag {
  position: absolute;
  box-sizing: border-box;
  /* Hundreds of them change ten times a second: none of them lays out the others anew. */
  contain: strict;
  border: 1px solid var(--tag);
  border-radius: 4px;
  background: var(--raised);
  color: var(--ink);
  font-size: 13px;
  font-variant-numeric: tabular-nums;
  text-align: center;
  text-rendering: geometricPrecision;
  white-space: pre;
}

.voltage {
  --tag: var(--curve-1);
}

.current {
  --tag: var(--curve-2);
}

.device {
  --tag: var(--curve-3);
}

.influence,
.section {
  --tag: var(--accent);
}

.role {
  --tag: var(--accent);

  border-style: dashed;
}
</style>
