import type { Circuit } from '../circuit/circuit.js'
import { flatten } from '../circuit/flatten.js'
import { VoskelError } from '../errors/VoskelError.js'
import { add, type Complex, complex, divide, scale } from '../numeric/complex.js'
import { valuesOrLimits } from './analyticLimit.js'
import { ComplexSystem, termsAt } from './complexSystem.js'
import { bilinear, type Changed, influence, type Influence } from './influence.js'
import type { Mna } from './mna.js'
import { dual, finished } from './signalAnalysis.js'
import { type BoundSignals, bindSignals, type Leaf, refuseSloped, type SignalLike } from './signals.js'
import { netlistName } from './elements.js'

/** Relative sensitivities of a transfer to each part's value, by frequency. */
export interface Sensitivity {
  /** Hz */
  readonly frequency: readonly number[]
  readonly components: Readonly<
    Record<string, { readonly magnitude: readonly number[]; readonly phase: readonly number[] }>
  >
}

/**
 * d ln|H| / d ln x and d arg H / d ln x (rad) of a linear circuit's transfer for every R, L, C, K and controlled source.
 * Two solves a frequency give all parts.
 *
 * Source: S. W. Director, R. A. Rohrer, IEEE Trans. CT-16, 1969, 318–323.
 *
 * @param frequencies Hz, > 0
 * @param to parts, or what `sensitiveParameters` finds; at a fixed operating point where there are devices
 * @throws VoskelError `ARGUMENT`, `SINGULAR`
 */
export function sensitivity(
  mna: Mna,
  frequencies: readonly number[],
  options: { input?: string; output?: SignalLike } = {},
  to: readonly Sensitive[] = sensitiveParts(mna),
): Sensitivity {
  const w = frequencies.map((f) => 2 * Math.PI * f)
  const slopes = new RelativeSlopes(mna, options, to, w)
  const rows = to.map(() => ({ magnitude: [] as number[], phase: [] as number[] }))
  for (const omega of w) {
    slopes.at(complex(0, omega)).forEach((relative, k) => {
      rows[k].magnitude.push(relative.re)
      rows[k].phase.push(relative.im)
    })
  }
  return {
    frequency: frequencies,
    components: Object.fromEntries(to.map(({ name }, k) => [name, rows[k]])),
  }
}

/** d ln H / d ln x of a signal for several numbers of the circuit, at any complex frequency. */
export class RelativeSlopes {
  private readonly bound: BoundSignals
  private readonly system: ComplexSystem

  /**
   * @param omegas angular frequencies that will be asked, rad/s
   * @throws VoskelError `ARGUMENT`, `SINGULAR`
   */
  constructor(
    private readonly mna: Mna,
    options: { input?: string; output?: SignalLike },
    private readonly to: readonly Sensitive[],
    omegas: readonly number[],
  ) {
    this.bound = bindSignals(mna, [options.output ?? 'out'], options.input)
    refuseSloped(this.bound, 'sensitivities')
    const ends = omegas.reduce<[number, number]>(([a, b], w) => [Math.min(a, w), Math.max(b, w)], [Infinity, 0])
    const middle = omegas[Math.floor(omegas.length / 2)] ?? 1
    this.system = new ComplexSystem(
      mna,
      [ends[0], middle, ends[1]].map((omega) => complex(0, omega)),
    )
  }

  /** For each number; where the equations are singular, the limit. @param s rad/s */
  at(s: Complex): readonly Complex[] {
    const [value, ...changes] = this.changes(s)
    return changes.map((change) => divide(change, value))
  }

  /** H, then dH / d ln x for each number. @param s rad/s */
  changes(s: Complex): readonly Complex[] {
    const { system, to, mna } = this
    const { leaves, signals } = this.bound
    return valuesOrLimits(s, (s) => {
      system.factor(s)
      let lost = false
      const solved = leaves.map((leaf, k) => {
        const { drive, probe, owners } = leaf
        const terms = termsAt(probe, s)
        system.solve(drive)
        system.verify(drive)
        const value = system.combine(terms)
        if (system.haveLost(drive, [terms], [value], [k])) lost = true
        system.solveAdjoint(terms)
        const slopes = to.map(({ influence }) => {
          // The probe itself may follow the value.
          const own = owners.map(([owner, factor]) =>
            scale(system.combine(termsAt(influence.currents.get(owner) ?? [], s)), factor),
          )
          const followed = scale(value, referenceSlope(mna, leaf, influence))
          return own.reduce(add, add(followed, scale(bilinear(influence, s, system), -1)))
        })
        return { value, slopes }
      })
      const changes = to.map((_, j) => {
        const duals = solved.map(({ value, slopes }, k) => finished(leaves[k], { value, slope: slopes[j] }))
        return signals[0].combine(dual, duals).slope
      })
      const whole = signals[0].combine(
        dual,
        solved.map(({ value }, k) => finished(leaves[k], { value, slope: complex(0) })),
      )
      return { values: [whole.value, ...changes], lost }
    })
  }
}

/** Relative change of a leaf's own factors, where they hold powers of ports' resistances, for a relative change of a number. */
export function referenceSlope(mna: Mna, { references = [] }: Leaf, { currents }: Influence): number {
  return references.reduce((sum, [resistor, power]) => {
    const conductance = mna.currents.get(resistor)![0][1]
    const changed = currents.get(resistor)?.[0]?.[1] ?? 0
    return sum - (power * changed) / conductance
  }, 0)
}

/** A number of the circuit that sensitivities are asked to. */
export interface Sensitive {
  readonly name: string
  readonly influence: Influence
}

/** Every part that filters are made of, by its main value. */
export function sensitiveParts(mna: Mna): Sensitive[] {
  return mna.circuit.elements.flatMap((element, index) => {
    const { sensitive, mainValue } = element.kind
    if (!sensitive || !mainValue) return []
    return [
      {
        name: netlistName(element),
        influence: influence(mna, (factor) => new Map([[index, scaled(element.values, mainValue, factor)]])),
      },
    ]
  })
}

const scaled = (values: Readonly<Record<string, number>>, field: string, factor: number) => ({
  ...values,
  [field]: factor * values[field],
})

/**
 * Every parameter of the circuit that is a plain number, through all the values that follow it.
 *
 * @throws VoskelError `ARGUMENT` where one changes a nonlinear device: its operating point would move
 */
export function sensitiveParameters(circuit: Circuit, mna: Mna): Sensitive[] {
  const { elements } = mna.circuit
  return Object.entries(circuit.parameters ?? {}).flatMap(([name, value]) => {
    if (typeof value !== 'number' || value === 0) return []
    const changed = (factor: number): Changed => {
      const other = flatten({ ...circuit, parameters: { ...circuit.parameters, [name]: factor * value } }).elements
      return new Map(other.flatMap((e, k) => (differ(e.values, elements[k].values) ? [[k, e.values] as const] : [])))
    }
    const bent = [...changed(2).keys()].find((k) => elements[k].kind.modelType)
    if (bent !== undefined) {
      throw new VoskelError('ARGUMENT', {
        problem: `The parameter "${name}" changes ${elements[bent].name}, whose operating point would move with it.`,
        fix: 'Give that device its number itself.',
      })
    }
    return [{ name, influence: influence(mna, changed) }]
  })
}

const differ = (a: Readonly<Record<string, number>>, b: Readonly<Record<string, number>>): boolean =>
  Object.keys(a).some((field) => a[field] !== b[field])
