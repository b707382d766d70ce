import type { Circuit } from '../circuit.js'
import type { EditCall } from '../edit/index.js'
import type { GrowWay } from '../edit/growPart.js'
import type { NewPart } from '../edit/newPart.js'
import type { Spot } from '../edit/spots.js'

/** Where something is said: at the tip of the circuit, with a part that is meant where it is about one. */
export interface Saying {
  readonly circuit: Circuit
  readonly tip: Spot
  /** The way that was turned to; null leaves it to what is said. */
  readonly way: GrowWay | null
  /** The part that is chosen, or whose pin the tip is on. */
  readonly part: string | null
}

/** One way to understand what was typed. */
export interface Reading {
  /** What it is: `4.70 kΩ resistor`. */
  readonly text: string
  /** What is done with it: `onwards`. */
  readonly does: string
  /** A part that would come, for its ghost on the sheet: which, by what pin, and which way it goes. */
  readonly grows?: { readonly part: NewPart; readonly pin?: string; readonly way: GrowWay }
  readonly call: EditCall
}
