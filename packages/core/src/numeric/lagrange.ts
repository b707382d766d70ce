/**
 * Weights of the polynomial through values at `nodes`, at x: as many as `into` is long.
 *
 * Source: M. Abramowitz, I. A. Stegun, Handbook of Mathematical Functions, 1964, 25.2.1 (from memory).
 */
export function lagrangeWeights(nodes: ArrayLike<number>, x: number, into: Float64Array): void {
  for (let a = 0; a < into.length; a++) {
    into[a] = 1
    for (let b = 0; b < into.length; b++) if (b !== a) into[a] *= (x - nodes[b]) / (nodes[a] - nodes[b])
  }
}
