/**
 * Columns as CSV after RFC 4180 (line feeds alone, as every reader takes them): full double precision, header first; what is no number is an
 * empty field.
 */
export function writeCsv(columns: Readonly<Record<string, ArrayLike<number>>>): string {
  return [...csvChunks(columns)].join('')
}

/** A number; the decibels and the phase of nothing are no numbers, and their field stays empty. */
const field = (value: number): string => (Number.isFinite(value) ? String(value) : '')

/**
 * A name with a comma, a quotation mark or a line feed stands in quotation marks (RFC 4180 § 2); one that a spreadsheet would compute
 * bears an apostrophe, which makes it text there.
 */
const quoted = (name: string): string => {
  const text = /^[=+\-@\t\r]/.test(name) ? `'${name}` : name
  return /[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text
}

/** Rows written at a time: 10⁷ points would be longer than the longest string. */
const CHUNK = 4096

/** The same text piece by piece, so that a long table need never stand in memory as a whole. */
export function* csvChunks(columns: Readonly<Record<string, ArrayLike<number>>>): Generator<string> {
  const names = Object.keys(columns)
  const arrays = names.map((n) => columns[n])
  const rows = arrays[0]?.length ?? 0
  yield names.map(quoted).join(',') + '\n'
  for (let from = 0; from < rows; from += CHUNK) {
    let text = ''
    for (let k = from; k < Math.min(rows, from + CHUNK); k++) {
      for (let c = 0; c < arrays.length; c++) text += (c > 0 ? ',' : '') + field(arrays[c][k])
      text += '\n'
    }
    yield text
  }
}
