import {
  type Cursor,
  formatQuantity,
  frequenciesWhere,
  MEASURES,
  nearestOf,
  nextOf,
  type Snap,
  slopeDbPerDecade,
  snapsOf,
  type TransferFunction,
  type ValueReading,
  type View,
} from '@voskel/core'
import type { Mark } from '../../diagram/plot'
import { lagText } from '../../diagram/values'
import { readCurve, readOut } from '../../engine/curves'
import { type Computed, type Over } from './Over'
import { valueAt } from './overTime'

/** A number that is read at a cursor. */
export interface Cell {
  readonly id: View | 'lag' | 'slope' | 'value'
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
}

/** The response of the output by its roots; null where nobody knows them. */
const transferOf = ({ roots, ideal, frequency, output }: Computed): TransferFunction | null =>
  roots?.transfer ?? (frequency?.curves.some((c) => c.signal === output) ? null : (ideal?.ideal.transfer ?? null))

/** Whether places on the output's curve can be solved. */
export const canSolve = (computed: Computed): boolean => transferOf(computed) !== null

/** Between which places a cursor of a side can stand, Hz or s. */
export const reachOf = (over: Over['id'], { range, window }: Computed): readonly [from: number, to: number] =>
  over === 'frequency' ? [range.from, range.to] : [0, window]

/** What is read at a place of the output's curve; empty where there is none. */
export function cellsAt(over: Over['id'], computed: Computed, at: number): readonly Cell[] {
  if (over === 'time') {
    const found = valueAt(computed, at)
    return found ? [{ id: 'value', name: 'value', ...found }] : []
  }
  const h = transferOf(computed)
  const swept = computed.frequency?.curves.find((c) => c.signal === computed.output)
  const read = h ? readOut(h, at) : swept && readCurve(swept, at)
  if (!read) return []
  return [
    { id: 'db', name: 'magnitude', unit: 'dB', value: read.db },
    { id: 'phase', name: 'phase', unit: '°', value: read.phase },
    // What stands later by so much of a period, s.
    { id: 'lag', name: 'lag', unit: 's', value: -read.phase / 360 / at },
    { id: 'delay', name: 'delay', unit: 's', value: read.delay },
    ...(h ? [{ id: 'slope' as const, name: 'slope', unit: 'dB', value: slopeDbPerDecade(h, at) }] : []),
  ]
}

/** The place nearest to a cursor at which the curve has a value; null where it has it nowhere in view, or nobody knows its roots. */
export function placeWhere(computed: Computed, view: View, value: number, near: number): number | null {
  const h = transferOf(computed)
  return h ? nearestOf(frequenciesWhere(h, view, value, ...reachOf('frequency', computed)), near) : null
}

/** The next place of a kind, from a cursor on. */
export function placeOfSnap(computed: Computed, snap: Snap, from: number): number | null {
  const h = transferOf(computed)
  return h ? nextOf(snapsOf(h, snap, ...reachOf('frequency', computed)), from) : null
}

/** Lines of the cursors, each with its name above and, where the curve is in the diagram's view, a point on it. */
export function cursorMarks(
  cursors: readonly Cursor[],
  cells: (at: number) => readonly Cell[],
  view: Cell['id'],
): Mark[] {
  return cursors.flatMap(({ name, at }): Mark[] => {
    const value = cells(at).find((c) => c.id === view)?.value
    return [
      { kind: 'flag', x: at, name },
      ...(value === undefined ? [] : [{ kind: 'point', at: [at, value] } as const]),
    ]
  })
}

/** How the output answers to a sine once it has settled, in a sentence; null where it is driven by none. */
export function answerToSine(computed: Computed): string | null {
  const { frequency, source } = computed.time ?? {}
  if (!frequency || !source) return null
  const cells = cellsAt('frequency', computed, frequency)
  const [db, phase, lag] = (['db', 'phase', 'lag'] as const).map((id) => cells.find((c) => c.id === id)?.value)
  if (db === undefined || phase === undefined || lag === undefined) return null
  const q = formatQuantity
  const times = `${plain(10 ** (db / 20))} times ${source} (${q(db, 'dB')})`
  return `Settled, at ${q(frequency, 'Hz')}: the output is ${times} and ${lagText(phase)}, ${q(Math.abs(lag), 's')}.`
}

/** What of two cursors is told: how far apart they are along x, and what their values differ by. */
export function differences(
  over: Over['id'],
  [a, b]: readonly [Cursor, Cursor],
  cells: (at: number) => readonly Cell[],
): readonly string[] {
  const q = formatQuantity
  const along =
    over === 'frequency'
      ? [
          q(b.at - a.at, 'Hz'),
          `× ${plain(b.at / a.at)}`,
          `${plain(Math.log2(b.at / a.at))} octaves`,
          `${plain(Math.log10(b.at / a.at))} decades`,
        ]
      : [q(b.at - a.at, 's'), ...(b.at === a.at ? [] : [q(1 / Math.abs(b.at - a.at), 'Hz')])]
  const before = cells(a.at)
  const across = cells(b.at).flatMap((cell) => {
    const other = before.find((c) => c.id === cell.id)
    if (!other || cell.id === 'slope') return []
    const by = cell.value - other.value
    // What is left of two equal numbers is rounding.
    return [`${cell.name} ${q(Math.abs(by) > ROUNDING * Math.abs(cell.value) ? by : 0, cell.unit)}`]
  })
  return [...along, ...across]
}

/** Relative difference of two numbers that are the same. */
const ROUNDING = 1e-12

/** A number without a unit, in digits that one says. */
const plain = (value: number) => String(Number(value.toPrecision(4))).replace('-', '−')

/** What a promise of a cell at a frequency reads; null where there is no such promise. */
export function readingOf(cell: Cell['id'], { output }: Computed, frequency: number): ValueReading | null {
  const as = cell === 'db' ? 'db' : cell === 'phase' ? 'deg' : null
  return as && { signal: output, frequency, as }
}

/** A root, or a pair of them: where it is, and how sharp. */
export interface RootRow {
  readonly kind: 'pole' | 'zero'
  /** Hz: its distance from the origin over 2π. */
  readonly frequency: number
  /** Of a pair; null of a real one, and of one on the axis. */
  readonly q: number | null
  readonly re: number
  readonly im: number
}

/** The poles and finite zeros of the output, each pair once, by frequency. */
export function rootsOf({ roots, ideal }: Computed): readonly RootRow[] {
  const h = roots?.transfer ?? ideal?.ideal.transfer
  if (!h) return []
  const rows = (kind: RootRow['kind'], list: TransferFunction['poles']) =>
    list.flatMap(({ re, im }): RootRow[] => {
      const size = Math.hypot(re, im)
      return im < 0
        ? []
        : [{ kind, frequency: size / (2 * Math.PI), q: im > 0 && re !== 0 ? size / (-2 * re) : null, re, im }]
    })
  return [...rows('pole', h.poles), ...rows('zero', h.zeros)].sort(
    (a, b) => Number(a.kind === 'zero') - Number(b.kind === 'zero') || a.frequency - b.frequency,
  )
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
      return [
        {
          path: path.replace('[n]', `[${k}]`),
          name: many && all.length > 1 ? `${name} ${k + 1}` : name,
          unit,
          value: v,
        },
      ]
    })
  })
}
