const GOLDEN = (Math.sqrt(5) - 1) / 2

/**
 * The least of a function with one trough between two ends lies here.
 *
 * @param steps as many as a double has digits for; where only the value counts, which is level there, a third of them serves
 */
export function leastBetween(f: (x: number) => number, from: number, to: number, steps = 80): number {
  let [a, b] = [from, to]
  let [x, y] = [b - GOLDEN * (b - a), a + GOLDEN * (b - a)]
  let [left, right] = [f(x), f(y)]
  for (let k = 0; k < steps && a < x && x < y && y < b; k++) {
    if (left <= right) {
      ;[b, y, right] = [y, x, left]
      x = b - GOLDEN * (b - a)
      left = f(x)
    } else {
      ;[a, x, left] = [x, y, right]
      y = a + GOLDEN * (b - a)
      right = f(y)
    }
  }
  return (a + b) / 2
}
