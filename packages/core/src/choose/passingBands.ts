import { abs, type Complex } from '../numeric/complex.js'

/** From where a passband that begins at DC is looked at, and to where one without end, relative to its edge. */
const [BELOW, ABOVE] = [1e-3, 10]

/** How far around its roots a response without passbands is looked at. */
const AROUND = 2

/** Where signals pass, rad/s, both ends finite and above 0. */
export function passingBands(
  passbands: readonly (readonly [from: number, to: number])[],
  poles: readonly Complex[],
): [from: number, to: number][] {
  if (passbands.length > 0)
    return passbands.map(([from, to]) => [
      2 * Math.PI * (from === 0 ? BELOW * to : from),
      2 * Math.PI * (to === Infinity ? ABOVE * from : to),
    ])
  const sizes = poles.map(abs).filter((w) => w > 0)
  return sizes.length > 0 ? [[Math.min(...sizes) / AROUND, Math.max(...sizes) * AROUND]] : [[BELOW, ABOVE]]
}
