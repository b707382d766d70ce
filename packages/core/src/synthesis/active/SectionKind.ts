import type { TransferFunction } from '../../numeric/transferFunction.js'
import type { Plan } from '../Plan.js'
import type { Values } from '../Sketch.js'
import type { Factor } from './factors.js'
import type { SectionPen } from './SectionPen.js'

/**
 * A section with amplifiers that makes one factor of a response; sections follow each other without loading. Each stands in a
 * file of its own and in the list of the families that use it.
 */
export interface SectionKind {
  readonly id: string
  /** What it makes, as in "these sections are low-pass ones". */
  readonly shape: string
  /** Published source of the design equations. */
  readonly source: string
  makes(factor: Factor): boolean
  /** @param capacitor the size of its capacitors, F */
  plan(factor: Factor, capacitor: number): SectionPlan
}

/** The names of its slots count from 1 in each section: R1, C1, … */
export interface SectionPlan extends Omit<Plan<void>, 'draw'> {
  /**
   * The resistor through which it is driven: what the source adds, or what is divided down before it, goes there. Null where it
   * is driven otherwise.
   */
  readonly entrance: string | null
  /** The response of its values, in closed form. */
  transfer(values: Values): TransferFunction
  draw(pen: SectionPen): void
}
