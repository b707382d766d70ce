import Papa from 'papaparse'
import { VoskelError } from '../errors/VoskelError.js'

/** Rows beyond which a table is refused rather than held in memory. */
const MOST_ROWS = 2_000_000

/**
 * Two columns of numbers from a text table (RFC 4180; also semicolons, tabs or spaces between, and a comma in the number
 * where columns are not divided by one). A line of words above the numbers may name the columns.
 *
 * @param options.column which column holds the values: its name, or its number from 1; the second when left out
 * @returns points [first column, value]
 * @throws VoskelError `TABLE_INVALID` with the line
 */
export function readTable(text: string, options: { column?: string } = {}): [number, number][] {
  const { data, errors } = Papa.parse<string[]>(text.replace(/^\ufeff/, ''), {
    comments: '#',
    skipEmptyLines: 'greedy',
    delimitersToGuess: [';', '\t', ',', '|', ' '],
  })
  const broken = errors.find((e) => e.type === 'Quotes')
  if (broken) throw invalid((broken.row ?? 0) + 1, 'a quotation mark is not closed', 'Close it, or remove it.')
  if (data.length > MOST_ROWS)
    throw invalid(MOST_ROWS + 1, `it has more than ${MOST_ROWS} rows`, 'Give fewer, for example every tenth.')
  const numbers = data.map((row) => row.filter((cell, k) => cell !== '' || k < row.length - 1).map(numberOf))
  const head = numbers.length > 0 && numbers[0].every((v) => Number.isNaN(v)) ? data[0].map((c) => c.trim()) : null
  const place = columnOf(options.column, head, Math.max(0, ...data.map((row) => row.length)))
  const rows = head ? numbers.slice(1) : numbers
  if (rows.length === 0) throw invalid(1, 'it holds no numbers', 'Give two columns: time in seconds, then the value.')
  return rows.map((row, k): [number, number] => {
    const [x, y] = [row[0], row[place]]
    if (Number.isFinite(x) && Number.isFinite(y)) return [x, y]
    const line = k + (head ? 2 : 1)
    const cell = data[line - 1][Number.isFinite(x) ? place : 0]
    throw invalid(
      line,
      cell === undefined ? `column ${place + 1} is missing` : `"${cell}" is not a number`,
      'Give numbers in SI units, such as 1e-6.',
    )
  })
}

/** A cell as a number; a comma stands for the point where it is the only mark. */
function numberOf(cell: string): number {
  const text = cell.trim()
  if (text === '') return Number.NaN
  return Number(/^[^.,]*,[^.,]*$/.test(text) ? text.replace(',', '.') : text)
}

function columnOf(wanted: string | undefined, head: readonly string[] | null, columns: number): number {
  if (wanted === undefined) {
    if (columns >= 2) return 1
    throw invalid(1, 'it has one column', 'Give two: time in seconds, then the value.')
  }
  const named = head?.findIndex((name) => name.toLowerCase() === wanted.toLowerCase()) ?? -1
  const place = named >= 0 ? named : Number(wanted) - 1
  if (Number.isInteger(place) && place >= 1 && place < columns) return place
  throw invalid(
    1,
    `it has no column "${wanted}" after the first`,
    head ? `Its columns are: ${head.join(', ')}.` : `It has ${columns} columns without names.`,
  )
}

function invalid(row: number, problem: string, fix: string): VoskelError {
  return new VoskelError('TABLE_INVALID', { row, problem, fix }, { line: row, column: 1 })
}
