import { catalogue, type ErrorCode, type ErrorFacts } from './catalogue.js'
import { readable } from './readable.js'

/** Where in the user's input the trouble is; every field in the user's own names. */
export interface ErrorPlace {
  /** 1-based line and column of a text (netlist, JSON). */
  line?: number
  column?: number
  /** Path into a structured document, such as `passband.edges.0`. */
  path?: string
  /** Name of a part or a net of the circuit. */
  part?: string
  net?: string
}

/**
 * The one error that the core throws on purpose: a stable code, the facts, what is wrong and what would be right.
 *
 * @example throw new VoskelError('NETLIST_SYNTAX', { problem: 'unknown element "Y1"' }, { line: 3, column: 1 })
 */
export class VoskelError<C extends ErrorCode = ErrorCode> extends Error {
  override readonly name = 'VoskelError'
  /** What would be right, in one sentence. */
  readonly remedy: string
  /** `input`: the input cannot be used; `analysis`: it reads well but cannot be solved. */
  readonly kind: 'input' | 'analysis'

  constructor(
    readonly code: C,
    readonly facts: ErrorFacts<C>,
    readonly place: ErrorPlace = {},
  ) {
    const entry = catalogue[code] as unknown as {
      kind: 'input' | 'analysis'
      why: (facts: ErrorFacts<C>) => string
      fix: string | ((facts: ErrorFacts<C>) => string)
    }
    super(readable(entry.why(facts)))
    this.kind = entry.kind
    this.remedy = readable(typeof entry.fix === 'string' ? entry.fix : entry.fix(facts))
  }

  /** The same error, placed (or placed more exactly). */
  at(place: ErrorPlace): VoskelError<C> {
    return new VoskelError(this.code, this.facts, { ...this.place, ...place })
  }
}

/** The error as plain data, for crossing a worker's or a server's border. */
export interface Failure {
  code: ErrorCode
  message: string
  remedy: string
  kind: 'input' | 'analysis'
  place: ErrorPlace
}

/** A `VoskelError` as plain data; any other error is not expected by the core and is thrown on. */
export function toFailure(error: unknown): Failure {
  if (!(error instanceof VoskelError)) throw error
  return { code: error.code, message: error.message, remedy: error.remedy, kind: error.kind, place: error.place }
}
