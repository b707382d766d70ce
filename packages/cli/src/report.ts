import { makeRoom } from './atWork.js'
import { readable, VoskelError } from '@voskel/core'
import { InputError, type Source } from './io.js'

/** Exit statuses of the command line's contract. */
export const BAD_INPUT = 2
export const ANALYSIS_FAILED = 3

/**
 * Says what went wrong on standard error as `file:line:column: what is wrong and what would be right`, and returns the
 * exit status. An error that nobody foresaw is still told in one line.
 */
export function report(error: unknown): number {
  if (error instanceof VoskelError) return report(new InputError(error, null))
  if (!(error instanceof InputError)) {
    const text = error instanceof Error ? error.message : String(error)
    makeRoom()
    process.stderr.write(`voskel: ${readable(text)} This should not happen; please report it with the input.\n`)
    return ANALYSIS_FAILED
  }
  const { cause, source } = error
  makeRoom()
  process.stderr.write(`${prefix(cause, source)}${cause.message} ${cause.remedy}\n`)
  return cause.kind === 'analysis' ? ANALYSIS_FAILED : BAD_INPUT
}

function prefix({ place }: VoskelError, source: Source | null): string {
  if (!source) return 'voskel: '
  const at = place.line !== undefined ? { line: place.line, column: place.column ?? 1 } : locate(place, source)
  return `${source.name}:${at.line}:${at.column}: `
}

/** The place of a path in JSON, or of a part's or net's first mention in a netlist; else the beginning. */
function locate(place: VoskelError['place'], source: Source): { line: number; column: number } {
  if (source.json) return source.json.locate(place.path ?? '')
  const name = place.part ?? place.net
  if (name !== undefined) {
    const word = name
      .split('.')
      .at(-1)!
      .replace(/[.*+?^${}()|[\]\\]/g, '\\$&')
    const pattern =
      place.part === undefined
        ? new RegExp(`(?<![^\\s])${word}(?![^\\s])`, 'i')
        : new RegExp(`^\\s*${word}(?![^\\s])`, 'i')
    const lines = source.text.split(/\r\n|\n|\r/)
    for (let k = 1; k < lines.length; k++) {
      const line = lines[k]!
      const found = line.startsWith('*') ? -1 : line.search(pattern)
      if (found >= 0) return { line: k + 1, column: line.length - line.slice(found).trimStart().length + 1 }
    }
  }
  return { line: 1, column: 1 }
}
