import Papa from 'papaparse'
import { VoskelError } from '../../errors/VoskelError.js'
import { parseQuantity } from '../../quantity/parseQuantity.js'

/** What may stand between two columns; a blank stands for any number of blanks and tabs. */
export const DELIMITERS = [';', '\t', ',', '|', ' '] as const
export type Delimiter = (typeof DELIMITERS)[number]
export type DecimalMark = '.' | ','

/** How a table of numbers is written. */
export interface TableLayout {
  readonly delimiter: Delimiter
  readonly decimal: DecimalMark
  /** Line on which the numbers begin, from 1. */
  readonly begin: number
  /** What stands above each column; empty where nothing does. */
  readonly heads: readonly string[]
  /** The first rows, as they stand. */
  readonly rows: readonly (readonly string[])[]
}

/** Lines that are looked at, and rows that are shown. */
const LOOKED_AT = 400
const SHOWN_ROWS = 8

/** Rows in a row that must be numbers, where nobody says otherwise. */
const ENOUGH = 3

/** Signs that begin a remark. */
const REMARK = /^\s*[#!%]+\s*/

/**
 * How a table is written: which pair of column and decimal marks makes most lines numbers, and what stands above these.
 *
 * @param wanted marks that somebody has said
 * @param enough rows after each other that must be numbers where these begin
 * @throws VoskelError `TABLE_INVALID` where no two columns of numbers are found
 */
export function layoutOf(
  text: string,
  wanted: Partial<Pick<TableLayout, 'delimiter' | 'decimal'>> = {},
  enough = ENOUGH,
): TableLayout {
  const lines = firstLines(text, LOOKED_AT)
  const tried = DELIMITERS.flatMap((delimiter) =>
    (['.', ','] as const).flatMap((decimal) => {
      const isWanted = delimiter === (wanted.delimiter ?? delimiter) && decimal === (wanted.decimal ?? decimal)
      if (!isWanted || (delimiter === decimal && !lines.some((l) => l.includes('"')))) return []
      const cells = lines.map((line) => cellsOf(line, delimiter))
      const begin = beginOf(cells, decimal, enough)
      const width = begin < 0 ? 0 : cells[begin].length
      const count = cells.filter(
        (row, k) => k >= begin && row.length === width && row.every((c) => isNumber(c, decimal)),
      )
      return [{ delimiter, decimal, cells, width, begin, count: begin < 0 ? 0 : count.length }]
    }),
  )
  const best = tried.reduce<(typeof tried)[number] | null>((a, b) => (b.count > (a?.count ?? 0) ? b : a), null)
  if (!best) throw noNumbers(lines)
  return {
    delimiter: best.delimiter,
    decimal: best.decimal,
    begin: best.begin + 1,
    heads: headsOf(best.cells.slice(0, best.begin), best.width),
    rows: best.cells
      .slice(best.begin)
      .filter((row) => row.length > 0)
      .slice(0, SHOWN_ROWS),
  }
}

function firstLines(text: string, most: number): string[] {
  const lines: string[] = []
  for (const { line } of linesOf(text)) {
    lines.push(line)
    if (lines.length === most) break
  }
  return lines
}

/** Lines of a text, ended by a line feed, a carriage return or both, and where each one's end lies. */
export function* linesOf(text: string): Generator<{ readonly line: string; readonly end: number }> {
  let at = text.charCodeAt(0) === 0xfeff ? 1 : 0
  let [feed, back] = [-2, -2]
  while (at < text.length) {
    if (feed !== -1 && feed < at) feed = text.indexOf('\n', at)
    if (back !== -1 && back < at) back = text.indexOf('\r', at)
    const end = Math.min(feed < 0 ? text.length : feed, back < 0 ? text.length : back)
    yield { line: text.slice(at, end), end }
    at = end + (end === back && feed === end + 1 ? 2 : 1)
  }
}

/** Cells of a line, without blanks around them; empty ones at the end are left out. */
export function cellsOf(line: string, delimiter: Delimiter): string[] {
  let cells: string[]
  if (delimiter === ' ') cells = line.trim() === '' ? [] : line.trim().split(/\s+/)
  else if (line.includes('"')) cells = (Papa.parse<string[]>(line, { delimiter }).data[0] ?? []).map((c) => c.trim())
  else cells = line.split(delimiter).map((c) => c.trim())
  while (cells.length > 0 && cells.at(-1) === '') cells.pop()
  return cells
}

const isNumber = (cell: string, decimal: DecimalMark): boolean => Number.isFinite(numberOf(cell, decimal))

/** A number with a prefix behind it, as 4.7k; a minus sign as typesetters write it. */
const TYPED = /^[-+\u2212]?\d*[.,]?\d+(\s*[a-zA-Zµμ]|$)/

/** A cell as a number, NaN where it is none; it may have a prefix, as 4.7k. */
export function numberOf(cell: string, decimal: DecimalMark): number {
  const plain = plainNumber(cell, decimal)
  if (!Number.isNaN(plain) || !TYPED.test(cell) || (decimal === ',' ? cell.includes('.') : cell.includes(',')))
    return plain
  try {
    return parseQuantity(cell.replace(',', '.'))
  } catch (error) {
    if (error instanceof VoskelError) return NaN
    throw error
  }
}

/** A D before the exponent, as Fortran writes it. */
const FORTRAN = /^[-+]?(\d+\.?\d*|\.\d+)[dD][-+]?\d+$/

/** Points between thousands are taken out where the decimal mark is a comma. */
function plainNumber(cell: string, decimal: DecimalMark): number {
  if (cell === '' || (cell.charCodeAt(1) | 32) === LETTER_X) return NaN
  if (decimal === '.') return Number(FORTRAN.test(cell) ? cell.replace(/d/i, 'e') : cell)
  const bare = /^[+-]?\d{1,3}(\.\d{3})+,/.test(cell) ? cell.replaceAll('.', '') : cell
  return bare.includes('.') ? NaN : plainNumber(bare.replace(',', '.'), '.')
}
const LETTER_X = 120

/** Index of the line on which the numbers begin; −1 where none do. */
function beginOf(cells: readonly (readonly string[])[], decimal: DecimalMark, enough: number): number {
  const filled = cells.flatMap((row, k) => (row.length === 0 ? [] : [k]))
  const numbers = (k: number) => cells[k].filter((c) => isNumber(c, decimal)).length
  const isWhole = (k: number) => cells[k].length >= 2 && numbers(k) === cells[k].length
  const first = filled.findIndex((k, j) =>
    filled.slice(j, j + enough).every((other) => isWhole(other) && cells[other].length === cells[k].length),
  )
  if (first < 0) return -1
  // A row that cannot be read above is no name: it lies below a row of numbers, or right below the names.
  let begin = first
  for (let j = first - 1; j >= 0 && cells[filled[j]].length === cells[filled[first]].length; j--) {
    const isBelowNames =
      j === begin - 1 && numbers(filled[j]) > 0 && j > 0 && isNames(cells[filled[j - 1]], cells[filled[j]])
    if (isWhole(filled[j]) || isBelowNames) begin = j
  }
  return filled[begin]

  function isNames(row: readonly string[], below: readonly string[]): boolean {
    return row.length === below.length && row.every((c) => !isNumber(c, decimal))
  }
}

/** What the last lines above the numbers call the columns: names, and units where a line of their own has them. */
function headsOf(above: readonly (readonly string[])[], width: number): string[] {
  const asWide = above.filter((cells) => cells.length === width)
  // A remark of as many words is no name of a column, where there are others.
  const named = asWide.filter((cells) => !REMARK.test(cells[0]))
  const whole = (named.length > 0 ? named : asWide)
    .map((cells) => cells.map((c, k) => (k === 0 ? c.replace(REMARK, '') : c).replace(GUARD, '')))
    .slice(-2)
  const [first, second] = whole
  if (!first) return Array.from({ length: width }, () => '')
  // Two lines of the same width: names and below them units.
  if (second && second.every((c) => c.length <= MOST_UNIT))
    return first.map((c, k) => (second[k] ? `${c} (${bracketless(second[k])})` : c))
  return [...whole.at(-1)!]
}

/** What keeps a spreadsheet from computing a name, as our own tables have it. */
const GUARD = /^'(?=[=+\-@])/

/** Letters of a unit. */
const MOST_UNIT = 8
const bracketless = (text: string) => text.replace(/^[([]|[)\]]$/g, '')

function noNumbers(lines: readonly string[]): VoskelError {
  const row = lines.findIndex((l) => l.trim() !== '') + 1 || 1
  return new VoskelError(
    'TABLE_INVALID',
    {
      row,
      problem: 'no two columns of numbers are found from here on',
      fix: 'Give at least two columns, frequency or time first or named, divided by commas, semicolons, tabs or blanks.',
    },
    { line: row, column: 1 },
  )
}
