/** Points and weights of a central difference of the fourth order: Σ weight·f(x + steps·h)/h. */
export const CENTRAL_DIFFERENCE = [
  [-2, 1 / 12],
  [-1, -2 / 3],
  [1, 2 / 3],
  [2, -1 / 12],
] as const
