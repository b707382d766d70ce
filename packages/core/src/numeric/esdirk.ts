/**
 * ESDIRK4(3)6L[2]SA: an L-stable, stiffly accurate Runge–Kutta pair of order 4 with an embedded solution of order 3.
 * Its first stage is explicit and every other one has the same diagonal γ, so that one factorisation serves a step.
 *
 * Source: C. A. Kennedy, M. H. Carpenter, "Additive Runge–Kutta schemes for convection–diffusion–reaction equations",
 * Appl. Numer. Math. 44, 2003, 139–181 (coefficients from memory; the tests check the order conditions).
 */
export const GAMMA = 1 / 4

/** Stage times. */
export const C: readonly number[] = [0, 1 / 2, 83 / 250, 31 / 50, 17 / 20, 1]

/** Stage weights below the diagonal. */
export const A: readonly (readonly number[])[] = [
  [],
  [1 / 4],
  [8611 / 62500, -1743 / 31250],
  [5012029 / 34652500, -654441 / 2922500, 174375 / 388108],
  [15267082809 / 155376265600, -71443401 / 120774400, 730878875 / 902184768, 2285395 / 8070912],
  [82889 / 524892, 0, 15625 / 83664, 69875 / 102672, -2260 / 8211],
]

/** Weights of the solution: the last stage itself. */
export const B: readonly number[] = [...A[5], GAMMA]

/** Weights of the embedded solution of order 3. */
export const B_EMBEDDED: readonly number[] = [
  4586570599 / 29645900160,
  0,
  178811875 / 945068544,
  814220225 / 1159782912,
  -3700637 / 11593932,
  61727 / 225920,
]
