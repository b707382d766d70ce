import type { z } from 'zod'
import type { Circuit } from '../../circuit/circuit.js'
import type { Design } from './Design.js'

/** A block of parts and models in a document, with its path. */
export type Block = readonly [path: string, circuit: Circuit]

/** How documents of an earlier version are read: by their own schema, then brought up to this one. */
export interface Upgrade<T = unknown> {
  readonly version: number
  readonly schema: z.ZodType<T>
  /** The circuits in a document. */
  blocksOf(document: T): readonly Block[]
  upgrade(document: T): Design
}
