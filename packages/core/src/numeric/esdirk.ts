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

/**
 * Further implicit stages inside a step, with the same γ: what they solve for is as exact as the step's end (order 4 in what is
 * integrated; what follows from it fulfils its equations). They stand at the inner Chebyshev–Lobatto points (1 − cos kπ/5)/2.
 * Weights of the six stages; derived here, the least that fulfil the order conditions.
 */
export const INSIDE: readonly { readonly at: number; readonly weights: readonly number[] }[] = [
  {
    at: 0.09549150281252629,
    weights: [
      -0.06895252102824793, -0.06001624624988725, -0.10009950864231763, 0.07045514190900083, 0.025728179745332824,
      -0.02162354292135455,
    ],
  },
  {
    at: 0.3454915028125263,
    weights: [
      0.1265922332873733, 0.041581517680955936, 0.030426359299830587, -0.12537187926815913, 0.014104688263942037,
      0.008158583548583554,
    ],
  },
  {
    at: 0.6545084971874737,
    weights: [
      0.1264635526172421, 0.19134418837416506, 0.32184334067731296, -0.17952784738349606, -0.09974320888001127,
      0.04412847178226092,
    ],
  },
  {
    at: 0.9045084971874737,
    weights: [
      0.12929599451548845, 0.04330426420812302, 0.3239970302355279, 0.34825703101944616, -0.18765335908067368,
      -0.0026924637104380872,
    ],
  },
]
