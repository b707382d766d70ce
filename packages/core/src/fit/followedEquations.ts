import { entriesOf, type Influence } from '../analysis/influence.js'
import type { Mna } from '../analysis/mna.js'
import type { BoundSignals } from '../analysis/signals.js'
import type { Varied } from './varied.js'

/** Entries of the equations that one number writes: all of them in proportion to it, or to one over it. */
interface Followed {
  readonly law: 'proportional' | 'inverse'
  readonly value: number
  readonly influence: Influence
  /** Of each entry of the influence its place in the equations. */
  readonly slots: Int32Array
}

/** A number that is tried, over its own: no power of two, so that nothing agrees by chance. */
const TRIED = 1.37
/** Equations that agree to this part are the same: influences are differences and err by so much. */
const SAME = 1e-11

/**
 * Equations that follow some numbers without being written anew: of resistances, capacitances, inductances and gains each entry is in
 * proportion to its number or to one over it. Whether that is so is seen by what the parts write, and tried.
 */
export class FollowedEquations {
  private bound: BoundSignals | null = null
  private readonly g: Float64Array
  private readonly c: Float64Array
  private readonly mna: Mna

  private constructor(
    private readonly first: Mna,
    private readonly followed: readonly Followed[],
  ) {
    this.g = first.g.slice()
    this.c = first.c.slice()
    this.mna = { ...first, g: this.g, c: this.c }
  }

  /**
   * @param first the equations at the numbers' own values, with what a relative change of each does to them
   * @param written the equations at other values, written anew; null where a part cannot have them
   * @returns null where they do not follow like that
   */
  static of(
    first: Mna,
    influences: readonly Influence[],
    varied: readonly Varied[],
    written: (values: Float64Array) => Mna | null,
  ): FollowedEquations | null {
    const places = new Map(Array.from(first.pattern.rows, (row, e) => [row * first.size + first.pattern.cols[e], e]))
    const own = Float64Array.from(varied, (v) => v.value)
    const followed = influences.map((influence, k): Followed | null => {
      const slots = Int32Array.from(influence.entries, ([row, column]) => places.get(row * first.size + column) ?? -1)
      const { target, value } = varied[k]
      const law = 'element' in target ? lawOf(entriesOf(first, target.element), influence) : null
      return law && !slots.includes(-1) ? { law, value, influence, slots } : null
    })
    if (!followed.every((f) => f !== null)) return null
    const all = new FollowedEquations(first, followed)
    // One number may change what another does, as a coupling does with its coils.
    const values = own.map((v, k) => v * TRIED ** (1 + k / own.length))
    const together = written(values)
    return together && agree(all.valuesAt(values), together) ? all : null
  }

  /** The equations at other numbers, in memory that the next call overwrites. */
  at(values: Float64Array, boundTo: (mna: Mna) => BoundSignals) {
    this.valuesAt(values)
    const influences = this.followed.map(({ law, value, influence }, k): Influence => {
      const factor = law === 'proportional' ? values[k] / value : value / values[k]
      return {
        ...influence,
        entries: influence.entries.map(([row, column, g, c]) => [row, column, factor * g, factor * c] as const),
      }
    })
    return { mna: this.mna, influences, bound: (this.bound ??= boundTo(this.mna)) }
  }

  private valuesAt(values: ArrayLike<number>): { g: Float64Array; c: Float64Array } {
    const { g, c, first } = this
    g.set(first.g)
    c.set(first.c)
    this.followed.forEach(({ law, value, influence: { entries }, slots }, k) => {
      // What a relative change does is the entry itself, or less it.
      const more = law === 'proportional' ? values[k] / value - 1 : 1 - value / values[k]
      entries.forEach(([, , eg, ec], e) => {
        g[slots[e]] += more * eg
        c[slots[e]] += more * ec
      })
    })
    return { g, c }
  }
}

/** What a part writes is what a relative change of its number does to it, or less that; null where it is neither. */
function lawOf(written: Influence['entries'], { entries }: Influence): Followed['law'] | null {
  const signs = entries.map(([row, column, g, c]) => {
    const own = written.filter(([r, k]) => r === row && k === column)
    const sum = own.reduce((s, [, , eg, ec]) => ({ g: s.g + eg, c: s.c + ec }), { g: 0, c: 0 })
    const is = (sign: number) => near(sum.g, sign * g) && near(sum.c, sign * c)
    return is(1) ? 1 : is(-1) ? -1 : 0
  })
  if (signs.every((s) => s === 1)) return 'proportional'
  return signs.every((s) => s === -1) ? 'inverse' : null
}

/** Differences leave so much of an entry. */
const NEAR = 1e-9
const near = (a: number, b: number): boolean => Math.abs(a - b) <= NEAR * Math.max(Math.abs(a), Math.abs(b))

function agree(found: { g: Float64Array; c: Float64Array }, written: Mna): boolean {
  const same = (a: Float64Array, b: Float64Array) =>
    a.length === b.length && a.every((v, k) => Math.abs(v - b[k]) <= SAME * Math.max(Math.abs(v), Math.abs(b[k])))
  return same(found.g, written.g) && same(found.c, written.c)
}
