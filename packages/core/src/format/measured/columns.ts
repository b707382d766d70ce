import type { TableLayout } from './layout.js'
import { numberOf } from './layout.js'

/** A unit that a column may be in. */
export interface ColumnUnit {
  readonly name: string
  /** By which a number is multiplied to be in SI units. */
  readonly factor: number
  /** What it is a multiple of; left out, of itself. */
  readonly si?: string
}

/** What a column may hold. */
export interface ColumnMeaning {
  readonly id: 'frequency' | 'time' | 'magnitude' | 'phase' | 're' | 'im' | 'value' | 'none'
  readonly name: string
  /** In the order in which they are offered. */
  readonly units: readonly ColumnUnit[]
  /** What such a column is called, in lower case. */
  readonly words: RegExp
}

const scaled = (si: string, prefixes: string): ColumnUnit[] =>
  [...prefixes].map((p) => ({ name: p === '1' ? si : p + si, factor: PREFIXES[p], si }))
const PREFIXES: Readonly<Record<string, number>> = { '1': 1, n: 1e-9, µ: 1e-6, m: 1e-3, k: 1e3, M: 1e6, G: 1e9 }

const QUANTITIES = [
  ...scaled('V', '1mµk'),
  ...scaled('A', '1mµ'),
  ...scaled('Ω', '1mkM'),
  ...scaled('W', '1mµ'),
  { name: '1', factor: 1, si: '' },
  { name: '%', factor: 0.01, si: '' },
]

/** Levels in dB are no multiple of a factor; loss counts downwards. */
export const DB = 'dB'
export const DB_LOSS = 'dB of loss'

/** Everything that a column may hold. */
export const COLUMN_MEANINGS: readonly ColumnMeaning[] = [
  {
    id: 'frequency',
    name: 'Frequency',
    units: [...scaled('Hz', '1kMGm'), { name: 'rad/s', factor: 1 / (2 * Math.PI), si: 'Hz' }],
    words: /^(f|freq\w*|frequenz|ω|omega)(?![a-z])/,
  },
  { id: 'time', name: 'Time', units: scaled('s', '1mµn'), words: /^(t|time|zeit|seconds?|sec)(?![a-z])/ },
  {
    id: 'magnitude',
    name: 'Magnitude',
    units: [{ name: DB, factor: 1, si: '' }, { name: DB_LOSS, factor: -1, si: '' }, ...QUANTITIES],
    words: /(?<!i)mag|gain|amplitude|level|^abs|^\||attenuation|loss|^h\b|response/,
  },
  {
    id: 'phase',
    name: 'Phase',
    units: [
      { name: '°', factor: 1 },
      { name: 'rad', factor: 180 / Math.PI, si: '°' },
    ],
    words: /phase|^arg|angle|φ|phi|theta/,
  },
  { id: 're', name: 'Real part', units: QUANTITIES, words: /^re\b|^re_|^re\(|\breal|_real|[_\s]re\b/ },
  { id: 'im', name: 'Imaginary part', units: QUANTITIES, words: /^im\b|^im_|^im\(|imag|[_\s]im\b/ },
  { id: 'value', name: 'Value', units: QUANTITIES, words: /^(v|i|u|y|ch\w*|volt\w*|current|value)\b/ },
  { id: 'none', name: 'Left out', units: [{ name: '', factor: 1 }], words: /delay|^$^/ },
]

/** Real and imaginary parts first: what they are parts of may be named beside. */
const BY_WORD = [...COLUMN_MEANINGS.filter((m) => m.id === 're' || m.id === 'im'), ...COLUMN_MEANINGS].filter(
  (m) => m.id !== 'none',
)

export type MeaningId = ColumnMeaning['id']
export const columnMeaning = (id: MeaningId): ColumnMeaning => COLUMN_MEANINGS.find((m) => m.id === id)!

/** What a column is taken for. */
export interface ColumnChoice {
  readonly meaning: MeaningId
  /** Name of one of the meaning's units. */
  readonly unit: string
  /** What the column is called in the table; empty where nothing stands above it. */
  readonly name: string
}

/** The unit of a choice. */
export const unitOfColumn = ({ meaning, unit }: ColumnChoice): ColumnUnit => {
  const { units } = columnMeaning(meaning)
  return units.find((u) => u.name === unit) ?? units[0]
}

/** What the columns of a table are taken for until somebody says otherwise: by their names and units, else by their numbers. */
export function guessColumns({ heads, rows, decimal }: TableLayout): ColumnChoice[] {
  const numbers = heads.map((_, k) => rows.map((row) => numberOf(row[k] ?? '', decimal)))
  const named = heads.map((head, k) => byName(head, numbers[k]))
  const has = (id: MeaningId) => named.some((n) => n?.meaning === id)
  // Of a table that names no frequency or time the first column is that.
  const isNamed = has('frequency') || has('time')
  const guesses = named.map((known, k): ColumnChoice => {
    if (known) return known
    const name = heads[k]
    if (k === 0 && !isNamed) return { ...byNumbers(numbers[0]), name }
    return { meaning: 'value', unit: 'V', name }
  })
  const overTime = guesses.some((g) => g.meaning === 'time') && !guesses.some((g) => g.meaning === 'frequency')
  const isComplex = guesses.some((g) => g.meaning === 're') && guesses.some((g) => g.meaning === 'im')
  return guesses.map((guess, k) => {
    const { meaning, name } = guess
    if (overTime) return meaning === 'magnitude' ? { meaning: 'value', unit: linear(guess.unit), name } : guess
    // The complex number says all that level and phase do.
    if (isComplex && (meaning === 'magnitude' || meaning === 'phase')) return { meaning: 'none', unit: '', name }
    if (meaning !== 'value') return guess
    if (named[k] === null && isPhase(numbers[k]) && guesses.some((g, j) => j < k && g.meaning !== 'frequency'))
      return { meaning: 'phase', unit: '°', name }
    const isLevel = numbers[k].some((v) => v < 0)
    return { meaning: 'magnitude', unit: isLevel ? DB : named[k] ? guess.unit : '1', name }
  })
}

const linear = (unit: string): string => (unit === DB || unit === DB_LOSS ? 'V' : unit)

/** Beyond ±90 something turns, or it swings on both sides of 0. */
const isPhase = (values: readonly number[]): boolean =>
  values.every((v) => Math.abs(v) <= 360) && values.some((v) => Math.abs(v) > 60)

/** Times the first number that the last one is at least, where a first column is a frequency. */
const FREQUENCY_GROWS = 1.02

function byNumbers(values: readonly number[]): Omit<ColumnChoice, 'name'> {
  const [first, last] = [values[0], values.at(-1)!]
  const isFrequency = first >= 1 && last / first > FREQUENCY_GROWS
  return isFrequency ? { meaning: 'frequency', unit: 'Hz' } : { meaning: 'time', unit: 's' }
}

/** By what stands above a column; null where that says nothing. */
function byName(head: string, values: readonly number[]): ColumnChoice | null {
  if (head === '') return null
  const unit = unitIn(head)
  const bare = head.toLowerCase().replace(/^["']|["']$/g, '')
  const choice = (meaning: MeaningId, of: string): ColumnChoice => ({ meaning, unit: of, name: head })
  if (columnMeaning('none').words.test(bare)) return choice('none', '')
  const byWord = BY_WORD.find((m) => m.words.test(bare))
  if (byWord) {
    const { id, units } = byWord
    const known = unit && units.find((u) => u.name === unit)
    if (id === 'magnitude') {
      const level = /loss|attenuation/.test(bare) && values.every((v) => v >= -0.5) ? DB_LOSS : DB
      if (unit === DB) return choice(id, level)
      return choice(id, known ? known.name : values.some((v) => v < 0) ? level : '1')
    }
    if (known) return choice(id, known.name)
    // A name that is that of another quantity, as "Re Z (Hz)" would be, is judged by its unit.
    if (unit === null) return choice(id, usualUnit(byWord))
  }
  if (unit === null) return null
  if (unit === DB) return choice('magnitude', DB)
  const byUnit = COLUMN_MEANINGS.find(
    (m) => m.id !== 'magnitude' && m.units.some((u) => u.name === unit && u.name !== '1'),
  )
  return byUnit ? choice(byUnit.id === 're' || byUnit.id === 'im' ? 'value' : byUnit.id, unit) : null
}

/** What a column is called without its unit, as "out" of "out [mV]". */
export function bareName(head: string): string {
  const bracketed = /^(.*\S)\s*[([][^)\]]*[)\]]\s*$/.exec(head)
  if (bracketed && !/^[vi]$/i.test(bracketed[1])) return bracketed[1]
  const apart = /^(.*?\S)(?:\s*[/,]\s*|\s+in\s+|\s+)\S+$/i.exec(head)
  return apart && unitIn(head) !== null ? apart[1] : head
}

const usualUnit = ({ id, units }: ColumnMeaning): string => (id === 're' || id === 'im' ? '1' : units[0].name)

/** Spellings of units, in lower case. */
const SPELLINGS: Readonly<Record<string, string>> = {
  hz: 'Hz', khz: 'kHz', mhz: 'MHz', ghz: 'GHz', 'rad/s': 'rad/s',
  s: 's', sec: 's', second: 's', seconds: 's', ms: 'ms', us: 'µs', µs: 'µs', μs: 'µs', ns: 'ns',
  db: DB, deg: '°', degree: '°', degrees: '°', '°': '°', rad: 'rad', radian: 'rad', radians: 'rad',
  v: 'V', volt: 'V', volts: 'V', mv: 'mV', uv: 'µV', µv: 'µV', μv: 'µV', kv: 'kV',
  a: 'A', ampere: 'A', amps: 'A', ma: 'mA', ua: 'µA', µa: 'µA', μa: 'µA',
  ohm: 'Ω', ohms: 'Ω', ω: 'Ω', Ω: 'Ω', kohm: 'kΩ', kω: 'kΩ', mohm: 'mΩ', w: 'W', mw: 'mW', '%': '%', percent: '%',
} // prettier-ignore

/** The unit that a name holds: in brackets, behind a stroke, a comma, an underscore or "in". */
function unitIn(head: string): string | null {
  const found =
    /[([]\s*([^)\]]+?)\s*[)\]]\s*$/.exec(head) ??
    /(?:\/|,|_|\bin\b|\s)\s*([^\s/,_]+(?:\/s)?)\s*$/i.exec(head) ??
    /^(\S+)$/.exec(head)
  if (!found) return null
  const [, text] = found
  // Capital and small letters tell milli from mega where the rest is a unit of resistance.
  if (text === 'MΩ' || text === 'Mohm') return 'MΩ'
  return SPELLINGS[text.toLowerCase()] ?? null
}
