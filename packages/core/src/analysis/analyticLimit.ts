import { abs, add, type Complex, complex, multiply, scale } from '../numeric/complex.js'
import { VoskelError } from '../errors/VoskelError.js'

/** The first two terms of a Taylor series: value, and derivative by s. */
export interface Taylor {
  readonly value: Complex
  readonly slope: Complex
}

/** Points of a circle; the upper half of the harmonics shows whether the function is analytic inside. */
const POINTS = 32

/** Off the axes, where further singular points may lie. */
const ANGLES = Array.from({ length: POINTS }, (_, k) => (2 * Math.PI * (k + 0.37)) / POINTS)
const turn = (angle: number): Complex => complex(Math.cos(angle), Math.sin(angle))
const TURNS = ANGLES.map(turn)

/** e^(−jnθ), by n and point. */
const PHASES = Array.from({ length: POINTS }, (_, n) => ANGLES.map((angle) => turn(-n * angle)))

/** Harmonics that must not be there may be this part of the largest value: rounding, and the series' own tail. */
const TAIL = 1e-7

/** A value this small against others of the same equations may be rounding alone. */
const NEXT_TO_NOTHING = 1e-5

/** Radii against the frequency, smallest first: rounding grows towards the point, other roots come nearer away from it. */
const RADII = Array.from({ length: 12 }, (_, k) => 1e-8 * 4 ** k)

/** At DC there is no frequency to measure by: these radii, rad/s. */
const RADII_AT_DC = Array.from({ length: 14 }, (_, k) => 10 ** (k - 6))

/**
 * Limits of functions that are analytic at a point where the equations that they come from are singular: means over a
 * circle around it (Cauchy's integral formula). The smallest circle is taken on which all of them prove analytic inside,
 * and from there on the one with the least rounding.
 *
 * @param s0 rad/s
 * @param functions the values at a point, always in the same order
 * @returns null where one of them has a pole there, or something else lies too near
 */
export function analyticLimit(s0: Complex, functions: (s: Complex) => readonly Complex[]): Taylor[] | null {
  const radii = abs(s0) > 0 ? RADII.map((r) => r * abs(s0)) : RADII_AT_DC
  let best: { terms: Taylor[]; tail: number } | null = null
  for (const radius of radii) {
    const found = onCircle(s0, radius, functions)
    if (found && (!best || found.tail < best.tail)) best = found
    // Once it has worked, a larger circle that no longer does has met something else.
    else if (best) break
  }
  return best?.terms ?? null
}

function onCircle(
  s0: Complex,
  radius: number,
  functions: (s: Complex) => readonly Complex[],
): { terms: Taylor[]; tail: number } | null {
  let samples: (readonly Complex[])[]
  try {
    samples = TURNS.map((at) => functions(add(s0, scale(at, radius))))
  } catch (error) {
    if (error instanceof VoskelError && error.code === 'SINGULAR') return null
    throw error
  }
  let tail = 0
  const terms: Taylor[] = []
  const overall = Math.max(0, ...samples.flatMap((values) => values.map(abs)))
  for (let j = 0; j < samples[0].length; j++) {
    const harmonics = Array.from({ length: POINTS }, (_, n) => harmonic(samples, j, n))
    const largest = Math.max(...samples.map((v) => abs(v[j])))
    if (!Number.isFinite(largest)) return null
    const upper = Math.max(...harmonics.slice(POINTS / 2).map(abs))
    // One that is nothing but rounding beside the others is none the less smooth.
    if (!(upper <= TAIL * Math.max(largest, NEXT_TO_NOTHING * overall))) return null
    if (overall > 0) tail = Math.max(tail, upper / Math.max(largest, NEXT_TO_NOTHING * overall))
    terms.push({ value: harmonics[0], slope: scale(harmonics[1], 1 / radius) })
  }
  return { terms, tail }
}

/** The mean of f·e^(−jnθ) over the circle. */
function harmonic(samples: readonly (readonly Complex[])[], j: number, n: number): Complex {
  let sum = complex(0)
  for (let k = 0; k < POINTS; k++) sum = add(sum, multiply(samples[k][j], PHASES[n][k]))
  return scale(sum, 1 / POINTS)
}

/**
 * Values at a point; where the equations are singular there, or have lost the values' digits, their limits.
 *
 * @param solve the values at a point, and whether they have lost their digits
 * @throws VoskelError `SINGULAR` where the equations are singular and one of the values has no limit
 */
export function valuesOrLimits(
  s: Complex,
  solve: (s: Complex) => { values: readonly Complex[]; lost: boolean },
): readonly Complex[] {
  let failure: unknown
  let solved: { values: readonly Complex[]; lost: boolean } | null = null
  try {
    solved = solve(s)
    if (!solved.lost) return solved.values
  } catch (error) {
    if (!(error instanceof VoskelError) || error.code !== 'SINGULAR') throw error
    failure = error
  }
  const limits = analyticLimit(s, (near) => solve(near).values)
  if (limits) return limits.map(({ value }) => value)
  if (!solved) throw failure
  return solved.values
}
