import { rippleFactor } from '../../approximation/Approximation.js'
import { VoskelError } from '../../errors/VoskelError.js'

/** Where a ladder begins, seen from the source. */
export type FirstPart = 'shunt' | 'series'

export interface LadderRequest {
  approximation: 'butterworth' | 'chebyshev'
  /** 1 … 20 */
  order: number
  /** Loss at ω = 1 rad/s against the passband's best, dB. */
  rippleDb: number
  /** Load resistance over source resistance, > 0. */
  ratio: number
  /** Left out, whichever exists; a shunt part where both do. */
  first?: FirstPart
}

export interface LadderElements {
  first: FirstPart
  /**
   * Source to load, for a source of 1 Ω and ω = 1 rad/s: shunt parts in F, series parts in H, alternating.
   */
  values: number[]
}

/** A transmission this little above the possible is the rounding of a termination that was computed to fit. */
const ROUNDING = 1e-9

/**
 * Element values of a doubly terminated LC low-pass ladder of Butterworth or Chebyshev response, for any ratio of
 * terminations for which it exists. |S21|² = K/(1 + ε²Fₙ²): K follows from what the two resistors pass at DC.
 *
 * Closed form, exact to rounding and positive throughout. Source: H. Takahasi, J. Inst. Elec. Commun. Engrs. Japan 34,
 * 1951, as published by L. Weinberg, P. Slepian, "Takahasi's results on Tchebycheff and Butterworth ladder networks",
 * IRE Trans. CT-7, 1960, 88–101 (formulas from memory; the tests check tables and realised responses). For equal
 * terminations they are those of Matthaei, Young, Jones, §§ 4.05.
 *
 * @throws VoskelError `REALIZATION_IMPOSSIBLE` with what would be possible
 */
export function ladderElements(request: LadderRequest): LadderElements {
  const { approximation, order: n, rippleDb, ratio } = request
  const epsilon = rippleFactor(rippleDb)
  const evenChebyshev = approximation === 'chebyshev' && n % 2 === 0
  const passedAtDc = (4 * ratio) / (1 + ratio) ** 2
  const k = evenChebyshev ? (1 + epsilon * epsilon) * passedAtDc : passedAtDc
  if (k > 1 + ROUNDING) throw needsUnequal(n, epsilon, ratio)
  // 1 − K without cancellation: ((1 − r)/(1 + r))² is what the resistors alone reflect.
  const reflected = ((1 - ratio) / (1 + ratio)) ** 2
  const lost = Math.max(0, evenChebyshev ? reflected - epsilon * epsilon * passedAtDc : reflected)

  const first = firstPart(request)
  // The zeros of reflection lie left or right of the axis: which one decides, at odd orders, the load's side of 1.
  const sign = n % 2 === 1 && (first === 'shunt' ? ratio > 1 : ratio < 1) ? -1 : 1
  const sine = (m: number) => Math.sin((m * Math.PI) / (2 * n))
  const values: number[] = []
  if (approximation === 'butterworth') {
    const lambda = sign * lost ** (1 / (2 * n))
    // The formulas hold for 3 dB at ω = 1.
    const scale = epsilon ** (1 / n)
    values.push((2 * sine(1)) / (1 - lambda))
    for (let m = 1; m < n; m++) {
      const product =
        (4 * sine(2 * m - 1) * sine(2 * m + 1)) / (1 - 2 * lambda * Math.cos((m * Math.PI) / n) + lambda * lambda)
      values.push(product / values[m - 1])
    }
    return { first, values: values.map((g) => g * scale) }
  }
  const xi = Math.sinh(Math.asinh(1 / epsilon) / n)
  const delta = sign * Math.sinh(Math.asinh(Math.sqrt(lost) / epsilon) / n)
  values.push((2 * sine(1)) / (xi - delta))
  for (let m = 1; m < n; m++) {
    const denominator = xi * xi + delta * delta - 2 * xi * delta * Math.cos((m * Math.PI) / n) + sine(2 * m) ** 2
    values.push((4 * sine(2 * m - 1) * sine(2 * m + 1)) / denominator / values[m - 1])
  }
  return { first, values }
}

/**
 * At even orders the end of the ladder is a series part where it begins with a shunt one: a shunt part first needs the
 * load below the source, a series part first the load above it.
 */
function firstPart({ order, ratio, first }: LadderRequest): FirstPart {
  if (order % 2 === 1 || ratio === 1) return first ?? 'shunt'
  const possible: FirstPart = ratio < 1 ? 'shunt' : 'series'
  if (first !== undefined && first !== possible) {
    const facts = {
      problem: `A ladder of even order ${order} that begins with a ${first} part needs a load resistance ${first === 'shunt' ? 'below' : 'above'} the source resistance.`,
      fix: `Begin with a ${possible} part, exchange source and load resistance, or take an odd order.`,
    }
    throw new VoskelError('REALIZATION_IMPOSSIBLE', facts, { path: 'realization.first' })
  }
  return possible
}

function needsUnequal(order: number, epsilon: number, ratio: number): VoskelError {
  // (1 + ε²)·4r/(1 + r)² = 1, solved for the ratio above 1.
  const least = (epsilon + Math.hypot(1, epsilon)) ** 2
  const facts = {
    problem: `An even-order Chebyshev ladder (order ${order}) does not exist ${ratio === 1 ? 'between equal resistors' : 'for this ratio of load to source resistance'}: it loses its ripple at DC, where the coils are through-connections.`,
    fix: `Make load over source at least ${least.toPrecision(5)} or at most ${(1 / least).toPrecision(5)}, take order ${order - 1 || 1} or ${order + 1}, or the even order’s form c (evenOrder), which loses nothing at DC.`,
  }
  return new VoskelError('REALIZATION_IMPOSSIBLE', facts, { path: 'realization.load' })
}
