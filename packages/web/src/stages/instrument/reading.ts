import {
  courseSpectrum,
  type Cursor,
  type CurvePoint,
  type CurveView,
  type DiagramAxis,
  formatQuantity,
  frequenciesWhere,
  MEASURES,
  slopeDbPerDecade,
  type TextbookValue,
  snapsOf,
  type TransferFunction,
  type ValueReading,
} from '@voskel/core'
import type { Mark } from '../../diagram/plot'
import { lagText } from '../../diagram/values'
import { readCurve, readOut } from '../../engine/curves'
import type { SweptCurve } from '../../engine/jobs/frequency'
import type { Sought } from '../../engine/jobs/reading'
import { maskMarks } from '../maskMarks'
import { judgedMask } from './judgedMask'
import { type Computed, type Over } from './Over'
import { valueAt } from './overTime'
import { isPlane } from './planeIds'

/** A number that is read at a cursor. */
export interface Cell {
  readonly id: CurveView | 'lag' | 'slope' | 'asymptote' | 'margin'
  readonly name: string
  readonly unit: string
  readonly value: number
}

/** A measure with its value. */
export interface MeasureRow {
  readonly path: string
  readonly name: string
  readonly unit: string
  readonly value: number
  /** The same by a textbook's formula, where there is one for it. */
  readonly textbook?: TextbookValue
}

/** The response of the output by its roots; null where nobody knows them. */
const transferOf = ({ roots, ideal, frequency, output }: Computed): TransferFunction | null =>
  roots?.transfer ?? (frequency?.curves.some((c) => c.signal === output) ? null : (ideal?.ideal.transfer ?? null))

/** Between which places a cursor of a side can stand, Hz or s. */
export const reachOf = (over: Over['id'], { range, window, begin }: Computed): readonly [from: number, to: number] =>
  over === 'frequency' ? [range.from, range.to] : [begin ?? 0, window]

/** Numbers that were solved on curves, by `nameOf`. */
export type Exact = ReadonlyMap<string, CurvePoint>
export const nameOf = (signal: string, at: number): string => `${at} ${signal}`

/** What a curve is of: the unit it is read in. */
function kindOf(signal: string, { frequency }: Computed): Pick<SweptCurve, 'unit' | 'isPower' | 'isLevel'> {
  return frequency?.curves.find((c) => c.signal === signal) ?? { unit: 'V', isPower: false, isLevel: false }
}

/** A signal at a frequency: solved where it has been, else by the curve that is drawn; null where there is none. */
function pointAt(computed: Computed, signal: string, at: number, exact?: Exact): CurvePoint | null {
  const solved = exact?.get(nameOf(signal, at))
  if (solved) return solved
  const swept = computed.frequency?.curves.find((c) => c.signal === signal)
  const h = signal === computed.output ? transferOf(computed) : null
  if (!h && !swept) return null
  const read = h ? readOut(h, at) : readCurve(swept!, at)
  const angle = (read.phase * Math.PI) / 180
  const size = swept?.isPower ? 10 ** (read.db / 10) : read.gain
  return {
    db: read.db,
    value: size,
    phase: read.phase,
    'phase-delay': -read.phase / 360 / at,
    delay: read.delay,
    re: swept?.isLevel ? read.re : size * Math.cos(angle),
    im: size * Math.sin(angle),
    slope: h ? slopeDbPerDecade(h, at) : NaN,
  }
}

/** Degrees, and dB a decade, that are rounding. */
const NO_TURN = 1e-9
const NO_SLOPE = 1e-9

/** What is read at a place of a curve, the output's where none is named; empty where there is none. */
export function cellsAt(
  over: Over['id'],
  computed: Computed,
  at: number,
  {
    signal = computed.output,
    exact,
  }: { readonly signal?: string | undefined; readonly exact?: Exact | undefined } = {},
): readonly Cell[] {
  if (over === 'time') {
    const found = valueAt(computed, at, signal)
    return found ? [{ id: 'value', name: 'value', ...found }] : []
  }
  const read = pointAt(computed, signal, at, exact)
  if (!read) return []
  const { unit, isLevel } = kindOf(signal, computed)
  if (isLevel) return [{ id: 're', name: 'value', unit, value: read.re }]
  const isRatio = unit === 'V' || unit === ''
  const isTurned = Math.abs(read.phase) > NO_TURN
  const cells: Cell[] = [
    isRatio
      ? { id: 'db', name: 'magnitude', unit: 'dB', value: read.db }
      : { id: 'value', name: 'magnitude', unit, value: read.value },
    { id: 'phase', name: 'phase', unit: '°', value: isTurned ? read.phase : 0 },
    // What stands later by so much of a period, s.
    { id: 'lag', name: 'lag', unit: 's', value: isTurned ? read['phase-delay'] : 0 },
    { id: 'delay', name: 'delay', unit: 's', value: read.delay },
  ]
  if (Number.isFinite(read.slope))
    cells.push({ id: 'slope', name: 'slope', unit: 'dB', value: Math.abs(read.slope) < NO_SLOPE ? 0 : read.slope })
  const far = signal === computed.output ? asymptoteAt(computed, at) : null
  if (far !== null) cells.push({ id: 'asymptote', name: 'asymptote', unit: 'dB', value: far })
  const margin = signal === computed.output ? marginAt(computed, at, read.db) : null
  if (margin !== null) cells.push({ id: 'margin', name: 'distance to the limit', unit: 'dB', value: margin })
  return cells
}

/** What curves are at a place, each in a few words. */
export function othersAt(
  over: Over['id'],
  computed: Computed,
  at: number,
  signals: readonly string[],
  exact?: Exact,
): readonly string[] {
  return signals.flatMap((signal) => {
    const cells = cellsAt(over, computed, at, { signal, exact }).filter((c) => c.id !== 'lag')
    const told = cells.slice(0, 2).map((c) => formatQuantity(c.value, c.unit))
    return told.length > 0 ? [`${signal} ${told.join(', ')}`] : []
  })
}

/** dB a decade of the straight line that the output's magnitude follows at a frequency; null where nobody knows its roots. */
function asymptoteAt(computed: Computed, frequency: number): number | null {
  const h = transferOf(computed)
  if (!h) return null
  const below = (roots: TransferFunction['poles']) =>
    roots.filter((r) => Math.hypot(r.re, r.im) < 2 * Math.PI * frequency).length
  return 20 * (below(h.zeros) - below(h.poles))
}

/** dB that the output keeps from the nearest limit of the mask at a frequency; negative inside of it, null where none is. */
function marginAt(computed: Computed, frequency: number, db: number): number | null {
  const parts = judgedMask(computed).filter(({ from, to }) => frequency >= from[0] && frequency <= to[0])
  if (parts.length === 0) return null
  return Math.min(...parts.map(({ from: [, low], to: [, high] }) => (low === -Infinity ? db - high : low - db)))
}

/** The edges of the bands that something is promised of, Hz. */
export function edgesOf({ spec, ideal, range }: Computed): readonly number[] {
  if (!spec) return []
  const ends = maskMarks(spec, ideal?.ideal ?? null, range).flatMap(({ from, to }) => [from[0], to[0]])
  return [...new Set(ends.filter((f) => f > range.from && f < range.to))].sort((a, b) => a - b)
}

/** Places on the response of a design that has no circuit yet, Hz, ascending. */
export function idealPlaces(computed: Computed, sought: Sought): readonly number[] {
  const h = transferOf(computed)
  if (!h) return []
  const reach = reachOf('frequency', computed)
  if ('snap' in sought) return snapsOf(h, sought.snap, ...reach)
  const { view, value } = sought
  return view === 'db' || view === 'phase' || view === 'delay' ? frequenciesWhere(h, view, value, ...reach) : []
}

/** Lines of the cursors, each with its name above and, where the curve is in the diagram's view, a point on it. */
export function cursorMarks(
  cursors: readonly Cursor[],
  value: (cursor: Cursor) => number | undefined,
  right = false,
): Mark[] {
  return cursors.flatMap((cursor): Mark[] => {
    const y = value(cursor)
    return [
      ...(right ? [] : [{ kind: 'flag', x: cursor.at, name: cursor.name } as const]),
      ...(y === undefined ? [] : [{ kind: 'point', at: [cursor.at, y], right } as const]),
    ]
  })
}

/** A straight line of some dB a decade through the place of a cursor on its curve, else through the cutoff; a decade to each side. */
export function rulerMarks(slope: number, computed: Computed, cursor: Cursor | null, exact?: Exact): Mark[] {
  const ac = computed.roots?.ac ?? computed.ideal?.ac
  const at = cursor?.at ?? ac?.cutoffs.at(-1) ?? Math.sqrt(computed.range.from * computed.range.to)
  const db = pointAt(computed, cursor?.on ?? computed.output, at, exact)?.db
  if (db === undefined || !Number.isFinite(db)) return []
  const text = `${String(slope).replace('-', '−')} dB a decade`
  return [
    { kind: 'line', from: [at / 10, db - slope], to: [at * 10, db + slope], ink: 'ink', dash: [8, 3] },
    { kind: 'text', at: [at * 10 ** 0.5, db + slope / 2], text, side: 'right', down: -12 },
  ]
}

/** What a view shows of the curve that a cursor stands on, where an axis has that curve. */
export function shownAt(
  axis: DiagramAxis,
  computed: Computed,
  { at, on = computed.output }: Cursor,
  exact?: Exact,
): number | undefined {
  if (!axis.signals.includes(on) || isPlane(axis.view)) return undefined
  const { isLevel } = kindOf(on, computed)
  const view = isLevel ? 're' : (axis.view as CurveView)
  const value = pointAt(computed, on, at, exact)?.[view]
  return value !== undefined && axis.wrapped && axis.view === 'phase' ? value - 360 * Math.round(value / 360) : value
}

/**
 * How the output answers to a sine once it has settled, in a sentence; null where it is driven by none. Where devices bend it, it is read
 * off the waveform's last period: the small signals' response says nothing of a large one.
 */
export function answerToSine(computed: Computed): string | null {
  const { frequency, source, bends } = computed.time ?? {}
  if (!frequency || !source) return null
  if (bends) return answerOfWaveform(computed)
  const cells = cellsAt('frequency', computed, frequency)
  const [db, phase, lag] = (['db', 'phase', 'lag'] as const).map((id) => cells.find((c) => c.id === id)?.value)
  if (db === undefined || phase === undefined || lag === undefined) return null
  const q = formatQuantity
  const times = `${plain(10 ** (db / 20))} times ${source} (${q(db, 'dB')})`
  return `Settled, at ${q(frequency, 'Hz')}: the output is ${times} and ${lagText(phase)}, ${q(Math.abs(lag), 's')}.`
}

function answerOfWaveform({ time, output }: Computed): string | null {
  const { frequency, source, sine, isSettled } = time!
  const course = time!.curves.find((c) => c.signal === output || c.signal === `v(${output})`)
  const spectrum = course && sine && sine.amplitude !== 0 ? courseSpectrum(course, frequency!, HARMONICS) : null
  const first = spectrum?.harmonics[1]
  if (!first || !sine) return null
  const q = formatQuantity
  const gain = first.amplitude / Math.abs(sine.amplitude)
  // A sine is a cosine 90° later; one of a negative amplitude stands half a turn apart.
  const ahead = first.phase + 90 - sine.phase + (sine.amplitude < 0 ? 180 : 0)
  const phase = ahead - 360 * Math.round(ahead / 360)
  const times = `${plain(gain)} times ${source} (${q(20 * Math.log10(gain), 'dB')})`
  const distortion = spectrum.distortionPercent === null ? '' : `, distortion ${q(spectrum.distortionPercent, '%', 3)}`
  const when = isSettled ? 'Settled' : 'In the last period shown'
  const lag = Math.abs(phase) / 360 / frequency!
  return `${when}, at ${q(frequency!, 'Hz')}: the output's fundamental is ${times} and ${lagText(phase)}, ${q(lag, 's')}${distortion}.`
}

/** Harmonics that distortion counts, the fundamental included. */
const HARMONICS = 9

/** What of two cursors is told: how far apart they are along x, and what their values differ by. */
export function differences(
  over: Over['id'],
  [a, b]: readonly [Cursor, Cursor],
  cells: (cursor: Cursor) => readonly Cell[],
): readonly string[] {
  const q = formatQuantity
  const along =
    over === 'frequency'
      ? [
          q(Math.abs(b.at - a.at) > ROUNDING * b.at ? b.at - a.at : 0, 'Hz'),
          `× ${plain(b.at / a.at)}`,
          `${plain(Math.log2(b.at / a.at))} octaves`,
          `${plain(Math.log10(b.at / a.at))} decades`,
        ]
      : [q(b.at - a.at, 's'), ...(b.at === a.at ? [] : [q(1 / Math.abs(b.at - a.at), 'Hz')])]
  const before = cells(a)
  const across = cells(b).flatMap((cell) => {
    const other = before.find((c) => c.id === cell.id && c.unit === cell.unit)
    if (!other || cell.id === 'slope' || cell.id === 'asymptote' || cell.id === 'margin') return []
    const by = cell.value - other.value
    // What is left of two equal numbers is rounding.
    const told = `${cell.name} ${q(Math.abs(by) > ROUNDING * Math.abs(cell.value) ? by : 0, cell.unit)}`
    const ratio = cell.id === 'value' && other.value !== 0 ? cell.value / other.value : null
    if (ratio === null) return [told]
    return [told, `× ${plain(ratio)}`, ...(ratio > 0 ? [q(20 * Math.log10(ratio), 'dB')] : [])]
  })
  return [...along, ...across]
}

/** The least and the greatest of a curve between two cursors, as they can be promised; empty where they stand on no curve. */
export function extremesBetween(
  [a, b]: readonly [Cursor, Cursor],
  computed: Computed,
): { take: 'least' | 'greatest'; of: ValueReading }[] {
  const signal = a.on ?? computed.output
  const curve = computed.frequency?.curves.find((c) => c.signal === signal)
  const [from, to] = [Math.min(a.at, b.at), Math.max(a.at, b.at)]
  if (!curve || !(to > from)) return []
  const as = curve.isLevel ? 're' : curve.unit === 'V' || curve.unit === '' ? 'db' : 'abs'
  return (['least', 'greatest'] as const).map((take) => ({
    take,
    of: { signal, from, to, over: 'frequency', as, take },
  }))
}

/** Relative difference of two numbers that are the same. */
const ROUNDING = 1e-12

/** A number without a unit, in digits that one says. */
const plain = (value: number) => String(Number(value.toPrecision(4))).replace('-', '−')

/** What a promise of a cell at a frequency reads; null where there is no such promise. */
export function readingOf(cell: Cell['id'], signal: string, frequency: number): ValueReading | null {
  const as = ({ db: 'db', phase: 'deg', value: 'abs', re: 're', im: 'im' } as const)[cell as 'db']
  return as ? { signal, frequency, as } : null
}

/** Everything that was measured of a side, each with its number. */
export function measuresOf(over: Over['id'], { roots, ideal }: Computed): readonly MeasureRow[] {
  const found = { ac: roots?.ac ?? ideal?.ac, step: roots?.step ?? ideal?.step }
  return MEASURES.flatMap(({ path, name, unit, shown }): MeasureRow[] => {
    if (shown !== over) return []
    const steps = path.replace('[n]', '').split('.')
    const value = steps.reduce<unknown>((at, step) => (at as Record<string, unknown> | undefined)?.[step], found)
    const all = (Array.isArray(value) ? value : [value]) as readonly unknown[]
    return all.flatMap((v, k) => {
      if (typeof v !== 'number' || !Number.isFinite(v)) return []
      const many = path.endsWith('[n]')
      const own = path.replace('[n]', `[${k}]`)
      const known = roots?.textbook.find((t) => t.path === own)
      return [
        {
          path: own,
          name: many && all.length > 1 ? `${name} ${k + 1}` : name,
          unit,
          value: v,
          ...(known && { textbook: known }),
        },
      ]
    })
  })
}
