import type { ResponseId } from '../../specification/responses.js'

/**
 * One reactance of a ladder, in series with the line or from it to ground: a coil, a capacitor, or both, in parallel or in
 * series with each other. Several arms of one place follow each other in the line, or lie side by side to ground.
 */
export interface Arm {
  readonly place: 'series' | 'shunt'
  /** H; absent where there is none */
  readonly l?: number
  /** F */
  readonly c?: number
  readonly joined?: 'parallel' | 'series'
  /** Which arm of the prototype it comes from, from 1. */
  readonly number: number
}

/** An arm with its impedance multiplied. */
export const scaledArm = (arm: Arm, by: number): Arm => ({
  ...arm,
  ...(arm.l !== undefined && { l: arm.l * by }),
  ...(arm.c !== undefined && { c: arm.c / by }),
})

/** The arm that resonates where it blocks (in the line) or shorts (to ground): it makes a zero of transmission. */
const blocks = (arm: Arm) => arm.l !== undefined && arm.c !== undefined

/**
 * 20·log₁₀ of load voltage over source voltage of a ladder without loss, by going from its load to its source.
 *
 * @param ends Ω; without a load its end is open
 * @param w rad/s; 0 only for ladders that let DC through
 */
export function passedBy(arms: readonly Arm[], ends: { source: number; load?: number }, w: number): number {
  // Voltage real and imaginary, current the same, for 1 V at the load.
  let [vr, vi, ir, ii] = [1, 0, ends.load === undefined ? 0 : 1 / ends.load, 0]
  for (const arm of arms.toReversed()) {
    if (arm.place === 'series') {
      const x = reactance(arm, w)
      ;[vr, vi] = [vr - x * ii, vi + x * ir]
    } else {
      const b = w === 0 && arm.joined !== 'parallel' && arm.c !== undefined ? 0 : -1 / reactance(arm, w)
      ;[ir, ii] = [ir - b * vi, ii + b * vr]
    }
  }
  return -20 * Math.log10(Math.hypot(vr + ends.source * ir, vi + ends.source * ii))
}

/** Im Z of an arm, Ω. */
function reactance({ l, c, joined }: Arm, w: number): number {
  const coil = l === undefined ? 0 : w * l
  if (c === undefined) return coil
  if (joined === 'parallel') return coil / (1 - w * w * l! * c)
  return coil - 1 / (w * c)
}

/**
 * A low-pass ladder of 1 rad/s turned into another response; values for 1 Ω.
 *
 * Source: G. L. Matthaei, L. Young, E. M. T. Jones, McGraw-Hill 1964, §§ 8.02, 12.02; resonant arms by partial fractions of
 * their transformed reactance.
 *
 * @param edges rad/s
 */
export function transformArms(arms: readonly Arm[], response: ResponseId, edges: readonly number[]): Arm[] {
  const [low, high = low] = edges
  switch (response) {
    case 'highpass':
      return arms.map((arm) => ({
        ...arm,
        l: arm.c === undefined ? undefined : 1 / (arm.c * low),
        c: arm.l === undefined ? undefined : 1 / (arm.l * low),
      }))
    case 'bandpass':
      return arms.flatMap((arm) => toBandpass(arm, low * high, high - low))
    case 'bandstop':
      return arms.flatMap((arm) => toBandstop(arm, low * high, high - low))
    default:
      return arms.map((arm) => ({
        ...arm,
        ...(arm.l !== undefined && { l: arm.l / low }),
        ...(arm.c !== undefined && { c: arm.c / low }),
      }))
  }
}

/** p → (s² + ω₀²)/(B·s) */
function toBandpass(arm: Arm, center2: number, width: number): Arm[] {
  const { l, c, place } = arm
  if (blocks(arm)) return split(arm, center2, width / Math.sqrt(l! * c!), (ratio) => ratio / width)
  if (l !== undefined) {
    const inductance = l / width
    return [
      { ...arm, l: inductance, c: 1 / (center2 * inductance), joined: place === 'series' ? 'series' : 'parallel' },
    ]
  }
  const capacitance = c! / width
  return [
    { ...arm, c: capacitance, l: 1 / (center2 * capacitance), joined: place === 'series' ? 'series' : 'parallel' },
  ]
}

/** p → B·s/(s² + ω₀²) */
function toBandstop(arm: Arm, center2: number, width: number): Arm[] {
  const { l, c, place } = arm
  const joined = place === 'series' ? 'parallel' : 'series'
  if (blocks(arm)) {
    const zero2 = 1 / (l! * c!)
    return split(arm, center2, width / Math.sqrt(zero2), (ratio) => (ratio * zero2) / width)
  }
  if (l !== undefined) return [{ ...arm, l: (width * l) / center2, c: 1 / (width * l), joined }]
  return [{ ...arm, c: (width * c!) / center2, l: 1 / (width * c!), joined }]
}

/**
 * A resonant arm becomes two, resonant at ωₐ·ω_b = ω₀², ω_b − ωₐ = `apart`: the residue at each pole of the reactance says
 * its size.
 *
 * @param factor what the capacitance (of a parallel arm) or inductance (of a series one) is multiplied by, from 1 + ω₀²/ω²
 */
function split(arm: Arm, center2: number, apart: number, factor: (ratio: number) => number): Arm[] {
  const upper = apart / 2 + Math.sqrt((apart * apart) / 4 + center2)
  return [center2 / upper, upper].map((w) => {
    const k = factor(1 + center2 / (w * w))
    return arm.joined === 'parallel'
      ? { ...arm, c: arm.c! * k, l: 1 / (w * w * arm.c! * k) }
      : { ...arm, l: arm.l! * k, c: 1 / (w * w * arm.l! * k) }
  })
}
