import { GROUND } from '../circuit/parts/PartKind.js'
import { VoskelError } from '../errors/VoskelError.js'
import { complex, type Complex, scale, subtract } from '../numeric/complex.js'
import { type Drive, driveOf, element, inputSource } from './elements.js'
import type { Mna, Probe } from './mna.js'
import { SignalAnalysis } from './signalAnalysis.js'
import { type Leaf, leavesAlone } from './signals.js'

/** Scattering parameters of a two-port at one frequency. */
export interface ScatteringPoint {
  readonly s11: Complex
  readonly s21: Complex
  readonly s12: Complex
  readonly s22: Complex
}

/** A two-port between a source's resistor and a load's, each port referred to its own. */
export interface Scattering {
  /** Ω of both ports */
  readonly references: readonly [source: number, load: number]
  /** One entry a frequency. */
  readonly points: readonly ScatteringPoint[]
}

/**
 * Scattering parameters of what lies between two resistors. With the source at port 1: S21 = 2·√(RS/RL)·v(RL)/V,
 * S11 = 1 − 2·RS·i/V; with a current of 1 A into the load's nets, every other source at zero: S22 = 2·v(RL)/RL − 1 A·Ω,
 * S12 = 2·√(RL/RS)·v(RS)/RL.
 *
 * Source: G. L. Matthaei, L. Young, E. M. T. Jones, *Microwave Filters …*, McGraw-Hill 1964, § 2.12 (definition of the waves; from
 * memory).
 *
 * @param ports names of the source's and of the load's resistor
 * @param frequency Hz
 * @throws VoskelError `ARGUMENT` where one is no resistor, or the first is not in series with the source; `SINGULAR`
 */
export function scattering(
  mna: Mna,
  ports: readonly [source: string, load: string],
  frequency: Float64Array,
  input?: string,
): Scattering {
  const source = inputSource(mna, input)
  if (source.element.kind.id !== 'voltage-source')
    throw refused(
      `${source.element.name} is a current source.`,
      'Drive the two-port by a voltage source in series with its resistor.',
    )
  const [rs, rl] = ports.map((name) => resistor(mna, name))
  if (rs.index === rl.index)
    throw refused('Both ports name one resistor.', 'Name the source’s resistor and the load’s.')
  // Ground joins everything: the resistor in series is at a pin of the source that is not grounded.
  const [plus, minus] = source.element.nodes
  const [a, b] = rs.element.nodes
  const joined = [plus, minus].filter((n) => n !== GROUND).find((n) => n === a || n === b)
  if (joined === undefined)
    throw refused(
      `${rs.element.name} is not in series with ${source.element.name}.`,
      'Name the resistor that is joined to the source.',
    )
  // Counted from the source's plus towards the network; of the load from the net that is not ground.
  const outward = joined === plus ? 1 : -1
  const [near, far] = joined === a ? [b, a] : [a, b]
  const [one, other] = rl.element.nodes[0] === GROUND ? [rl.element.nodes[1], GROUND] : rl.element.nodes
  const inject: Drive = (
    [
      [one, 1],
      [other, -1],
    ] as const
  ).filter(([row]) => row !== GROUND)
  const driven = driveOf(mna, source.index)
  const across = (p: number, q: number): Probe =>
    (
      [
        [p, 1, 0],
        [q, -1, 0],
      ] as const
    ).filter(([column]) => column !== GROUND)
  const leaf = (drive: Drive, probe: Probe): Leaf => ({ drive, probe, inverse: false, owners: [] })
  const current = mna.currents.get(source.index)!
  const leaves = [
    leaf(driven, across(one, other)),
    leaf(
      driven,
      current.map(([column, g, c]) => [column, -g, -c] as const),
    ),
    leaf(inject, across(one, other)),
    leaf(inject, across(near, far)),
  ]
  const [low, high] = [frequency[0], frequency.at(-1)!].map((f) => 2 * Math.PI * f)
  const analysis = new SignalAnalysis(mna, leavesAlone(leaves), { range: [low, high] })
  const [r1, r2] = [rs.element.values.resistance, rl.element.values.resistance]
  const ratio = Math.sqrt(r1 / r2)
  const points = Array.from(frequency, (f): ScatteringPoint => {
    const [out, drawn, back, left] = analysis.points(2 * Math.PI * f).map((p) => p.value)
    return {
      s11: subtract(complex(1), scale(drawn, 2 * r1)),
      s21: scale(out, 2 * ratio * outward),
      s12: scale(left, (2 / ratio / r2) * outward),
      s22: subtract(scale(back, 2 / r2), complex(1)),
    }
  })
  return { references: [r1, r2], points }
}

const refused = (problem: string, fix: string) => new VoskelError('ARGUMENT', { problem, fix })

function resistor(mna: Mna, name: string) {
  const found = element(mna, name)
  if (found.element.kind.id !== 'resistor')
    throw refused(`${found.element.name} is no resistor.`, 'Name the resistors of the source and of the load.')
  return found
}
