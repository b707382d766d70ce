import { VoskelError } from '../../errors/VoskelError.js'
import { scanExpression } from '../../quantity/expressionTokens.js'
import { parseQuantity } from '../../quantity/parseQuantity.js'
import { netlistNumber, writeNumber } from './number.js'

/**
 * A netlist's expression with its numbers written out: `2*1k` becomes `2*1000`, which means the same to a netlist and
 * on screen.
 *
 * @throws VoskelError `EXPRESSION_INVALID`
 */
export const plainExpression = (text: string): string => withPlainNumbers(text, netlistNumber)

/** An expression as a circuit keeps it, in engineering notation, with its numbers written out for a netlist. */
export const netlistExpression = (text: string): string => withPlainNumbers(text, (word) => parseQuantity(word))

/** The numbers of a netlist's expression as they are written; none where it is no expression. */
export function numberWords(text: string): string[] {
  try {
    return scanExpression(text, netlistNumber).flatMap((t) => (t.kind === 'number' ? [t.text] : []))
  } catch (error) {
    if (error instanceof VoskelError) return []
    throw error
  }
}

function withPlainNumbers(text: string, notation: (word: string) => number | undefined): string {
  let result = ''
  let end = 0
  for (const token of scanExpression(text, notation)) {
    result += text.slice(end, token.start) + (token.kind === 'number' ? writeNumber(token.value) : token.text)
    end = token.start + token.text.length
  }
  return result + text.slice(end)
}
