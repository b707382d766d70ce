import { solveLinear } from './dense.js'

const MOST_STEPS = 40
const MOST_DAMPING = 1e9

/** An error with less weight than this moves nothing. */
const NEGLIGIBLE = 1e-12

/** A step that brings less than this part ends the way. */
const LITTLE = 1e-5

/**
 * Makes Σ|error|^power small over some variables by Levenberg's and Marquardt's steps; a high power is near to the greatest
 * error itself.
 *
 * Source: K. Levenberg, Quart. Appl. Math. 2, 1944, 164–168; D. W. Marquardt, J. SIAM 11, 1963, 431–441.
 *
 * @param count of errors
 * @param evaluate writes the errors at x and, where they are asked, their slopes, row by row
 */
export function leastPower(
  start: readonly number[],
  count: number,
  evaluate: (x: readonly number[], error: Float64Array, slopes: Float64Array | null) => void,
  power: number,
): number[] {
  const n = start.length
  let x = [...start]
  const error = new Float64Array(count)
  const trial = new Float64Array(count)
  const slopes = new Float64Array(count * n)
  let damping = 1e-3
  for (let step = 0; step < MOST_STEPS; step++) {
    evaluate(x, error, slopes)
    const largest = error.reduce((most, e) => Math.max(most, Math.abs(e)), 0)
    if (largest === 0) return x
    const normal = Array.from({ length: n }, () => new Array<number>(n).fill(0))
    const right = new Array<number>(n).fill(0)
    let cost = 0
    for (let i = 0; i < count; i++) {
      const size = Math.abs(error[i]) / largest
      const weight = size ** (power - 2)
      cost += weight * size * size
      if (weight < NEGLIGIBLE) continue
      for (let a = 0; a < n; a++) {
        const part = weight * slopes[i * n + a]
        right[a] -= part * error[i]
        const line = normal[a]
        for (let b = 0; b <= a; b++) line[b] += part * slopes[i * n + b]
      }
    }
    for (let a = 0; a < n; a++) for (let b = a + 1; b < n; b++) normal[a][b] = normal[b][a]
    for (let a = 0; a < n; a++) normal[a][a] = normal[a][a] * (1 + damping) || 1
    const change = solveLinear(normal, right)
    const next = x.map((v, k) => v + change[k])
    evaluate(next, trial, null)
    const after = trial.reduce((sum, e) => sum + (Math.abs(e) / largest) ** power, 0)
    if (after < cost) {
      x = next
      damping = Math.max(damping / 4, 1e-12)
      if (after > cost * (1 - LITTLE)) break
    } else {
      damping *= 8
      if (damping > MOST_DAMPING) break
    }
  }
  return x
}
