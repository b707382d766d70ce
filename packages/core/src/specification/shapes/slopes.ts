import { complex } from '../../numeric/complex.js'
import { frequencyField, type Shape, type ShapeField, type ShapeProblem } from './Shape.js'

type Slope = {
  from: number
  to: number
  unity: number
  error: number
}

const fields: readonly ShapeField[] = [
  frequencyField('from', 'From', 100),
  frequencyField('to', 'To', 10_000),
  frequencyField('unity', 'Gain 1 at', 1000),
  { id: 'error', name: 'Phase error at the ends', kind: 'quantity', unit: '°', default: 1, above: 0, most: 30 },
]

function problem({ from, to }: Slope): ShapeProblem | null {
  if (from < to) return null
  return {
    field: 'to',
    problem: `The band from ${from} Hz to ${to} Hz does not ascend.`,
    fix: 'Give the lower end first.',
  }
}

const marks = ({ from, to }: Slope) => [from, to]

/** How far beyond the band's ends the corners lie for a phase error of so many degrees there. */
const beyond = (error: number) => 1 / Math.tan((error * Math.PI) / 180)

/** ω₁/s inside a band: a corner below it keeps DC finite. */
export const integrator: Shape<Slope> = {
  id: 'integrator',
  name: 'integrator',
  character: 'Falls by 20 dB a decade at −90° inside a band: the output is the integral of the input.',
  source: 'common practice, no source',
  formulas: ['H = √(ω₁² + a²)/(s + a), a = ω(from)·tan(error)'],
  fields,
  problem,
  transfer({ from, unity, error }) {
    const corner = (2 * Math.PI * from) / beyond(error)
    return { zeros: [], poles: [complex(-corner)], gain: Math.hypot(2 * Math.PI * unity, corner) }
  },
  marks,
}

/** s/ω₁ inside a band: a corner above it bounds the gain. */
export const differentiator: Shape<Slope> = {
  id: 'differentiator',
  name: 'differentiator',
  character: 'Rises by 20 dB a decade at +90° inside a band: the output is the slope of the input.',
  source: 'common practice, no source',
  formulas: ['H = s·√(1 + (b/ω₁)²)/(s + b), b = ω(to)/tan(error)'],
  fields,
  problem,
  transfer({ to, unity, error }) {
    const corner = 2 * Math.PI * to * beyond(error)
    const at = 2 * Math.PI * unity
    return { zeros: [complex(0)], poles: [complex(-corner)], gain: Math.hypot(at, corner) / at }
  },
  marks,
}
