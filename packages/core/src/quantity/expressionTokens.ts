import { VoskelError } from '../errors/VoskelError.js'

/** The value of a word that begins as a number does; undefined where it is none. */
export type Notation = (word: string) => number | undefined

/** A piece of an expression and where it begins. */
export type Token =
  | { readonly kind: 'number'; readonly text: string; readonly start: number; readonly value: number }
  | { readonly kind: 'name' | 'sign'; readonly text: string; readonly start: number }

/** Digits with an exponent, and whatever letters or digits stand right behind: one word, a number as a whole or none. */
const NUMBER = /(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?[\p{L}\p{N}_.°]*/uy
const NAME = /[A-Za-z_]\w*/y
const SIGN = /<=|>=|==|!=|[-+*/^()?:,<>]/y
const BLANK = /\s+/y

/**
 * Splits an expression into numbers, names and signs.
 *
 * @param notation what its numbers mean; a word that it does not read whole is refused
 * @throws VoskelError `EXPRESSION_INVALID`
 */
export function scanExpression(text: string, notation: Notation): Token[] {
  const tokens: Token[] = []
  let start = 0
  const found = (pattern: RegExp): string | undefined => {
    pattern.lastIndex = start
    return pattern.exec(text)?.[0]
  }
  while (start < text.length) {
    const blank = found(BLANK)
    if (blank) {
      start += blank.length
      continue
    }
    const word = found(NUMBER)
    if (word !== undefined) {
      const value = notation(word)
      if (value === undefined || !Number.isFinite(value)) throw refused(text, `"${word}" is not a number`)
      tokens.push({ kind: 'number', text: word, start, value })
      start += word.length
      continue
    }
    const name = found(NAME)
    const sign = name ?? found(SIGN)
    if (sign === undefined) {
      const odd = String.fromCodePoint(text.codePointAt(start)!)
      throw refused(text, `"${odd}" is not read`)
    }
    tokens.push({ kind: name === undefined ? 'sign' : 'name', text: sign, start })
    start += sign.length
  }
  return tokens
}

function refused(text: string, problem: string) {
  return new VoskelError('EXPRESSION_INVALID', { text, problem })
}
