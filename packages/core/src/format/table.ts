import { VoskelError } from '../errors/VoskelError.js'
import { guessColumns, unitOfColumn } from './measured/columns.js'
import { cellsOf, layoutOf, linesOf, numberOf } from './measured/layout.js'

/** Rows beyond which a table is refused rather than held in memory. */
const MOST_ROWS = 2_000_000

/**
 * Two columns of numbers from a text table, read as measured data are: commas, semicolons, tabs or blanks between, a point or
 * a comma in numbers, names above the columns with their units. The first column is the time.
 *
 * @param options.column which column holds the values: its name, or its number from 1; the second when left out
 * @returns points [first column, value] in SI units, in their order
 * @throws VoskelError `TABLE_INVALID` with the line
 */
export function readTable(text: string, options: { column?: string } = {}): [number, number][] {
  const layout = layoutOf(text, {}, 1)
  const { delimiter, decimal, heads, begin } = layout
  const width = Math.max(heads.length, ...layout.rows.map((row) => row.length))
  const place = columnOf(options.column, heads, width)
  const columns = guessColumns(layout)
  const [time, value] = [columns[0], columns[place]]
  if (time.name !== '' && time.meaning === 'frequency')
    throw invalid(begin - 1, `its first column "${time.name}" is a frequency`, 'A waveform has times in its first.')
  if (/\bdB\b/i.test(value.name))
    throw invalid(begin - 1, `"${value.name}" is a level in dB`, 'A waveform has volts or amperes.')
  const factors = [time.meaning === 'time' ? unitOfColumn(time).factor : 1, scaleOf(value)]
  const points: [number, number][] = []
  let line = 0
  for (const { line: whole } of linesOf(text)) {
    line++
    if (line < begin) continue
    const cells = cellsOf(whole, delimiter)
    if (cells.length === 0 || /^[#!%]/.test(cells[0])) continue
    const [x, y] = [0, place].map((k, j) => {
      const cell = cells[k]
      if (cell === undefined) throw invalid(line, `column ${k + 1} is missing`, 'Give every row as many columns.')
      const number = numberOf(cell, decimal)
      if (!Number.isFinite(number))
        throw invalid(line, `"${cell}" is not a number`, 'Give numbers such as 1e-6, with the unit above the column.')
      return number * factors[j]
    })
    points.push([x, y])
    if (points.length > MOST_ROWS)
      throw invalid(line, `it has more than ${MOST_ROWS} rows`, 'Give fewer, for example every tenth.')
  }
  return points
}

/** By which a column's numbers are multiplied to be volts or amperes, where its name says their unit. */
function scaleOf(column: ReturnType<typeof guessColumns>[number]): number {
  return column.meaning === 'value' || column.meaning === 'magnitude' ? unitOfColumn(column).factor : 1
}

function columnOf(wanted: string | undefined, heads: readonly string[], columns: number): number {
  if (wanted === undefined) return 1
  const named = heads.findIndex((name) => name.toLowerCase() === wanted.toLowerCase())
  const place = named >= 0 ? named : Number(wanted) - 1
  if (Number.isInteger(place) && place >= 1 && place < columns) return place
  const names = heads.filter((name) => name !== '')
  throw invalid(
    1,
    `it has no column "${wanted}" after the first`,
    names.length > 0 ? `Its columns are: ${names.join(', ')}.` : `It has ${columns} columns without names.`,
  )
}

function invalid(row: number, problem: string, fix: string): VoskelError {
  return new VoskelError('TABLE_INVALID', { row, problem, fix }, { line: row, column: 1 })
}
