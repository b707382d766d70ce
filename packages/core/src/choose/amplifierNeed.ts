import { formulate } from '../analysis/mna.js'
import { AcAnalysis } from '../analysis/signalAnalysis.js'
import { smallSignal } from '../analysis/smallSignal.js'
import type { Circuit } from '../circuit/circuit.js'
import { searchGrid } from '../measure/overFrequency.js'
import type { TransferFunction } from '../numeric/transferFunction.js'
import { formatQuantity } from '../quantity/formatQuantity.js'
import type { Promised } from '../verdict/Requirement.js'
import { meantBands, passingBands } from './passingBands.js'

/** What amplifiers have to be for a circuit to be as good as with ideal ones. */
export interface AmplifierNeed {
  /** Gain × bandwidth of all of them, Hz, at the least. */
  readonly bandwidth: number
  /** Where less would show first, Hz. */
  readonly at: number
  /** The error that is meant: of the magnitude, dB; of the phase, degrees, where every frequency passes alike. */
  readonly error: { readonly size: number; readonly unit: 'dB' | '°' }
}

/** Errors that amplifiers may make where signals pass. */
const [DB, DEGREES] = [0.1, 1]
const RADIANS = (DEGREES * Math.PI) / 180

/** What is this far below the greatest, a factor, is no passing any more. */
const PASSES = 0.5

/** Gains × bandwidths between which it is looked for, relative to the highest frequency that passes. */
const [LEAST, MOST] = [1e-2, 1e9]

/** A gain × bandwidth that is enough for anything, relative to the same, and how far above what it promises the search begins. */
const [FAR, AMPLE] = [1e6, 4]

/** How exact the answer is, relative, and how many steps that may take: in logarithms the error is nearly a line. */
const [EXACT, STEPS] = [1e-9, 60]

/**
 * The least gain × bandwidth at which single-pole amplifiers, all alike, change what passes by no more than 0.1 dB, or 1° of
 * an all-pass; above it the error only falls. null without amplifiers, and where ideal ones make no difference up to there.
 *
 * @param transfer the circuit's response with ideal amplifiers, by its roots
 * @throws VoskelError as `formulate`
 */
export function amplifierNeed(
  circuit: Circuit,
  {
    promised,
    transfer,
    input,
    output,
  }: {
    readonly promised: Promised | null
    readonly transfer: TransferFunction
    readonly input?: string
    readonly output?: string
  },
): AmplifierNeed | null {
  if (!circuit.parts.some((p) => p.kind === 'opamp' && p.aside === undefined)) return null
  const isAllpass = promised?.spec.response === 'allpass'
  const bands = meantBands(promised)
  const omegas = passingBands(bands, transfer.poles).flatMap(([from, to]) => searchGrid(transfer, from, to))
  const asked = { ...(input !== undefined && { input }), ...(output !== undefined && { output }) }
  const sweep = (at: Float64Array, bandwidth: number | null) =>
    new AcAnalysis(smallSignal(formulate(withAmplifiers(circuit, bandwidth))), asked).sweep(at)
  const all = sweep(Float64Array.from(omegas, inHz), null)
  const sizes = Array.from(all.re, (re, k) => Math.hypot(re, all.im[k]))
  // A response without bands has what it stops here as well.
  const least = bands.length > 0 ? 0 : PASSES * Math.max(...sizes)
  const frequency = all.frequency.filter((_, k) => sizes[k] >= least)
  const ideal = sweep(frequency, null)
  /** The worst point: its error relative to what is allowed. */
  const worst = (bandwidth: number) => {
    const { re, im } = sweep(frequency, bandwidth)
    let [share, at] = [0, 0]
    frequency.forEach((f, k) => {
      const [a, b] = [re[k] * ideal.re[k] + im[k] * ideal.im[k], im[k] * ideal.re[k] - re[k] * ideal.im[k]]
      const error = isAllpass
        ? Math.abs(Math.atan2(b, a)) / RADIANS
        : Math.abs(10 * Math.log10((re[k] ** 2 + im[k] ** 2) / (ideal.re[k] ** 2 + ideal.im[k] ** 2))) / DB
      if (error > share) [share, at] = [error, f]
    })
    return { share, at }
  }
  const top = Math.max(...frequency)
  // Far above what is needed the error falls as the bandwidth grows: from there down to where it is too much.
  const far = worst(FAR * top).share
  let high = AMPLE * FAR * top * far
  if (!(far > 0) || high < LEAST * top) return null
  while (worst(high).share > 1) if ((high *= 2) > MOST * top) return null
  while (worst(high / 2).share <= 1) if ((high /= 2) < LEAST * top) return null
  const bandwidth = crossing((b) => worst(b).share, high / 2, high)
  const error = isAllpass ? { size: DEGREES, unit: '°' as const } : { size: DB, unit: 'dB' as const }
  return { bandwidth, at: worst(bandwidth).at, error }
}

/** Where a falling function that is above 1 at `low` and not at `high` is 1. */
function crossing(f: (x: number) => number, low: number, high: number): number {
  let [a, b] = [Math.log(low), Math.log(high)]
  let [fa, fb] = [Math.log(f(low)), Math.log(f(high))]
  let before = Infinity
  for (let k = 0; k < STEPS; k++) {
    const x = a + ((b - a) * fa) / (fa - fb)
    if (Math.abs(x - before) < EXACT) return Math.exp(x)
    const fx = Math.log(f(Math.exp(x)))
    if (fx > 0) [a, fa] = [x, fx]
    else [b, fb] = [x, fx]
    before = x
  }
  return Math.exp(b)
}

const inHz = (omega: number) => omega / (2 * Math.PI)

/** The circuit with amplifiers that lack nothing, or a gain × bandwidth alone, Hz. */
function withAmplifiers(circuit: Circuit, bandwidth: number | null): Circuit {
  const values: Readonly<Record<string, number>> = bandwidth === null ? {} : { gainBandwidth: bandwidth }
  const parts = circuit.parts.map((part) => {
    if (part.kind !== 'opamp') return part
    const { model: _model, formulas: _formulas, ...own } = part
    return { ...own, values }
  })
  return { ...circuit, parts }
}

/** The same in words. */
export function amplifierNeedText({ bandwidth, at, error }: AmplifierNeed): string {
  const limit = error.unit === '°' ? `a phase within ${error.size}°` : `an error below ${error.size} dB`
  return `Amplifiers need a gain × bandwidth of ${formatQuantity(bandwidth, 'Hz', 3)} for ${limit}; less shows first at ${formatQuantity(at, 'Hz', 3)}.`
}
