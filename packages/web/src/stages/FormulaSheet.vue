<script setup lang="ts">
import { formatQuantity, type FormulaStep } from '@voskel/core'
import { ElDrawer } from 'element-plus'
import TypesetFormula from '../components/TypesetFormula.vue'

/** How the values were found, step by step, with the source of each formula, and what each part does. */
const open = defineModel<boolean>({ required: true })
defineProps<{ steps: readonly FormulaStep[] }>()

/** Halves stand as such: what a part does to ω₀ often is one. */
const share = (value: number) =>
  Math.abs(value) < 5e-4
    ? '0'
    : (value > 0 ? '+' : '\u2212') +
      (Math.abs(Math.abs(value) - 0.5) < 5e-4 ? '½' : Math.abs(value).toFixed(Math.abs(value) < 10 ? 2 : 1))
</script>

<template>
  <ElDrawer
    v-model="open"
    title="How these values were found"
    size="min(620px, 94vw)"
    append-to-body
    :modal="false"
    modal-penetrable
  >
    <ol class="steps" tabindex="0" aria-label="Steps">
      <li v-for="step in steps" :key="step.title">
        <h3>{{ step.title }}</h3>
        <p v-for="line in step.lines" :key="line" class="line">{{ line }}</p>
        <TypesetFormula v-for="tex in step.tex ?? []" :key="tex" :tex="tex" />
        <table v-if="step.parts?.length" class="parts">
          <thead>
            <tr>
              <th scope="col">Part</th>
              <th scope="col">What it does</th>
              <th scope="col" class="number">S of ω₀</th>
              <th scope="col" class="number">S of Q</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="part in step.parts" :key="part.id">
              <th scope="row">
                {{ part.id }} <span class="value">{{ formatQuantity(part.value, part.unit) }}</span>
              </th>
              <td>{{ part.role }}</td>
              <td class="number">{{ share(part.sensitivity.omega) }}</td>
              <td class="number">{{ share(part.sensitivity.q) }}</td>
            </tr>
          </tbody>
        </table>
        <p v-if="step.source" class="source">{{ step.source }}</p>
      </li>
    </ol>
  </ElDrawer>
</template>

<style scoped>
.steps {
  display: grid;
  gap: 18px;
  margin: 0;
  padding: 0;
  list-style: none;
}

h3 {
  margin: 0 0 4px;
  color: var(--accent);
  font-size: 15px;
}

.line {
  padding: 1px 0;
  font-variant-numeric: tabular-nums;
}

.parts {
  width: 100%;
  margin: 6px 0 2px;
  border-collapse: collapse;
  font-size: 13px;
}

.parts th,
.parts td {
  padding: 3px 8px 3px 0;
  border-bottom: 1px solid var(--line);
  text-align: left;
  vertical-align: top;
}

.parts thead th {
  color: var(--ink-soft);
  font-weight: 400;
}

.parts .number {
  text-align: right;
  font-variant-numeric: tabular-nums;
  white-space: nowrap;
}

.value {
  color: var(--ink-soft);
  font-weight: 400;
  white-space: nowrap;
}

.source {
  margin-top: 4px;
  color: var(--ink-soft);
  font-size: 13px;
}
</style>
