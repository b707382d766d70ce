import { type Complex, complex } from '../../numeric/complex.js'
import { QUAD_DOUBLES, type Polynomial } from '../../numeric/real.js'
import { preciseRoots } from '../../numeric/simultaneousRoots.js'
import type { TransferFunction } from '../../numeric/transferFunction.js'
import type { Shape, ShapeProblem } from './Shape.js'

type Root = readonly [re: number, im: number]

type Free = {
  poles?: readonly Root[]
  zeros?: readonly Root[]
  factor?: number
  numerator?: readonly number[]
  denominator?: readonly number[]
}

const problemAt = (field: string, problem: string, fix: string): ShapeProblem => ({ field, problem, fix })

function problem(free: Free): ShapeProblem | null {
  const { poles, zeros, numerator, denominator } = free
  const both = denominator ? (poles ?? zeros) !== undefined : numerator !== undefined && (poles ?? zeros) !== undefined
  if (both || (denominator ? false : !poles))
    return problemAt(
      denominator ? 'poles' : both ? 'numerator' : 'denominator',
      both ? 'Roots and coefficients are both given.' : 'Neither poles nor a denominator are given.',
      'Give either "poles" and "zeros", or "numerator" and "denominator".',
    )
  if (denominator) {
    for (const [field, list] of Object.entries({ denominator, numerator: numerator ?? [1] }))
      if (list.length === 0 || list[0] === 0)
        return problemAt(field, `The ${field} is empty or begins with 0.`, 'Give its highest power first.')
  }
  for (const [field, list] of Object.entries({ poles: poles ?? [], zeros: zeros ?? [] })) {
    const alone = list.find(([re, im]) => im !== 0 && count(list, re, im) !== count(list, re, -im))
    if (alone)
      return problemAt(
        field,
        `Of the pair ${alone[0]} ± j${Math.abs(alone[1])} one is missing: the response would not be real.`,
        'List every complex root with its conjugate.',
      )
  }
  const h = transfer(free)
  if (h.zeros.length > h.poles.length)
    return problemAt(
      denominator ? 'numerator' : 'zeros',
      `There are more zeros (${h.zeros.length}) than poles (${h.poles.length}): the response would rise without end.`,
      'Add poles above the band that matters.',
    )
  const unstable = h.poles.find((p) => p.re >= 0)
  if (unstable)
    return problemAt(
      denominator ? 'denominator' : 'poles',
      `A pole lies at ${unstable.re} ± j${Math.abs(unstable.im)} rad/s, not left of the axis: the response would not decay.`,
      'Give poles with a negative real part.',
    )
  return null
}

const count = (list: readonly Root[], re: number, im: number) => list.filter(([a, b]) => a === re && b === im).length

const roots = (list: readonly Root[]): Complex[] => list.map(([re, im]) => complex(re, im))

/** Roots of a polynomial with its highest power first; those at the origin are exact. */
function rootsOf(coefficients: readonly number[]): Complex[] {
  const rising = [...coefficients].reverse()
  const atOrigin = rising.findIndex((c) => c !== 0)
  const rest: Polynomial = rising.slice(atOrigin).map((c) => QUAD_DOUBLES.of(c))
  return [
    ...Array.from({ length: atOrigin }, () => complex(0)),
    ...(rest.length > 1 ? preciseRoots(rest, QUAD_DOUBLES) : []),
  ]
}

function transfer({ poles = [], zeros = [], factor = 1, numerator = [1], denominator }: Free): TransferFunction {
  if (!denominator) return { poles: roots(poles), zeros: roots(zeros), gain: factor }
  return {
    poles: rootsOf(denominator),
    zeros: rootsOf(numerator),
    gain: (factor * numerator[0]) / denominator[0],
  }
}

/** Any response of typed roots or coefficients. */
export const free: Shape<Free> = {
  id: 'free',
  name: 'free',
  character: 'Typed poles and zeros in rad/s, or the coefficients of a transfer function, highest power first.',
  source: 'the definition of a transfer function',
  formulas: ['H = factor·∏(s − z)/∏(s − p), or factor·N(s)/D(s)'],
  fields: [
    { id: 'poles', name: 'Poles', kind: 'roots', unit: 'rad/s', optional: true },
    { id: 'zeros', name: 'Zeros', kind: 'roots', unit: 'rad/s', optional: true },
    { id: 'numerator', name: 'Numerator', kind: 'numbers', unit: '', optional: true },
    { id: 'denominator', name: 'Denominator', kind: 'numbers', unit: '', optional: true },
    { id: 'factor', name: 'Factor', kind: 'quantity', unit: '', default: 1, optional: true, empty: '1' },
  ],
  problem,
  transfer,
  marks(values) {
    const h = transfer(values)
    return [...h.poles, ...h.zeros].map((r) => Math.hypot(r.re, r.im) / (2 * Math.PI)).filter((f) => f > 0)
  },
}
