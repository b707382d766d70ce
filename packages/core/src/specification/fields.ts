import { z } from 'zod'

/** A quantity: as forms show it and as the schema takes it. */
export interface QuantityField {
  readonly id: string
  readonly name: string
  readonly kind: 'quantity'
  readonly unit: string
  readonly default: number
  readonly optional?: boolean
  /** What an empty optional field means. */
  readonly empty?: string
  /** A word that may stand instead of the number, as `open` for a load; a form takes an empty field for it. */
  readonly word?: string
  /** Inclusive, where `above` is not given. */
  readonly least?: number
  readonly above?: number
  readonly most?: number
  readonly whole?: boolean
}

/** One of several, as forms show it; the choice '' leaves the field out. */
export interface ChoiceField {
  readonly id: string
  readonly name: string
  readonly kind: 'choice'
  readonly default: string
  readonly choices: readonly { readonly id: string; readonly name: string }[]
}

/** Numbers of one unit, as many as are needed. */
export interface NumbersField {
  readonly id: string
  readonly name: string
  readonly kind: 'numbers'
  readonly unit: string
  readonly least?: number
  readonly count?: number
  readonly optional: true
}

/** Words of a list, as many as are needed. */
export interface WordsField {
  readonly id: string
  readonly name: string
  readonly kind: 'words'
  readonly choices: readonly { readonly id: string; readonly name: string }[]
  readonly optional: true
}

/** True or false. */
export interface SwitchField {
  readonly id: string
  readonly name: string
  readonly kind: 'switch'
  readonly default: boolean
}

/** A word for values that are known, or the values themselves. */
export interface RecordField {
  readonly id: string
  readonly name: string
  readonly kind: 'record'
  readonly default: string
  readonly choices: readonly { readonly id: string; readonly name: string }[]
  readonly fields: readonly QuantityField[]
}

/** A field of a realization as forms show it and as its schema takes it. */
export type Field = QuantityField | ChoiceField | NumbersField | WordsField | SwitchField | RecordField

type ValueOf<F> = F extends { kind: 'numbers' }
  ? readonly number[] | undefined
  : F extends { kind: 'words' }
    ? readonly string[] | undefined
    : F extends { kind: 'switch' }
      ? boolean
      : F extends { kind: 'record' }
        ? string | Readonly<Record<string, number>>
        : PlainValueOf<F>

type PlainValueOf<F> = F extends { kind: 'quantity' }
  ? number | (F extends { word: infer W } ? W : never) | (F extends { optional: true } ? undefined : never)
  : F extends { choices: readonly { readonly id: infer I }[] }
    ? Exclude<I, ''> | ('' extends I ? undefined : never)
    : never

/** What the fields of a list hold, by their names. */
export type ValuesOf<F extends readonly Field[]> = {
  readonly [K in F[number] as K['id']]: ValueOf<K>
}

/** The schema of a field: its bounds, its default, and messages that name it. */
export function fieldSchema(field: Field): z.ZodType {
  switch (field.kind) {
    case 'choice':
      return choiceSchema(field)
    case 'quantity':
      return quantitySchema(field)
    case 'numbers':
      return numbersSchema(field)
    case 'words':
      return z.array(oneOf(field), { error: `${field.name}: a list of ${listed(field)}.` }).optional()
    case 'switch':
      return z.boolean({ error: `${field.name}: true or false.` }).default(field.default)
    case 'record':
      return recordSchema(field)
  }
}

function numbersSchema({ name, unit, least, count }: NumbersField): z.ZodType {
  const error = `${name}: a list of ${count === undefined ? 'numbers' : `${count} numbers`} in ${unit}.`
  const each = z.number({ error })
  const list = z.array(least === undefined ? each : each.min(least, `${name}: at least ${least} ${unit}.`), { error })
  return (count === undefined ? list : list.length(count, error)).optional()
}

function recordSchema(field: RecordField): z.ZodType {
  const values = z.strictObject(Object.fromEntries(field.fields.map((f) => [f.id, quantitySchema(f)])))
  const error = `${field.name}: ${listed(field)}, or { ${field.fields.map((f) => f.id).join(', ')} }.`
  return z.union([oneOf(field), values], { error }).default(field.default)
}

interface Listed {
  readonly name: string
  readonly choices: readonly { readonly id: string }[]
}

const listed = ({ choices }: Listed): string => {
  const words = choices.flatMap((c) => (c.id === '' ? [] : [`"${c.id}"`]))
  return [words.slice(0, -1).join(', '), words.at(-1)].filter(Boolean).join(' or ')
}

const oneOf = (field: Listed) =>
  z.enum(field.choices.flatMap((c) => (c.id === '' ? [] : [c.id])) as [string, ...string[]], {
    error: `${field.name}: ${listed(field)}.`,
  })

function choiceSchema(field: ChoiceField): z.ZodType {
  const schema = oneOf(field)
  return field.default === '' ? schema.optional() : schema.default(field.default)
}

function quantitySchema(field: QuantityField): z.ZodType {
  const name = `The ${lowerFirst(field.name)}`
  const unit = field.unit && ` ${field.unit}`
  const isNone = field.word === undefined ? 'missing or is not a number' : `neither a number nor "${field.word}"`
  let value = z.number({ error: `${name} is ${isNone}.` })
  if (field.whole) value = value.int({ error: `${name} must be a whole number.` })
  if (field.least !== undefined) value = value.min(field.least, `${name} must be at least ${field.least}${unit}.`)
  if (field.above !== undefined) value = value.gt(field.above, `${name} must be above ${field.above}${unit}.`)
  if (field.most !== undefined) value = value.max(field.most, `${name} must be at most ${shortly(field.most)}${unit}.`)
  const schema = field.word === undefined ? value : z.union([value, z.literal(field.word)], { error: firstMessage })
  return field.optional ? schema.optional() : schema
}

/** 1e12 instead of a row of zeros. */
const shortly = (bound: number) => (bound >= 1e6 ? bound.toExponential().replace('+', '') : String(bound))

/** What the number's bounds say, which a union would hide. */
const firstMessage = (issue: { readonly errors?: readonly (readonly { readonly message: string }[])[] }) =>
  issue.errors?.[0][0].message

/** "Source resistance" inside a sentence; "Q at the edge" stays. */
const lowerFirst = (name: string) => (/^.[a-z]/.test(name) ? name[0].toLowerCase() + name.slice(1) : name)
