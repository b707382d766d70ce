import { abs, type Complex, complex } from '../numeric/complex.js'
import type { Finding } from '../circuit/checks/Check.js'
import { formatQuantity } from '../quantity/formatQuantity.js'
import { ComplexSystem } from './complexSystem.js'
import type { Mna } from './mna.js'
import { naturalFrequenciesOf } from './poles.js'

/** A part of its size by which a natural frequency may lie right of the axis by rounding alone: that of a lossless circuit. */
const ROUNDING = 1e-9

/** Of natural frequencies those that grow by themselves, the fastest first. */
export const growing = (roots: readonly Complex[]): Complex[] =>
  roots.filter((s) => s.im >= 0 && s.re > ROUNDING * abs(s)).sort((a, b) => b.re - a.re)

/** What a circuit does that has such a natural frequency, in words. */
export const growthOf = (s: Complex): string =>
  s.im > 0
    ? `oscillates at about ${formatQuantity(s.im / (2 * Math.PI), 'Hz')}: what swings there grows by itself`
    : `runs away: what moves grows by itself, by e in ${formatQuantity(1 / s.re, 's')}`

/** Unknowns up to which this is looked for beside a drawing. */
const MOST_UNKNOWNS = 200

/** The finding that a circuit grows by itself, at the net where it does the most; none where it does not, or is too large. */
export function oscillationFindings(linear: Mna): Finding[] {
  if (linear.size > MOST_UNKNOWNS) return []
  const [fastest] = growing(naturalFrequenciesOf(linear))
  if (!fastest) return []
  const net = mostMoved(linear, fastest)
  return [
    {
      check: 'oscillation',
      severity: 'fault',
      message: `The circuit ${growthOf(fastest)}.`,
      fix: 'Take slower amplifiers or another arrangement, or damp it where it swings the most.',
      parts: [],
      nets: net === null ? [] : [net],
    },
  ]
}

/** Beside a natural frequency every drive leads to its own shape: relative to its size. */
const BESIDE = 1e-6

function mostMoved(linear: Mna, s: Complex): string | null {
  const beside = complex(s.re * (1 + BESIDE) + BESIDE * s.im, s.im)
  const system = new ComplexSystem(linear, [beside])
  system.factor(beside)
  system.solve(
    Array.from({ length: linear.size }, (_, k) => [k, Math.cos(1 + 2.4 * k), Math.sin(2 + 1.7 * k)] as const),
  )
  const nets = linear.circuit.nodes
  let best: string | null = null
  let most = 0
  nets.forEach((net, k) => {
    const size = Math.hypot(system.xRe[k], system.xIm[k])
    if (size > most) [most, best] = [size, net]
  })
  return best
}
