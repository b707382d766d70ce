import { nearestPreferred, preferredNeighbours, SERIES_NAMES, type SeriesName } from '../quantity/preferredValues.js'

/** `exact`, or the series of preferred values that parts are taken from. */
export const VALUE_CHOICES = ['exact', ...SERIES_NAMES] as const
export type ValueChoice = (typeof VALUE_CHOICES)[number]

/** Which values parts may have. */
export interface ValuePolicy {
  readonly choice: ValueChoice
  /** The allowed value nearest to a computed one. */
  nearest(value: number): number
  /** The smallest allowed value that is not below a computed one. */
  atLeast(value: number): number
}

export function valuePolicy(choice: ValueChoice): ValuePolicy {
  if (choice === 'exact') return { choice, nearest: (v) => v, atLeast: (v) => v }
  const series: SeriesName = choice
  return {
    choice,
    nearest: (v) => nearestPreferred(v, series),
    atLeast: (v) => preferredNeighbours(v, series).above,
  }
}
