import { VoskelError } from '../../errors/VoskelError.js'
import { formatQuantity } from '../../quantity/formatQuantity.js'
import { parseQuantity } from '../../quantity/parseQuantity.js'
import type { NewPart } from '../edit/newPart.js'
import { partKinds } from '../parts/index.js'
import type { PartKind, ValueField } from '../parts/PartKind.js'

/** A number that was typed, as a quantity of a unit; null where it cannot be one. */
export function quantityIn(text: string, unit: string): number | null {
  try {
    return parseQuantity(text, unit)
  } catch (error) {
    if (error instanceof VoskelError) return null
    throw error
  }
}

/** Digits of a value in the words of an echo. */
const DIGITS = 3

export const echoed = (value: number, unit: string): string => formatQuantity(value, unit, DIGITS)

/** Kinds that a bare number can be the value of, by its size: what a designer would most likely mean comes first. */
const BY_SIZE: readonly (readonly [below: number, kinds: readonly string[]])[] = [
  [0.9e-6, ['capacitor', 'inductor']],
  [0.9e-3, ['capacitor', 'inductor', 'resistor']],
  [0.9, ['inductor', 'resistor', 'capacitor']],
  [Infinity, ['resistor', 'potentiometer', 'voltage-source']],
]

const UNITS = ['Ω', 'F', 'H']

export const kindOf = (id: string): PartKind => partKinds.find((k) => k.id === id)!

export const mainField = (kind: PartKind): ValueField | null => kind.values.find((f) => f.id === kind.mainValue) ?? null

/** A part with its main value, and its words: `4.70 kΩ resistor`. */
export function valued(kind: PartKind, value: number): { part: NewPart; text: string } | null {
  const field = mainField(kind)
  if (!field) return null
  const name = kind.name.toLowerCase()
  const text =
    kind.id === 'potentiometer'
      ? `potentiometer 0 … ${echoed(value, field.unit)}`
      : `${echoed(value, field.unit)} ${name}`
  return { part: { kind: kind.id, values: { [field.id]: value } }, text }
}

/** Everything that a number, with or without its unit, can be the value of. */
export function partsOfNumber(text: string): { part: NewPart; text: string }[] {
  const known = UNITS.flatMap((unit) => {
    const value = quantityIn(text, unit)
    return value === null ? [] : [{ unit, value }]
  })
  if (known.length === 0) return []
  if (known.length === 1) {
    const [{ unit, value }] = known
    const kinds = partKinds.filter((k) => ['resistor', 'capacitor', 'inductor', 'potentiometer'].includes(k.id))
    return kinds.flatMap((k) => (mainField(k)?.unit === unit ? (valued(k, value) ?? []) : []))
  }
  const [{ value }] = known
  const kinds = BY_SIZE.find(([below]) => Math.abs(value) < below)![1]
  return kinds.flatMap((id) => (id === 'voltage-source' ? [] : (valued(kindOf(id), value) ?? [])))
}
