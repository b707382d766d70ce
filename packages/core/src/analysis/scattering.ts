import type { Complex } from '../numeric/complex.js'
import type { Mna } from './mna.js'
import { loadPort, refuseOnePort, sourcePort } from './ports.js'
import { SignalAnalysis } from './signalAnalysis.js'

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

const PARAMETERS = ['s11', 's21', 's12', 's22'] as const

/**
 * Scattering parameters of what lies between two resistors, as the signals `s11(RS,RL)` … `s22(RS,RL)` have them.
 *
 * @param ports names of the source's and of the load's resistor
 * @param frequency Hz
 * @throws VoskelError `ARGUMENT` where one is no plain resistor, or the first is not in series with the source; `SINGULAR`
 */
export function scattering(
  mna: Mna,
  ports: readonly [source: string, load: string],
  frequency: Float64Array,
  input?: string,
): Scattering {
  const [source, load] = [sourcePort(mna, ports[0], input), loadPort(mna, ports[1])]
  refuseOnePort(source, load)
  const [low, high] = [frequency[0], frequency.at(-1)!].map((f) => 2 * Math.PI * f)
  const signals = PARAMETERS.map((op) => ({ op, of: ports }))
  const analysis = new SignalAnalysis(mna, signals, { range: [low, high], ...(input !== undefined && { input }) })
  const points = Array.from(frequency, (f): ScatteringPoint => {
    const [s11, s21, s12, s22] = analysis.points(2 * Math.PI * f).map((p) => p.value)
    return { s11, s21, s12, s22 }
  })
  return { references: [source.reference, load.reference], points }
}
