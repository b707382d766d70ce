import { quadraticRoots } from '../../numeric/roots.js'
import { omegaOf, qOf } from './factors.js'
import type { SectionKind } from './SectionKind.js'

/** Capacitors this little too near to each other, relative, are rounding. */
const ROUNDING = 1e-12

/** Row of the capacitor from the output back, in grid units. */
const UPPER_ROW = -4

/**
 * R1 and R2 to a follower's input, C1 from between them to its output, C2 from its input to ground. With equal resistors R,
 * C1 = 2Q·C and C2 = C/(2Q): ω = 1/(R·C), Q = √(C1/C2)/2. With chosen capacitors C1 ≥ 4Q²·C2 the resistors take up the rest:
 * R1, R2 = (1 ± √(1 − 4Q²·C2/C1))/(2Q·ω·C2).
 */
export const sallenKeyLowpass: SectionKind = {
  id: 'sallen-key-lowpass',
  shape: 'low-pass',
  source: 'R. P. Sallen, E. L. Key, "A practical method of designing RC active filters", IRE Trans. CT-2, 1955, 74–85',
  makes: ({ poles, zeros }) => poles.length === 2 && poles.every((p) => p.re < 0) && zeros.length === 0,
  plan(factor, capacitor) {
    const [omega, q] = [omegaOf(factor), qOf(factor)]
    return {
      slots: [
        { id: 'C2', kind: 'capacitor' },
        { id: 'C1', kind: 'capacitor', atLeast: true },
        { id: 'R1', kind: 'resistor' },
        { id: 'R2', kind: 'resistor' },
      ],
      entrance: 'R1',
      solve({ C2 = capacitor / (2 * q), C1 = 4 * q * q * C2, R1, R2 }) {
        const left = 1 - (4 * q * q * C2) / C1
        if (left < -ROUNDING) return null
        const root = left > ROUNDING ? Math.sqrt(left) : 0
        const half = 1 / (2 * q * omega * C2)
        return { C2, C1, R1: R1 ?? half * (1 + root), R2: R2 ?? half * (1 - root) }
      },
      transfer({ R1, R2, C1, C2 }) {
        const w2 = 1 / (R1 * R2 * C1 * C2)
        return { poles: quadraticRoots(Math.sqrt(w2), (R1 + R2) / (R1 * R2 * C1)), zeros: [], gain: w2 }
      },
      draw(pen) {
        const { line } = pen
        const { sketch } = line
        const between = pen.entrance()
        const left = line.x
        pen.across('R2')
        const back = pen.place('C1', left + 10, line.y + UPPER_ROW)
        const row = line.y + UPPER_ROW
        sketch.wire(between, { part: back, pin: 'a' }, [left, row])
        pen.down('C2')
        const out = pen.follower()
        sketch.wire({ part: back, pin: 'b' }, out, [line.x, row])
      },
    }
  },
}
