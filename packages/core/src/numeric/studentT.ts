/** Of the normal distribution: what 95 % of all lie within, in deviations. */
const NORMAL_95 = 1.959963984540054

/** Degrees of freedom up to which the distribution is summed; beyond, its expansion around the normal one errs by less than 1e-15. */
const MOST_SUMMED = 100_000

/** Newton steps from the expansion: each doubles the digits. */
const STEPS = 8

/**
 * The t within which 95 % of Student's distribution lie, so that value ± t·deviation is a 95 % confidence interval.
 *
 * Source: M. Abramowitz, I. A. Stegun, *Handbook of Mathematical Functions*, 1964, 26.7.3–26.7.4 (sums) and 26.7.5 (expansion);
 * from memory, checked against printed values.
 *
 * @param freedom degrees of freedom, an integer ≥ 1
 * @example studentT95(10) // 2.2281388519…
 */
export function studentT95(freedom: number): number {
  const z = NORMAL_95
  const n = freedom
  let t =
    z +
    (z ** 3 + z) / (4 * n) +
    (5 * z ** 5 + 16 * z ** 3 + 3 * z) / (96 * n ** 2) +
    (3 * z ** 7 + 19 * z ** 5 + 17 * z ** 3 - 15 * z) / (384 * n ** 3)
  if (freedom > MOST_SUMMED) return t
  for (let k = 0; k < STEPS; k++) t += (0.95 - within(t, freedom)) / (2 * density(t, freedom))
  return t
}

/** The part of Student's distribution between −t and t. */
function within(t: number, freedom: number): number {
  const angle = Math.atan2(t, Math.sqrt(freedom))
  const cos2 = Math.cos(angle) ** 2
  const isOdd = freedom % 2 === 1
  let term = isOdd ? Math.cos(angle) : 1
  let sum = 0
  for (let k = isOdd ? 3 : 2; k <= freedom; k += 2) {
    sum += term
    term *= (cos2 * (k - 1)) / k
  }
  return isOdd ? (2 / Math.PI) * (angle + Math.sin(angle) * sum) : Math.sin(angle) * sum
}

function density(t: number, freedom: number): number {
  // Γ((n+1)/2)/Γ(n/2)/√(nπ) by its recurrence, from n = 1 or 2.
  let scale = freedom % 2 === 1 ? 1 / Math.PI : 1 / (2 * Math.SQRT2)
  for (let n = freedom % 2 === 1 ? 1 : 2; n < freedom; n += 2) scale *= ((n + 1) / n) * Math.sqrt(n / (n + 2))
  return scale * (1 + (t * t) / freedom) ** (-(freedom + 1) / 2)
}
