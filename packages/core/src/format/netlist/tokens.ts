import { VoskelError } from '../../errors/VoskelError.js'

/** A word, bracket or equals sign of a netlist with its place, both 1-based. */
export interface Token {
  readonly text: string
  readonly line: number
  readonly column: number
  /** A comma stands between it and the token before. */
  readonly comma?: boolean
}

/** One logical line: continuations joined, comments gone. Never empty. */
export type Card = readonly [Token, ...Token[]]

/** Largest netlist that is read, characters. */
const MAX_LENGTH = 20_000_000

/**
 * Splits a netlist into its title (the first line, whatever stands there) and its cards.
 *
 * @throws VoskelError `NETLIST_SYNTAX` for text that is no text, or a continuation without a line to continue
 */
export function tokenize(text: string): { title: string; cards: Card[] } {
  if (text.length > MAX_LENGTH) {
    throw new VoskelError('NETLIST_SYNTAX', {
      problem: `The netlist has ${text.length} characters; at most ${MAX_LENGTH} are read.`,
      fix: 'Split it into subcircuits.',
    })
  }
  const lines = text.split(/\r\n|\n|\r/)
  const title = (lines[0] ?? '').trim()
  refuseBinary(lines[0] ?? '', 1)
  const cards: Token[][] = []
  for (let k = 1; k < lines.length; k++) {
    const line = lines[k]
    refuseBinary(line, k + 1)
    const trimmed = line.trimStart()
    if (trimmed === '' || trimmed.startsWith('*')) continue
    const continues = trimmed.startsWith('+')
    const tokens = tokensOfLine(line, k + 1, continues ? line.indexOf('+') + 1 : 0)
    if (continues) {
      const open = cards.at(-1)
      if (!open) {
        throw new VoskelError(
          'NETLIST_SYNTAX',
          {
            problem: 'This line continues ("+") a line that is not there.',
            fix: 'Remove the "+", or begin with an element.',
          },
          { line: k + 1, column: line.indexOf('+') + 1 },
        )
      }
      open.push(...tokens)
    } else if (tokens.length > 0) {
      cards.push(tokens)
    }
  }
  return { title, cards: cards as unknown as Card[] }
}

function tokensOfLine(line: string, lineNumber: number, from: number): Token[] {
  const end = line.indexOf(';', from)
  const body = end < 0 ? line : line.slice(0, end)
  const tokens: Token[] = []
  // What stands in braces is one expression, blanks and commas included.
  const pattern = /\{[^}]*\}?|[()=]|[^\s(),={}]+|\}/g
  pattern.lastIndex = from
  let last = from
  for (let m = pattern.exec(body); m; m = pattern.exec(body)) {
    const comma = tokens.length > 0 && body.slice(last, m.index).includes(',')
    // Names become the keys of records, where this one is no key.
    if (m[0].toLowerCase() === '__proto__')
      throw new VoskelError(
        'NETLIST_SYNTAX',
        { problem: `"${m[0]}" cannot be a name.`, fix: 'Choose another name.' },
        { line: lineNumber, column: m.index + 1 },
      )
    tokens.push({ text: m[0], line: lineNumber, column: m.index + 1, ...(comma && { comma }) })
    last = pattern.lastIndex
  }
  return tokens
}

function refuseBinary(line: string, lineNumber: number): void {
  // eslint-disable-next-line no-control-regex -- control characters are what is looked for
  const column = line.search(/[\u0000-\u0008\u000e-\u001f\ufffd]/)
  if (column >= 0) {
    throw new VoskelError(
      'NETLIST_SYNTAX',
      {
        problem: 'This is not text: a control character stands here.',
        fix: 'A netlist is plain text, one element a line.',
      },
      { line: lineNumber, column: column + 1 },
    )
  }
}
