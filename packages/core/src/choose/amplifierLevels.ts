import { formulate } from '../analysis/mna.js'
import { SignalAnalysis } from '../analysis/signalAnalysis.js'
import { smallSignal } from '../analysis/smallSignal.js'
import type { Circuit } from '../circuit/circuit.js'
import { NetMap } from '../circuit/NetMap.js'
import { searchGrid } from '../measure/overFrequency.js'
import { leastBetween } from '../numeric/goldenSection.js'
import { abs } from '../numeric/complex.js'
import type { TransferFunction } from '../numeric/transferFunction.js'
import { formatQuantity } from '../quantity/formatQuantity.js'
import { type FilterSpec, isShaped } from '../specification/filterSpec.js'
import { type Amplifier, amplifierNumbers } from '../synthesis/active/amplifier.js'
import type { FormulaStep, Limit } from '../synthesis/Topology.js'
import { ownBand } from './passingBands.js'

/** The greatest of something over frequency, and where, Hz. */
interface Greatest {
  readonly value: number
  readonly at: number
}

/** What the output of an amplifier does at a sine of one size at the input. */
export interface AmplifierLevel {
  readonly part: string
  /** V, peak, at any frequency. */
  readonly swing: Greatest
  /** V/s, up to the upper edge of a pass band, else the highest of the response's roots: a sine beyond is as steep as one pleases. */
  readonly slew: Greatest
}

/** How far around the roots of a response levels are looked at. */
const AROUND = 100

/** Of the search for a top between points: its level is known to the square of its place. */
const STEPS = 28

/** What is higher by less is as high: rounding makes many tops of what is level. */
const HIGHER = 1e-9

/**
 * How far every amplifier's output of a circuit swings at a sine at the input, and how steep it is there.
 *
 * @param signal V, peak, at the input
 * @param transfer the response, whose roots say where to look
 * @param band where the signal lies, Hz; left out, at any frequency
 * @param edge of the passband, Hz: how high a sine is asked for that is to be followed; left out, the highest root
 * @throws VoskelError as `formulate`
 */
export function amplifierLevels(
  circuit: Circuit,
  signal: number,
  transfer: TransferFunction,
  {
    input,
    band,
    edge,
  }: { readonly input?: string; readonly band?: readonly [from: number, to: number]; readonly edge?: number } = {},
): AmplifierLevel[] {
  const nets = NetMap.of(circuit)
  const amplifiers = circuit.parts.flatMap(({ id, kind, aside }) => {
    const net = kind === 'opamp' && aside === undefined ? nets.netOf(id, 'out') : null
    return net === null ? [] : [{ id, net }]
  })
  const sizes = [...transfer.poles, ...transfer.zeros].map(abs).filter((w) => w > 0)
  if (amplifiers.length === 0 || sizes.length === 0) return []
  const around = [Math.min(...sizes) / AROUND, Math.max(...sizes) * AROUND] as const
  const [low, high] = band ? ([2 * Math.PI * band[0], 2 * Math.PI * band[1]] as const) : around
  const steepest = edge !== undefined ? 2 * Math.PI * edge : band ? high : Math.max(...sizes)
  const outputs = new SignalAnalysis(
    smallSignal(formulate(circuit)),
    amplifiers.map(({ net }) => ({ op: 'v' as const, of: [net] })),
    { range: [low, high], ...(input !== undefined && { input }) },
  )
  const known = new Map<number, readonly number[]>()
  const levels = (w: number) => {
    const found = known.get(w) ?? outputs.points(w, false).map(({ value }) => signal * abs(value))
    known.set(w, found)
    return found
  }
  const grid = searchGrid(transfer, low, high, [steepest])
  return amplifiers.map(({ id }, k) => {
    const most = (f: (w: number, level: number) => number, to: number): Greatest => {
      const at = (w: number) => f(w, levels(w)[k])
      const within = grid.filter((w) => w <= to)
      const values = within.map(at)
      const highest = Math.max(...values)
      // Between the points a top may be higher by no more than it stands over its neighbours.
      const tops = values.flatMap((v, j) => {
        const [before, after] = [values[j - 1] ?? Infinity, values[j + 1] ?? Infinity]
        const isTop = v >= before && v >= after && 2 * v - Math.min(before, after) > (1 + HIGHER) * highest
        return isTop ? [leastBetween((w) => -at(w), within[j - 1], within[j + 1], STEPS)] : []
      })
      const omega = [within[values.indexOf(highest)], ...tops].reduce((a, b) => (at(b) > at(a) ? b : a))
      return { value: at(omega), at: omega / (2 * Math.PI) }
    }
    return { part: id, swing: most((_, level) => level, Infinity), slew: most((w, level) => w * level, steepest) }
  })
}

/** What a signal asks of the amplifiers of a design, and where it asks too much. */
export interface SignalDemand {
  readonly levels: readonly AmplifierLevel[]
  /** In sentences. */
  readonly remarks: readonly string[]
}

/** The demand of the `signal` that a realization names; null where it names none. */
export function signalDemand(
  spec: FilterSpec,
  circuit: Circuit,
  transfer: TransferFunction,
  input?: string,
): SignalDemand | null {
  const { signal, amplifier } = (spec.realization ?? {}) as { signal?: number; amplifier?: Amplifier }
  if (signal === undefined) return null
  // What follows a slope is meant for a band; without end it would swing as far as one pleases.
  const band = ownBand(spec)
  const levels = amplifierLevels(circuit, signal, transfer, {
    ...(input !== undefined && { input }),
    ...(band && { band }),
    // A band-pass's poles lie inside of its band, its zeros outside.
    ...(!isShaped(spec) && spec.response === 'bandpass' && { edge: spec.passband.edges[1] }),
  })
  const { swing, slew } = amplifier === undefined ? {} : amplifierNumbers(amplifier)
  const remarks = [
    ...beyond(levels, 'swing', swing, (most, end) => `would swing to ${most} where outputs end at ${end}`, 'V'),
    ...beyond(levels, 'slew', slew, (most, end) => `would need ${most} where amplifiers are limited to ${end}`, 'V/s'),
  ]
  return { levels, remarks }
}

/** A sentence on the amplifiers that are asked for more than a bound, the worst first; none where there are none. */
function beyond(
  levels: readonly AmplifierLevel[],
  what: 'swing' | 'slew',
  bound: number | undefined,
  says: (most: string, bound: string) => string,
  unit: string,
): string[] {
  const asked = levels.filter((l) => bound !== undefined && l[what].value > bound)
  const [worst, ...others] = asked.sort((a, b) => b[what].value - a[what].value)
  if (!worst) return []
  const q = (value: number) => formatQuantity(value, unit, 3)
  const rest = others.length > 0 ? `; beyond that, too: ${others.map((l) => l.part).join(', ')}` : ''
  return [`${worst.part} ${says(q(worst[what].value), q(bound!))}${rest}.`]
}

/** The same as numbers that bound the use of a realization. */
export const demandLimits = ({ levels }: SignalDemand): Limit[] =>
  levels.flatMap(({ part, swing, slew }) => [
    { id: `swing-${part}`, name: `Swing of ${part}`, value: swing.value, unit: 'V' },
    { id: `slew-${part}`, name: `Slew rate of ${part}`, value: slew.value, unit: 'V/s' },
  ])

/** The same as a step of how values were found. */
export function demandStep({ levels, remarks }: SignalDemand): FormulaStep {
  const q = (value: number, unit: string) => formatQuantity(value, unit, 4)
  const lines = levels.map(
    ({ part, swing, slew }) =>
      `${part} swings to ${q(swing.value, 'V')} at ${q(swing.at, 'Hz')}, and needs ${q(slew.value, 'V/s')} at ${q(slew.at, 'Hz')}`,
  )
  return { title: 'What the signal asks of the amplifiers', lines: [...lines, ...remarks], source: '' }
}
