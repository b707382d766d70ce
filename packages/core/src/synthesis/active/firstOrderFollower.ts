import { omegaOf } from './factors.js'
import type { SectionKind } from './SectionKind.js'

/** A resistor to a follower's input and a capacitor from there to ground: ω = 1/(R·C). */
export const firstOrderFollower: SectionKind = {
  id: 'first-order-follower',
  shape: 'low-pass',
  source: 'common practice, no source',
  makes: ({ poles, zeros }) => poles.length === 1 && poles[0].re < 0 && zeros.length === 0,
  plan(factor, capacitor) {
    const omega = omegaOf(factor)
    return {
      slots: [
        { id: 'C1', kind: 'capacitor' },
        { id: 'R1', kind: 'resistor' },
      ],
      entrance: 'R1',
      solve({ C1 = capacitor, R1 = 1 / (omega * C1) }) {
        return { C1, R1 }
      },
      transfer({ R1, C1 }) {
        const a = 1 / (R1 * C1)
        return { poles: [{ re: -a, im: 0 }], zeros: [], gain: a }
      },
      draw(pen) {
        pen.entrance()
        pen.down('C1')
        pen.follower()
      },
    }
  },
}
