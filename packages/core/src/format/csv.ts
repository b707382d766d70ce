/** Columns as CSV after RFC 4180 (line feeds alone, as every reader takes them): full double precision, header first. */
export function writeCsv(columns: Readonly<Record<string, ArrayLike<number>>>): string {
  const names = Object.keys(columns)
  const arrays = names.map((n) => columns[n])
  const rows = arrays[0]?.length ?? 0
  const lines = [names.join(',')]
  for (let k = 0; k < rows; k++) lines.push(arrays.map((a) => String(a[k])).join(','))
  return lines.join('\n') + '\n'
}
