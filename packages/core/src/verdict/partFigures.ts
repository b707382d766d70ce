import type { Circuit } from '../circuit/circuit.js'
import { flatten } from '../circuit/flatten.js'
import type { FlatElement } from '../circuit/parts/PartKind.js'

/** Figures of the parts that a circuit is built of, those inside its blocks included, their values as they count. */
export class PartFigures {
  private readonly elements: readonly FlatElement[]

  /** @throws VoskelError as `flatten` */
  constructor(circuit: Circuit) {
    this.elements = flatten(circuit).elements
  }

  /** How many parts are bought: sources are not. */
  get bought(): number {
    return this.elements.filter((e) => !e.kind.takesWaveform).length
  }

  countOf(kind: string): number {
    return this.elements.filter((e) => e.kind.id === kind).length
  }

  /** The main values of all parts of a kind. */
  valuesOf(kind: string): number[] {
    return this.elements.flatMap(({ kind: { id, mainValue }, values }) =>
      id === kind && mainValue ? [values[mainValue]!] : [],
    )
  }

  /** Largest over smallest value of one kind of part, of the kind where that is most. */
  get spread(): number {
    const ratios = ['resistor', 'capacitor', 'inductor'].map((kind) => {
      const values = this.valuesOf(kind).map(Math.abs)
      return values.length > 1 ? Math.max(...values) / Math.min(...values) : 1
    })
    return Math.max(...ratios)
  }
}
