import { z } from 'zod'
import { evaluateExpression, invalid } from '../../quantity/expression.js'
import type { WaveformKind } from './Waveform.js'

const schema = z.strictObject({
  kind: z.literal('formula'),
  /** An expression in t, s. */
  expression: z.string().min(1).max(1000),
  /** The longest step that cannot step over its detail, s. */
  detail: z.number().positive(),
})
type Formula = z.output<typeof schema>

const at = (w: Formula, t: number): number =>
  evaluateExpression(w.expression, (name) => {
    if (name === 't') return t
    throw invalid(w.expression, `it knows t alone, not "${name}"`)
  })

/** Longest steps that are shown. */
const FORMULA_STEPS = 500

/** Any expression in t. */
export const formula: WaveformKind<Formula> = {
  kind: 'formula',
  name: 'Formula',
  schema,
  fields: [
    { id: 'expression', name: 'Expression in t', unit: '', words: 'text' },
    { id: 'detail', name: 'Finest detail', unit: 's' },
  ],
  usual: { kind: 'formula', expression: 'sin(2*pi*1000*t)', detail: 50e-6 },
  describe: (w) => (w.expression.length > 24 ? `${w.expression.slice(0, 22)} …` : w.expression),
  at,
  initial: (w) => at(w, 0),
  corners: () => [],
  segments: () => null,
  longestStep: (w) => w.detail,
  span: (w) => FORMULA_STEPS * w.detail,
}
