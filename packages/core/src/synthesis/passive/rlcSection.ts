import { abs } from '../../numeric/complex.js'
import type { TransferFunction } from '../../numeric/transferFunction.js'
import { plainPlan } from '../Plan.js'
import { topology } from '../Topology.js'
import { impossible, Line, resistanceField } from '../Line.js'
import { capacitor, coil, resistor, series, type TwoPole } from '../twoPole.js'

/** Relative size below which a coefficient is rounding. */
const ROUNDING = 1e-9

/** One resistor with a coil, a capacitor or both: what stands in the line, and what the output is taken over. */
export const rlcSection = topology({
  id: 'rlc-section',
  name: 'RC, RL or RLC section',
  family: 'passive',
  character: 'One resistor with a capacitor, a coil, or both: first and second order, into an open end.',
  source: 'common practice, no source',
  formulas: ['first order: ω = 1/(R·C) or R/L; second order: L = R/b, C = b/(R·ω₀²) for s² + b·s + ω₀²'],
  fields: [
    resistanceField('resistor', 'Resistor', 1000),
    {
      id: 'with',
      name: 'First order with',
      kind: 'choice',
      default: 'capacitor',
      choices: [
        { id: 'capacitor', name: 'Capacitor' },
        { id: 'inductor', name: 'Inductor' },
      ],
    },
  ],

  plan({ ideal, realization }) {
    const { transfer } = ideal
    const { line, output, top } =
      transfer.poles.length === 1 ? first(transfer, realization) : second(transfer, realization)
    return plainPlan((sketch) => {
      const drawn = new Line(sketch)
      drawn.across(line)
      drawn.down(output)
      drawn.finish()
      return {
        circuit: sketch.circuit(`${ideal.order === 1 ? 'First' : 'Second'}-order section`),
        referenceDb: -20 * Math.log10(Math.abs(transfer.gain) * top),
        inverting: transfer.gain < 0,
      }
    })
  },
})

interface Divider {
  readonly line: TwoPole
  readonly output: TwoPole
  /** Greatest magnitude of the response for a gain of 1. */
  readonly top: number
}

function first(
  { poles, zeros }: TransferFunction,
  { resistor: r, with: kind }: { resistor: number; with: 'capacitor' | 'inductor' },
): Divider {
  const a = -poles[0].re
  const low = zeros.length === 0
  if (!low && abs(zeros[0]) > 0) throw notOffered()
  const store = kind === 'capacitor' ? capacitor(1 / (r * a)) : coil(r / a)
  const atStore = low === (kind === 'capacitor')
  return { line: atStore ? resistor(r) : store, output: atStore ? store : resistor(r), top: low ? 1 / a : 1 }
}

function second({ poles, zeros }: TransferFunction, { resistor: r }: { resistor: number }): Divider {
  if (poles.length !== 2) throw notOffered()
  const b = -(poles[0].re + poles[1].re)
  const w2 = abs(poles[0]) * abs(poles[1])
  const [l, c] = [coil(r / b), capacitor(b / (r * w2))]
  if (zeros.length === 0) return { line: series(resistor(r), l), output: c, top: 1 / w2 }
  const atOrigin = zeros.filter((z) => abs(z) === 0).length
  if (zeros.length === 1 && atOrigin === 1) return { line: series(l, c), output: resistor(r), top: 1 / b }
  if (zeros.length === 2 && atOrigin === 2) return { line: series(resistor(r), c), output: l, top: 1 }
  const notch = zeros.length === 2 && Math.abs((zeros[0].re * zeros[0].re + zeros[0].im ** 2) / w2 - 1) < ROUNDING
  if (notch && Math.abs(zeros[0].re) <= ROUNDING * abs(zeros[0]))
    return { line: resistor(r), output: series(l, c), top: 1 }
  throw notOffered()
}

const notOffered = () =>
  impossible(
    'order',
    'One resistor with a coil and a capacitor makes responses of first and second order: low-pass, high-pass, band-pass, band-stop or a notch all the way down.',
    'Take order 1 or 2 (1 for band-pass and band-stop), or the family lc-ladder or constant-resistance.',
  )
