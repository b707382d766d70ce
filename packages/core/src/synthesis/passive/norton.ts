import { impossible } from '../Line.js'
import { type Arm, scaledArm } from './ladderArms.js'

/** Room that is kept to where a capacitor of the transformed section vanishes. */
const KEPT = 0.98

/**
 * Raises the resistance at the end of a band-pass ladder: a capacitor in the line and one to ground behind it become three,
 * and everything beyond has its impedance multiplied. As many such places are used as are needed.
 *
 * In the line C₁, to ground C₂, then an ideal transformer 1 : n are the same as (n − 1)/n·C₁ to ground, C₁/n in the line,
 * (C₂ − (n − 1)·C₁)/n² to ground; 1 < n < 1 + C₂/C₁.
 *
 * Source: E. L. Norton, U.S. patent 1 681 554, 1928 (from memory).
 *
 * @param factor by which the resistance at the end rises, > 1
 * @throws VoskelError `REALIZATION_IMPOSSIBLE` with the most that can be had
 */
export function raisedByNorton(arms: readonly Arm[], factor: number): Arm[] {
  const places = arms.flatMap((arm, k) => {
    const next = arms[k + 1]
    const fits = arm.place === 'series' && arm.joined !== 'parallel' && arm.c !== undefined && next?.place === 'shunt'
    return fits && next.c !== undefined && next.joined !== 'series'
      ? [{ at: k, most: (1 + (KEPT * next.c) / arm.c!) ** 2 }]
      : []
  })
  const most = places.reduce((product, p) => product * p.most, 1)
  if (factor > most)
    throw impossible(
      'realization.matched',
      places.length === 0
        ? 'No capacitor in the line of this ladder stands before one to ground, so that no Norton transformation applies.'
        : `Norton transformations raise the load of this ladder by at most ${most.toPrecision(3)}, not by ${factor.toPrecision(3)}.`,
      places.length === 0
        ? 'Begin with a series part, or take an order of at least 2.'
        : `Ask for at most ${most.toPrecision(3)} times the load, or a higher order.`,
    )
  // Each place takes its share, in proportion to what it could.
  const share = Math.log(factor) / Math.log(most)
  let raised = 1
  return arms.flatMap((arm, k): Arm[] => {
    const place = places.find((p) => p.at === k)
    const before = places.find((p) => p.at === k - 1)
    if (place) {
      const n = place.most ** (share / 2)
      const [c, own] = [arm.c! / raised, scaledArm(arm, raised)]
      raised *= n * n
      return [
        ...(own.l === undefined ? [] : [{ place: 'series' as const, l: own.l, number: arm.number }]),
        { place: 'shunt', c: ((n - 1) / n) * c, number: arm.number },
        { place: 'series', c: c / n, number: arm.number },
      ]
    }
    const own = scaledArm(arm, raised)
    if (!before) return [own]
    const n = before.most ** (share / 2)
    // The capacitor of the line, at the level it had before.
    const line = (arms[k - 1].c! * (n * n)) / raised
    return [{ ...own, c: own.c! - ((n - 1) * line) / (n * n) }]
  })
}
