import { VoskelError } from '../../errors/VoskelError.js'
import { type KeptColumn, type KeptCurves, type KeptFacts, KeptSchema, MOST_KEPT_NUMBERS } from './KeptCurves.js'

/** Every runtime of the core has them (WHATWG Encoding Standard); the language by itself does not. */
declare const TextEncoder: new () => { encode(text: string): Uint8Array }
declare const TextDecoder: new (label: string, options?: { fatal?: boolean }) => { decode(bytes: Uint8Array): string }

/** Longest line of facts, bytes. */
const MOST_FACTS = 400_000
const LINE_FEED = 10
const DOUBLE = 8

/** Facts alone, as they stand before the numbers. */
export function factsOf({ curves, ...rest }: KeptCurves): KeptFacts {
  return {
    ...rest,
    curves: curves.map(({ numbers, ...curve }) => {
      const columns = Object.keys(numbers) as KeptColumn[]
      return { ...curve, columns, length: numbers.x!.length }
    }),
  }
}

/** Curves as bytes: a line of JSON, blanks up to a multiple of eight with the line feed, then every column as little-endian doubles. */
export function packKept(kept: KeptCurves): Uint8Array<ArrayBuffer> {
  const head = new TextEncoder().encode(JSON.stringify(factsOf(kept)))
  const begin = DOUBLE * Math.ceil((head.length + 1) / DOUBLE)
  const columns = kept.curves.flatMap(({ numbers }) => Object.values(numbers))
  const bytes = new Uint8Array(begin + DOUBLE * columns.reduce((sum, c) => sum + c.length, 0))
  bytes.fill(32, head.length, begin - 1)
  bytes.set(head)
  bytes[begin - 1] = LINE_FEED
  let at = begin
  for (const column of columns) {
    writeDoubles(bytes, at, column)
    at += DOUBLE * column.length
  }
  return bytes
}

/**
 * Facts of packed curves, checked against the bytes that follow.
 *
 * @throws VoskelError `KEPT_INVALID`
 */
export function keptFacts(bytes: Uint8Array): { readonly facts: KeptFacts; readonly begin: number } {
  const end = bytes.subarray(0, MOST_FACTS).indexOf(LINE_FEED)
  if (end < 0) throw invalid('it has no line of facts')
  let value: unknown
  try {
    value = JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(bytes.subarray(0, end)))
  } catch {
    throw invalid('its facts are no JSON')
  }
  const parsed = KeptSchema.safeParse(value)
  if (!parsed.success) {
    const issue = parsed.error.issues[0]
    throw invalid(`"${issue.path.join('.') || 'the whole'}" does not fit: ${issue.message}`)
  }
  const facts = parsed.data
  const numbers = facts.curves.reduce((sum, { columns, length }) => sum + columns.length * length, 0)
  if (numbers > MOST_KEPT_NUMBERS) throw invalid(`it has ${numbers} numbers; at most ${MOST_KEPT_NUMBERS} are kept`)
  if (bytes.length !== end + 1 + DOUBLE * numbers)
    throw invalid(`${numbers} numbers are said to follow, and ${(bytes.length - end - 1) / DOUBLE} do`)
  return { facts, begin: end + 1 }
}

/** The curves of packed bytes. @throws VoskelError `KEPT_INVALID` */
export function unpackKept(bytes: Uint8Array): KeptCurves {
  const { facts, begin } = keptFacts(bytes)
  let at = begin
  const { curves, ...rest } = facts
  return {
    ...rest,
    curves: curves.map(({ columns, length, ...curve }) => ({
      ...curve,
      numbers: Object.fromEntries(
        columns.map((column) => {
          const values = readDoubles(bytes, at, length)
          at += DOUBLE * length
          return [column, values]
        }),
      ),
    })),
  }
}

/** Whether this machine's own doubles are little-endian, as nearly all are: they are copied as they lie. */
const IS_LITTLE = new Uint8Array(new Float64Array([1]).buffer)[7] === 0x3f

function writeDoubles(bytes: Uint8Array, at: number, values: Float64Array): void {
  if (IS_LITTLE) {
    bytes.set(new Uint8Array(values.buffer, values.byteOffset, values.byteLength), at)
    return
  }
  const view = new DataView(bytes.buffer, bytes.byteOffset)
  values.forEach((value, k) => view.setFloat64(at + DOUBLE * k, value, true))
}

function readDoubles(bytes: Uint8Array, at: number, length: number): Float64Array {
  const values = new Float64Array(length)
  if (IS_LITTLE) new Uint8Array(values.buffer).set(bytes.subarray(at, at + DOUBLE * length))
  else {
    const view = new DataView(bytes.buffer, bytes.byteOffset)
    for (let k = 0; k < length; k++) values[k] = view.getFloat64(at + DOUBLE * k, true)
  }
  return values
}

const invalid = (problem: string) => new VoskelError('KEPT_INVALID', { problem })
