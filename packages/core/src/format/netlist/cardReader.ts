import { parseExpression } from '../../quantity/expression.js'
import type { Parameters } from '../../circuit/parameters.js'
import type { CardReader } from '../../circuit/parts/PartKind.js'
import { type Waveform, waveformKinds } from '../../circuit/waveforms/index.js'
import { VoskelError } from '../../errors/VoskelError.js'
import { plainExpression } from './expression.js'
import { netlistNumber } from './number.js'
import type { Card, Token } from './tokens.js'

/** Reads what follows the nodes of an element. */
export class Reader implements CardReader {
  constructor(
    private readonly card: Card,
    private at: number,
    private readonly parameters: Parameters,
  ) {}

  /** Index of the next item. */
  get position(): number {
    return this.at
  }

  get done(): boolean {
    return this.at >= this.card.length
  }

  value(what: string): number | string {
    if (this.done) return this.fail(`${this.card[0].text} lacks ${what}.`, 'Write a number after the nodes.')
    const value = this.maybeValue()
    if (value === undefined) {
      return this.fail(
        `"${this.card[this.at].text}" is not a number, where ${what} is expected.`,
        'Write 4.7k, 100n, 1e-9 or {expression} …',
      )
    }
    return value
  }

  maybeValue(): number | string | undefined {
    if (this.done) return undefined
    const token = this.card[this.at]
    const value = tokenValue(token)
    if (value === undefined) return undefined
    const before = this.card[this.at - 1].text
    if (token.comma && netlistNumber(before) !== undefined)
      this.fail('The decimal sign is a point, not a comma.', `Write ${before}.${token.text}`)
    this.at++
    return value
  }

  /** A value that must be known now: expressions are worked out. */
  maybeNumber(): number | undefined {
    const token = this.card[this.at]
    const value = this.maybeValue()
    return typeof value === 'string' ? atToken(token, () => this.parameters.evaluate(value)) : value
  }

  number(what: string): number {
    const value = this.maybeNumber()
    return value ?? (this.value(what) as number)
  }

  word(what: string): string {
    if (this.done) return this.fail(`${this.card[0].text} lacks ${what}.`)
    return this.card[this.at++].text
  }

  /** `NAME=value` whose value must be known now. */
  maybeNumberAssignment(): { name: string; value: number } | undefined {
    const [name, equals] = [this.card[this.at], this.card[this.at + 1]]
    if (!name || equals?.text !== '=') return undefined
    this.at += 2
    return { name: name.text.toLowerCase(), value: this.number(`the value of ${name.text}`) }
  }

  maybeAssignment(): { name: string; value: number | string } | undefined {
    const [name, equals] = [this.card[this.at], this.card[this.at + 1]]
    if (!name || equals?.text !== '=') return undefined
    this.at += 2
    return { name: name.text.toLowerCase(), value: this.value(`the value of ${name.text}`) }
  }

  take(word: string): boolean {
    if (this.done || this.card[this.at].text.toUpperCase() !== word) return false
    this.at++
    return true
  }

  maybeWaveform(): Waveform | undefined {
    if (this.done) return undefined
    const head = this.card[this.at]
    const kind = waveformKinds.find((k) => k.card?.name === head.text.toUpperCase())
    if (!kind?.card) return undefined
    this.at++
    const bracket = this.take('(')
    const values = this.waveformNumbers(head, kind.card.name === 'PWL')
    if (bracket && !this.take(')')) {
      if (this.done) fail(this.card.at(-1)!, `The bracket of ${head.text} is not closed.`, 'Add ")".')
      this.fail(`"${this.card[this.at].text}" is not a number, inside ${head.text}(…).`, 'Write numbers up to ")".')
    }
    const most = kind.card.most ?? Infinity
    if (values.length > most)
      fail(
        head,
        `${head.text} takes at most ${most} values, not ${values.length}.`,
        'Remove what does not belong to it.',
      )
    if (kind.card.name === 'PWL' && values.length % 2 === 1) {
      fail(head, 'PWL takes pairs of time and value.', 'PWL(t1 v1 t2 v2 …)')
    }
    const checked = kind.schema.safeParse(kind.card.read(values))
    if (!checked.success) {
      const issue = checked.error.issues[0]
      fail(
        head,
        `${head.text}: ${issue.path.join('.')} does not fit: ${issue.message}.`,
        'See the waveforms in docs/guide/netlist.md.',
      )
    }
    return checked.data
  }

  /** Numbers between blanks or commas; both in one list would hide a decimal comma, but for pairs. */
  private waveformNumbers(head: Token, pairs: boolean): number[] {
    const values: number[] = []
    const commas: boolean[] = []
    for (; !this.done; this.at++) {
      const token = this.card[this.at]
      const value = tokenValue(token)
      if (value === undefined) break
      const number = typeof value === 'string' ? atToken(token, () => this.parameters.evaluate(value)) : value
      values.push(number)
      if (values.length > 1) commas.push(token.comma ?? false)
    }
    if (!pairs && commas.includes(true) && commas.includes(false))
      fail(
        head,
        `The values of ${head.text} stand between commas here and blanks there.`,
        'Use one of the two; the decimal sign is a point.',
      )
    return values
  }

  expectEnd(): void {
    if (!this.done) this.fail(`"${this.card[this.at].text}" is not expected here.`, 'Remove it.')
  }

  fail(problem: string, fix?: string): never {
    return fail(this.card[Math.min(this.at, this.card.length - 1)], problem, fix)
  }
}

/** A token as a number, as the text of an expression in braces, or undefined. */
function tokenValue(token: Token): number | string | undefined {
  if (token.text.startsWith('{')) {
    if (!token.text.endsWith('}')) fail(token, 'The brace is not closed.', 'Add "}".')
    const text = plainExpression(token.text.slice(1, -1))
    atToken(token, () => parseExpression(text))
    return text
  }
  const value = netlistNumber(token.text)
  if (value !== undefined && !Number.isFinite(value))
    fail(token, `"${token.text}" is too large.`, 'Give a value below 1.8e308.')
  return value
}

/** Runs a step whose errors are about this token. */
export function atToken<T>(token: Token, step: () => T): T {
  try {
    return step()
  } catch (error) {
    if (error instanceof VoskelError) throw error.at({ line: token.line, column: token.column })
    throw error
  }
}

/** @throws VoskelError `NETLIST_SYNTAX` at a token */
export function fail(token: Token, problem: string, fix?: string): never {
  throw syntaxError(token, problem, fix)
}

export const syntaxError = ({ line, column }: Token, problem: string, fix?: string): VoskelError =>
  new VoskelError('NETLIST_SYNTAX', { problem, ...(fix && { fix }) }, { line, column })
