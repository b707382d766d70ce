/** Points and weights of a central difference of the fourth order: Σ weight·f(x + steps·h)/h. */
export const CENTRAL_DIFFERENCE = [
  [-2, 1 / 12],
  [-1, -2 / 3],
  [1, 2 / 3],
  [2, -1 / 12],
] as const

/** Points and weights of a difference to one side, of the fourth order as well. */
const ONE_SIDED = [
  [0, -25 / 12],
  [1, 4],
  [2, -3],
  [3, 4 / 3],
  [4, -1 / 4],
] as const

/** Steps that are tried, from the one that carries most digits to the one that sees least of the surroundings. */
const STEPS = [2 ** -8, 2 ** -10, 2 ** -12, 2 ** -14]

/** Fourth differences of something smooth, in terms of how far it moves; noise in terms of its size. */
const SMOOTH = 1e-4
const NOISE = 1e-8
/** What rounding leaves of a level of 0 dB; no time, frequency or voltage is as small. */
const NOTHING = 1e-13

/** A slope, or why there is none. */
export type Slope =
  | { readonly value: number; readonly side: 'both' | 'above' | 'below' }
  | { readonly value: null; readonly reason: 'not there' | 'jumps' | 'turns' }

/**
 * The derivative of f at 0, by differences that notice a jump: the step shrinks until none lies within; where one lies
 * closer than 2^−13 the derivative is taken on the side of 0 that is free of it.
 *
 * @param f null where it does not exist
 */
export function slopeOf(f: (x: number) => number | null): Slope {
  const here = f(0)
  if (!isNumber(here)) return { value: null, reason: 'not there' }
  for (const h of STEPS) {
    const values = [-2, -1, 0, 1, 2].map((k) => f(k * h))
    if (!values.every(isNumber) || !isSmooth(values)) continue
    return { value: CENTRAL_DIFFERENCE.reduce((sum, [k, w]) => sum + (w * values[k + 2]) / h, 0), side: 'both' }
  }
  const h = STEPS[STEPS.length - 1]
  const sided = (sign: 1 | -1): number | null => {
    const values = ONE_SIDED.map(([k]) => f(sign * k * h))
    if (!values.every(isNumber) || !isSmooth(values)) return null
    return ONE_SIDED.reduce((sum, [k, w]) => sum + (w * values[k]) / (sign * h), 0)
  }
  const [above, below] = [sided(1), sided(-1)]
  if (above !== null && below !== null) return { value: null, reason: 'turns' }
  if (above !== null) return { value: above, side: 'above' }
  return below === null ? { value: null, reason: 'jumps' } : { value: below, side: 'below' }
}

const isNumber = (value: number | null): value is number => value !== null && Number.isFinite(value)

/** Five values at even distances that a smooth curve runs through. */
function isSmooth(values: readonly number[]): boolean {
  const [a, b, c, d, e] = values
  const moves = Math.max(...values) - Math.min(...values)
  const size = Math.max(...values.map(Math.abs))
  return Math.abs(a - 4 * b + 6 * c - 4 * d + e) <= Math.max(SMOOTH * moves, NOISE * size, NOTHING)
}
