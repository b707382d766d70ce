import { type FlatElement, GROUND, type Stamper, type StoragePlace } from '../circuit/parts/PartKind.js'
import type { Complex } from '../numeric/complex.js'
import { CENTRAL_DIFFERENCE } from '../numeric/differences.js'
import type { ComplexSystem } from './complexSystem.js'
import { type Mna, placeTerms, type Probe } from './mna.js'

/** What a value does to the linear equations: x·d/dx of the entries and of each current's terms. */
export interface Influence {
  /** [row, column, g, c] of (g + s·c) */
  readonly entries: readonly (readonly [row: number, column: number, g: number, c: number])[]
  /** By element whose current is written with its own values. */
  readonly currents: ReadonlyMap<number, Probe>
}

/** Values of elements, by index, where they differ from the circuit's own. */
export type Changed = ReadonlyMap<number, Readonly<Record<string, number>>>

/** Relative step of the differences; four of them leave its fourth power, about 1e-14. */
const STEP = 2 ** -12

/**
 * x·d/dx of the equations by one number, from central differences of what the parts write: the equations are rational in
 * every value, so that nothing but rounding (1e-12 of an entry) is lost.
 *
 * @param changed the elements' values where the number has grown by a factor
 */
export function influence(mna: Mna, changed: (factor: number) => Changed): Influence {
  const entries: [number, number, number, number][] = []
  const currents = new Map<number, (readonly [number, number, number])[]>()
  for (const [steps, weight] of CENTRAL_DIFFERENCE) {
    const factor = weight / STEP
    const written = equationsOf(mna, changed(1 + steps * STEP))
    for (const [row, column, g, c] of written.entries) entries.push([row, column, factor * g, factor * c])
    for (const [element, terms] of written.currents) {
      const own = currents.get(element) ?? []
      for (const [column, g, c] of terms) own.push([column, factor * g, factor * c])
      currents.set(element, own)
    }
  }
  return {
    entries: merged(entries, ([row, column]) => row * mna.size + column),
    currents: new Map([...currents].map(([element, terms]) => [element, merged(terms, ([column]) => column)])),
  }
}

/** yᵀ·(G′ + s·C′)·x for the vectors that a system has solved for. */
export function bilinear({ entries }: Influence, s: Complex, { xRe, xIm, yRe, yIm }: ComplexSystem): Complex {
  let re = 0
  let im = 0
  for (const [row, column, g, c] of entries) {
    const tr = yRe[row] * xRe[column] - yIm[row] * xIm[column]
    const ti = yRe[row] * xIm[column] + yIm[row] * xRe[column]
    const [ar, ai] = [g + s.re * c, s.im * c]
    re += ar * tr - ai * ti
    im += ar * ti + ai * tr
  }
  return { re, im }
}

/** Sums those of one place; what cancels to rounding is nothing. */
function merged<T extends readonly number[]>(terms: readonly T[], place: (term: T) => number): T[] {
  const sums = new Map<number, { term: number[]; size: number[] }>()
  for (const term of terms) {
    const at = term.length - 2
    const sum = sums.get(place(term))
    if (!sum) sums.set(place(term), { term: [...term], size: [Math.abs(term[at]), Math.abs(term[at + 1])] })
    else {
      for (const k of [0, 1]) {
        sum.term[at + k] += term[at + k]
        sum.size[k] += Math.abs(term[at + k])
      }
    }
  }
  return [...sums.values()].flatMap(({ term, size }) => {
    const at = term.length - 2
    for (const k of [0, 1]) if (Math.abs(term[at + k]) < 1e-14 * size[k]) term[at + k] = 0
    return term[at] === 0 && term[at + 1] === 0 ? [] : [term as unknown as T]
  })
}

/** What the changed elements, and those that refer to them, write. */
function equationsOf(mna: Mna, changed: Changed): Influence {
  const collector = new Collector(mna, changed)
  mna.circuit.elements.forEach((element, index) => {
    if (changed.has(index) || element.refs.some((r) => changed.has(r))) collector.stamp(index)
  })
  return collector
}

/** What one element writes into the equations at its own values. */
export function entriesOf(mna: Mna, index: number): Influence['entries'] {
  const collector = new Collector(mna, new Map())
  collector.stamp(index)
  return collector.entries
}

class Collector implements Stamper {
  readonly entries: [number, number, number, number][] = []
  readonly currents = new Map<number, Probe>()
  readonly temperature: number
  private index = 0

  constructor(
    private readonly mna: Mna,
    private readonly changed: Changed,
  ) {
    this.temperature = mna.temperature
  }

  stamp(index: number): void {
    this.index = index
    const element = this.element(index)
    element.kind.stamp(this, element)
  }

  entry(row: number, column: number, g: number): void {
    if (row !== GROUND && column !== GROUND) this.entries.push([row, column, g, 0])
  }

  store(at: StoragePlace, of: StoragePlace, value: number): void {
    for (const [row, rowSign] of placeTerms(at)) {
      for (const [column, sign] of placeTerms(of)) {
        if (row === GROUND || column === GROUND) continue
        this.entries.push([row, column, 0, ('branch' in at ? -1 : rowSign * sign) * value])
      }
    }
  }

  branch(): number {
    return this.mna.branches.get(this.index)!
  }

  branchOf(element: number): number {
    return this.mna.branches.get(element)!
  }

  currentOf(element: number): Probe {
    return this.currents.get(element) ?? this.mna.currents.get(element)!
  }

  element(index: number): FlatElement {
    const element = this.mna.circuit.elements[index]
    const values = this.changed.get(index)
    return values ? { ...element, values } : element
  }

  net(name: string): number {
    return this.mna.unknowns.indexOf(`v(${this.mna.circuit.elements[this.index].name}:${name})`)
  }

  current(terms: Probe): void {
    this.currents.set(
      this.index,
      terms.filter(([column]) => column !== GROUND),
    )
  }

  source(): void {}
  noise(): void {}
  device(): void {}
}
