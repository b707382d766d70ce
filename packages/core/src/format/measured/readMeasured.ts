import { VoskelError } from '../../errors/VoskelError.js'
import type { Samples } from '../../fit/Samples.js'
import { GrowableArray } from '../../numeric/growable.js'
import { type ColumnChoice, columnMeaning, DB, DB_LOSS, unitOfColumn } from './columns.js'
import { cellsOf, type DecimalMark, linesOf, numberOf, type TableLayout } from './layout.js'

/** Rows beyond which a table is refused rather than held in memory. */
export const MOST_ROWS = 5_000_000

/** Rows that are read between two words of progress. */
const SLICE = 20_000

/** Lines that are named one by one. */
const NAMED_LINES = 5

/** One curve of a table. */
export interface MeasuredCurve {
  /** What the table calls it; empty where it has no name. */
  readonly name: string
  /** SI unit of a magnitude or a value; empty for dB and factors. */
  readonly unit: string
  readonly samples: Samples
}

export interface MeasuredTable {
  readonly curves: readonly MeasuredCurve[]
  readonly rows: number
  /** What was assumed, in sentences. */
  readonly notes: readonly string[]
}

export interface MeasuredProgress {
  /** Part of the text that has been read, 0 … 1. */
  readonly part: number
  readonly rows: number
}

export interface ReadOptions {
  readonly layout: TableLayout
  /** One a column. */
  readonly columns: readonly ColumnChoice[]
  /** Rows that cannot be read are left out, and told. */
  readonly leaveOut?: boolean
}

/** As `readingMeasured`, all at once. */
export function readMeasured(text: string, options: ReadOptions): MeasuredTable {
  const run = readingMeasured(text, options)
  for (;;) {
    const next = run.next()
    if (next.done) return next.value
  }
}

/**
 * The curves of a table by what its columns hold, in SI units by ascending frequency or time. Rows in another order are sorted, rows of
 * one frequency or time are averaged, and both are told.
 *
 * @throws VoskelError `TABLE_INVALID` with the line, where a row cannot be read or the columns make no curve
 */
export function* readingMeasured(
  text: string,
  { layout, columns, leaveOut = false }: ReadOptions,
): Generator<MeasuredProgress, MeasuredTable> {
  const plan = planOf(columns)
  const used = columns.flatMap(({ meaning }, k) => (meaning === 'none' ? [] : [k]))
  const values = new Map(used.map((k) => [k, new GrowableArray()]))
  const notes: string[] = []
  const bad: number[] = []
  let row = 0
  let [line, sorted, repeated, zero] = [0, 0, 0, 0]
  let last = -Infinity
  const read = new Float64Array(columns.length)
  for (const { line: whole, end } of linesOf(text)) {
    line++
    if (line >= layout.begin) {
      const problem = readRow(whole, layout, columns, used, read)
      if (typeof problem === 'function') {
        if (!leaveOut) throw problem(line)
        bad.push(line)
      } else if (problem === null) {
        const x = read[plan.x]
        if (plan.over === 'frequency' && x === 0) zero ||= line
        else {
          if (x < last) sorted ||= line
          if (x === last) repeated ||= line
          last = x
          for (const k of used) values.get(k)!.push(read[k])
          row++
        }
      }
      if (row > MOST_ROWS)
        throw invalid(line, `it has more than ${MOST_ROWS} rows`, 'Give fewer, for example every tenth.')
      if (line % SLICE === 0) yield { part: end / text.length, rows: row }
    }
  }
  if (row === 0) throw invalid(layout.begin, 'no row can be read', 'Look at what the columns are said to hold.')
  if (bad.length > 0)
    notes.push(
      `${bad.length === 1 ? 'Line' : 'Lines'} ${listed(bad)} could not be read and ${bad.length === 1 ? 'is' : 'are'} left out.`,
    )
  if (zero) notes.push(`Line ${zero} is at 0 Hz, which has no place among decades; it is left out.`)
  if (sorted) notes.push(`Line ${sorted} goes back: the rows are sorted.`)
  const all = new Map([...values].map(([k, v]) => [k, v.toArray()]))
  const order = sorted ? sortedBy(all.get(plan.x)!) : null
  const { first, length } = groupsOf(all.get(plan.x)!, order)
  if (length < row)
    notes.push(
      `${repeated ? `Line ${repeated} repeats the one before it` : 'Some rows repeat another'} (${row - length} in all): their mean is taken.`,
    )
  const columnOf = (k: number) =>
    averaged(all.get(k)!, order, first, length, columns[k].meaning === 'phase' ? TURN : Infinity)
  const x = columnOf(plan.x)
  return { curves: plan.curves.map((curve) => curveOf(curve, x, plan.over, columns, columnOf)), rows: row, notes }
}

/** A row without anything in it. */
const EMPTY = Symbol('empty')
type Problem = (line: number) => VoskelError

/** Reads a row's numbers in SI units, levels in dB; a problem where it cannot be read. */
function readRow(
  line: string,
  { delimiter, decimal }: TableLayout,
  columns: readonly ColumnChoice[],
  used: readonly number[],
  into: Float64Array,
): Problem | typeof EMPTY | null {
  const cells = cellsOf(line, delimiter)
  if (cells.length === 0 || (cells.length === 1 && cells[0] === '\u001a')) return EMPTY
  for (const k of used) {
    const cell = cells[k]
    const name = columns[k].name || `${k + 1}`
    if (cell === undefined || cell === '')
      return (at) =>
        invalid(at, `column ${name} is missing`, `Give ${columns.length} columns in every row, or leave this row out.`)
    const number = numberOf(cell, decimal)
    if (!Number.isFinite(number))
      return (at) => invalid(at, `"${shortened(cell)}" in column ${name} is not a number`, decimalHint(cell, decimal))
    const problem = inSi(columns[k], number)
    if (typeof problem === 'string')
      return (at) => invalid(at, `${problem} in column ${name}`, 'Choose another meaning or unit for the column.')
    into[k] = problem
  }
  return null
}

const shortened = (cell: string) => (cell.length > 24 ? `${cell.slice(0, 24)}…` : cell)

function decimalHint(cell: string, decimal: DecimalMark): string {
  if (decimal === '.' && /^[+-]?\d+,\d+$/.test(cell)) return 'Choose the comma as decimal mark, or write a point.'
  if (decimal === ',' && /^[+-]?\d+\.\d+$/.test(cell)) return 'Choose the point as decimal mark, or write a comma.'
  return 'Give numbers such as 1.5e-6, or leave rows out that cannot be read.'
}

/** In SI units, magnitudes in dB, phases in degrees; a sentence where that is impossible. */
function inSi(column: ColumnChoice, number: number): number | string {
  const { meaning } = column
  const { name, factor } = unitOfColumn(column)
  if (meaning === 'magnitude' && name !== DB && name !== DB_LOSS) {
    if (number < 0) return `a magnitude of ${number} is negative`
    if (number === 0) return 'a magnitude of 0 has no level'
    return 20 * Math.log10(number * factor)
  }
  if (meaning === 'frequency' && number < 0) return `a frequency of ${number} is negative`
  return number * factor
}

/** Which columns make a curve. */
interface CurvePlan {
  readonly db?: number
  readonly phase?: number
  readonly re?: number
  readonly im?: number
  readonly value?: number
}

function planOf(columns: readonly ColumnChoice[]): {
  x: number
  over: 'frequency' | 'time'
  curves: readonly CurvePlan[]
} {
  const places = (id: ColumnChoice['meaning']) => columns.flatMap(({ meaning }, k) => (meaning === id ? [k] : []))
  const [frequencies, times] = [places('frequency'), places('time')]
  if (frequencies.length + times.length !== 1)
    throw invalid(
      1,
      frequencies.length + times.length === 0
        ? 'no column is frequency or time'
        : 'more than one column is frequency or time',
      'Say of one column that it is frequency or time.',
    )
  const over = frequencies.length > 0 ? 'frequency' : 'time'
  const curves: CurvePlan[] = []
  columns.forEach(({ meaning, name }, k) => {
    const last = curves.at(-1)
    const called = name ? `"${name}"` : `column ${k + 1}`
    const stray = (fix: string) =>
      invalid(1, `${called} is a ${columnMeaning(meaning).name.toLowerCase()} over ${over}`, fix)
    if (meaning === 'value') {
      if (over === 'frequency')
        throw stray('Over frequency a column is a magnitude, a phase, or a real or imaginary part.')
      curves.push({ value: k })
    } else if (meaning !== 'frequency' && meaning !== 'time' && meaning !== 'none') {
      if (over === 'time') throw stray('Over time a column is a value.')
      // A phase belongs to the magnitude before it, an imaginary part to the real one.
      if (meaning === 'magnitude') curves.push({ db: k })
      else if (meaning === 're') curves.push({ re: k })
      else if (meaning === 'phase') {
        if (last && last.db !== undefined && last.phase === undefined) curves[curves.length - 1] = { ...last, phase: k }
        else curves.push({ phase: k })
      } else if (last && last.re !== undefined && last.im === undefined) curves[curves.length - 1] = { ...last, im: k }
      else throw stray('Put the real part before it, or say what it is.')
    }
  })
  const half = curves.find((c) => c.re !== undefined && c.im === undefined)
  if (half)
    throw invalid(
      1,
      'a real part has no imaginary part beside it',
      'Say which column it is, or take it as a magnitude.',
    )
  if (curves.length === 0)
    throw invalid(
      1,
      `nothing was measured over ${over}`,
      `Say of a column that it is ${over === 'time' ? 'a value' : 'a magnitude or a phase'}.`,
    )
  // A phase that stands before its magnitude.
  const merged = curves.length === 2 && isLone(curves[0], 'phase') && isLone(curves[1], 'db')
  return { x: [...frequencies, ...times][0], over, curves: merged ? [{ ...curves[0], ...curves[1] }] : curves }
}

const isLone = (curve: CurvePlan, field: keyof CurvePlan): boolean =>
  curve[field] !== undefined && Object.keys(curve).length === 1

function curveOf(
  plan: CurvePlan,
  x: Float64Array,
  over: 'frequency' | 'time',
  columns: readonly ColumnChoice[],
  columnOf: (k: number) => Float64Array,
): MeasuredCurve {
  const main = plan.db ?? plan.re ?? plan.value ?? plan.phase!
  const { si = '' } = unitOfColumn(columns[main])
  const unit = plan.phase === main ? '' : si
  const name = columns[main].name
  if (over === 'time') return { name, unit, samples: { over, x, value: columnOf(plan.value!) } }
  if (plan.re !== undefined) return { name, unit, samples: { over, x, re: columnOf(plan.re), im: columnOf(plan.im!) } }
  return {
    name,
    unit,
    samples: {
      over,
      x,
      ...(plan.db !== undefined && { db: columnOf(plan.db) }),
      ...(plan.phase !== undefined && { phase: columnOf(plan.phase) }),
    },
  }
}

/** Rows by ascending x; those of one x in their order. */
function sortedBy(x: Float64Array): Uint32Array {
  return Uint32Array.from(x.keys()).sort((a, b) => x[a] - x[b] || a - b)
}

/** Where each group of rows of one x begins. */
function groupsOf(x: Float64Array, order: Uint32Array | null): { first: Uint32Array; length: number } {
  const first = new Uint32Array(x.length + 1)
  let length = 0
  for (let k = 0; k < x.length; k++) {
    const at = (j: number) => x[order ? order[j] : j]
    if (k === 0 || at(k) !== at(k - 1)) first[length++] = k
  }
  first[length] = x.length
  return { first, length }
}

/** Degrees after which a phase is what it was. */
const TURN = 360

/**
 * A column in order, each group of rows by its mean.
 *
 * @param turn what may be added to a value without changing it: those of a group are taken on the turn of its first
 */
function averaged(
  values: Float64Array,
  order: Uint32Array | null,
  first: Uint32Array,
  length: number,
  turn: number,
): Float64Array {
  if (!order && length === values.length) return values
  const result = new Float64Array(length)
  for (let g = 0; g < length; g++) {
    const at = (k: number) => values[order ? order[k] : k]
    const begin = at(first[g])
    let sum = 0
    for (let k = first[g]; k < first[g + 1]; k++) {
      const off = at(k) - begin
      sum += turn < Infinity ? off - turn * Math.round(off / turn) : off
    }
    result[g] = begin + sum / (first[g + 1] - first[g])
  }
  return result
}

function listed(lines: readonly number[]): string {
  const shown = lines.slice(0, NAMED_LINES).join(', ')
  return lines.length > NAMED_LINES ? `${shown} and ${lines.length - NAMED_LINES} more` : shown
}

function invalid(row: number, problem: string, fix: string): VoskelError {
  return new VoskelError('TABLE_INVALID', { row, problem, fix }, { line: row, column: 1 })
}
