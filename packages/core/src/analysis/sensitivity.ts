import type { Circuit } from '../circuit/circuit.js'
import { flatten } from '../circuit/flatten.js'
import { GROUND } from '../circuit/parts/PartKind.js'
import { VoskelError } from '../errors/VoskelError.js'
import { complex, divide, subtract } from '../numeric/complex.js'
import { valuesOrLimits } from './analyticLimit.js'
import { ComplexSystem, termsAt } from './complexSystem.js'
import { bilinear, type Changed, influence, type Influence } from './influence.js'
import type { Mna, Probe } from './mna.js'
import { inputSource, netlistName, parseOutput } from './outputs.js'

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
  options: { input?: string; output?: string } = {},
  to: readonly Sensitive[] = sensitiveParts(mna),
): Sensitivity {
  const output = parseOutput(mna, options.output ?? 'out')
  const impedance = output.kind === 'impedance'
  const source = impedance ? output.source : inputSource(mna, options.input).index
  const drive = mna.sources.filter((s) => s.element === source).map((s) => [s.row, s.sign] as const)
  const probe: Probe = impedance ? impedanceProbe(mna, source) : output.probe
  // Z = 1/I of a voltage source turns every relative sensitivity over.
  const sign = impedance && mna.currents.has(source) ? -1 : 1
  const owner = impedance ? -1 : probeOwner(mna, probe)
  const w = frequencies.map((f) => 2 * Math.PI * f)
  const middle = w[Math.floor(w.length / 2)] ?? 1
  const system = new ComplexSystem(
    mna,
    [Math.min(...w), middle, Math.max(...w)].map((omega) => complex(0, omega)),
  )
  const rows = to.map(() => ({ magnitude: [] as number[], phase: [] as number[] }))
  for (const omega of w) {
    const values = valuesOrLimits(complex(0, omega), (s) => {
      const terms = termsAt(probe, s)
      system.factor(s)
      system.solve(drive)
      system.verify(drive)
      const h = system.combine(terms)
      const lost = system.hasLost(drive, terms, h)
      system.solveAdjoint(terms)
      const changes = to.map(({ influence }) => {
        const change = bilinear(influence, s, system)
        // The probe itself may follow the value.
        const own = system.combine(termsAt(influence.currents.get(owner) ?? [], s))
        return divide(subtract(own, change), h)
      })
      return { values: changes, lost }
    })
    values.forEach((relative, k) => {
      rows[k].magnitude.push(sign * relative.re)
      rows[k].phase.push(sign * relative.im)
    })
  }
  return {
    frequency: frequencies,
    components: Object.fromEntries(to.map(({ name }, k) => [name, rows[k]])),
  }
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

/** The element whose current the probe is; −1 for a voltage. */
function probeOwner(mna: Mna, probe: Probe): number {
  for (const [index, terms] of mna.currents) if (terms === probe) return index
  return -1
}

/** For a driven voltage source its current, for a current source the voltage across it. */
function impedanceProbe(mna: Mna, source: number): Probe {
  const current = mna.currents.get(source)
  if (current) return current
  const [plus, minus] = mna.circuit.elements[source].nodes
  return (
    [
      [plus, 1, 0],
      [minus, -1, 0],
    ] as const
  ).filter(([column]) => column !== GROUND)
}
