import type { Biquad } from './biquad.js'
import type { Gains, Refusal } from './SectionKind.js'

/** An amplifier whose gain K = most − width/Q makes the Q: it must be more than 1. */
export const gainOfQ = {
  refuses:
    (most: number, width: number) =>
    ({ q }: Biquad): Refusal | null => {
      const least = width / (most - 1)
      return q > least * (1 + 1e-9)
        ? null
        : {
            problem: `With equal parts the Q of ${q.toPrecision(3)} would need a gain of 1 or less; it begins above ${least.toPrecision(3)}.`,
            fix: 'Take the variant unity-gain, or multiple-feedback.',
          }
    },
  only: (gain: number, unit: number): Gains => ({ least: gain * unit, most: gain * unit }),
}
