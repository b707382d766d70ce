const GOLDEN = (Math.sqrt(5) - 1) / 2

/** The least of a function with one trough between two ends lies here, after enough steps for a double. */
export function leastBetween(f: (x: number) => number, from: number, to: number): number {
  let [a, b] = [from, to]
  for (let k = 0; k < 80; k++) {
    const [x, y] = [b - GOLDEN * (b - a), a + GOLDEN * (b - a)]
    if (f(x) <= f(y)) b = y
    else a = x
  }
  return (a + b) / 2
}
