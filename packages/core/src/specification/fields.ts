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

type ValueOf<F> = F extends { kind: 'quantity' }
  ? number | (F extends { word: infer W } ? W : never) | (F extends { optional: true } ? undefined : never)
  : F extends { choices: readonly { readonly id: infer I }[] }
    ? Exclude<I, ''> | ('' extends I ? undefined : never)
    : never

/** What the fields of a list hold, by their names. */
export type ValuesOf<F extends readonly (QuantityField | ChoiceField)[]> = {
  readonly [K in F[number] as K['id']]: ValueOf<K>
}

/** The schema of a quantity or a choice: its bounds, its default, and messages that name it. */
export function fieldSchema(field: QuantityField | ChoiceField): z.ZodType {
  return field.kind === 'choice' ? choiceSchema(field) : quantitySchema(field)
}

function choiceSchema({ name, choices, default: usual }: ChoiceField): z.ZodType {
  const ids = choices.flatMap((c) => (c.id === '' ? [] : [c.id]))
  const listed = ids.map((c) => `"${c}"`)
  const error = `${name}: ${[listed.slice(0, -1).join(', '), listed.at(-1)].filter(Boolean).join(' or ')}.`
  const schema = z.enum(ids as [string, ...string[]], { error })
  return usual === '' ? schema.optional() : schema.default(usual)
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
