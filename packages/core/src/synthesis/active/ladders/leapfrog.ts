import type { Arm } from '../../passive/ladderArms.js'
import { Line } from '../../Line.js'
import { HALF, type Sketch } from '../../Sketch.js'
import { simulatedLadder } from './simulated.js'

/** A net of the ladder or the current of a coil, each the output of one amplifier. */
interface Unknown {
  name: string
  /** What flows into its sum from the others: S and F by their places, its own with them. */
  conducts: Map<number, number>
  stores: Map<number, number>
}

/** The equations of a ladder: one an unknown, whose own terms are positive. */
interface Equations {
  readonly unknowns: readonly Unknown[]
  readonly output: number
}

/** The input stands in the sums as an unknown does. */
const INPUT = -1
const GROUND = -2

/**
 * Node equations of a ladder and branch equations of its coils, all as currents: a coil's current counts as the voltage that
 * drives it through `unit`.
 *
 * @param unit Ω
 */
function equationsOf(
  arms: readonly Arm[],
  source: number | undefined,
  load: number | undefined,
  unit: number,
): Equations {
  const unknowns: Unknown[] = []
  const count = { v: 0, i: 0 }
  const unknown = (kind: 'v' | 'i') => {
    unknowns.push({ name: `${kind}${++count[kind]}`, conducts: new Map(), stores: new Map() })
    return unknowns.length - 1
  }
  const add = (into: 'conducts' | 'stores', row: number, column: number, value: number) => {
    if (row < 0 || column === GROUND) return
    const terms = unknowns[row][into]
    terms.set(column, (terms.get(column) ?? 0) + value)
  }
  const admittance = (into: 'conducts' | 'stores', a: number, b: number, value: number) => {
    add(into, a, a, value)
    add(into, b, b, value)
    add(into, a, b, -value)
    add(into, b, a, -value)
  }
  const coil = (a: number, b: number, l: number) => {
    const i = unknown('i')
    add('stores', i, i, l / (unit * unit))
    add('conducts', i, a, -1 / unit)
    add('conducts', i, b, 1 / unit)
    add('conducts', a, i, 1 / unit)
    add('conducts', b, i, -1 / unit)
  }
  let at = INPUT
  if (source !== undefined) {
    at = unknown('v')
    admittance('conducts', INPUT, at, 1 / source)
  }
  for (const { place, l, c, joined } of arms) {
    const [a, b] = place === 'series' ? [at, unknown('v')] : [at, GROUND]
    if (l !== undefined && c !== undefined && joined === 'series') {
      const between = unknown('v')
      coil(a, between, l)
      admittance('stores', between, b, c)
    } else {
      if (l !== undefined) coil(a, b, l)
      if (c !== undefined) admittance('stores', a, b, c)
    }
    if (place === 'series') at = b
  }
  if (load !== undefined) admittance('conducts', at, GROUND, 1 / load)
  return { unknowns: withoutFloating(unknowns, at), output: at }
}

/** The part of a sum that is left when its terms cancel. */
const CANCELLED = 1e-9

/**
 * Nets that capacitors join to each other and not to ground have no equation for what they have in common: amplifiers that
 * summed these capacitors would feed each other's outputs back with a gain of 1, and oscillate. One of the nets takes the sum
 * of all their equations, in which no capacitor is left; the others count as voltages against it.
 */
function withoutFloating(unknowns: readonly Unknown[], output: number): Unknown[] {
  const result = unknowns.map((u) => ({ ...u, conducts: new Map(u.conducts), stores: new Map(u.stores) }))
  for (const nets of joinedByCapacitors(unknowns)) {
    const common = nets.includes(output) ? output : nets[0]
    const sum = (of: 'conducts' | 'stores', column: number) =>
      nets.reduce((total, row) => total + (unknowns[row][of].get(column) ?? 0), 0)
    const together = (of: 'conducts' | 'stores') => nets.reduce((total, column) => total + sum(of, column), 0)
    const largest = Math.max(...nets.map((row) => unknowns[row].stores.get(row) ?? 0))
    const isHeld = Math.abs(together('stores')) > CANCELLED * largest
    if (nets.length < 2 || isHeld || !(together('conducts') > 0)) continue
    for (const of of ['conducts', 'stores'] as const) {
      const columns = new Set(nets.flatMap((row) => [...unknowns[row][of].keys()]))
      result[common][of] = new Map([...columns].map((column) => [column, sum(of, column)]))
      // Every net of them is the common one and its own voltage against it.
      for (const { [of]: terms } of result) {
        const more = nets.reduce((total, column) => total + (column === common ? 0 : (terms.get(column) ?? 0)), 0)
        if (more !== 0 || terms.has(common)) terms.set(common, (terms.get(common) ?? 0) + more)
      }
    }
    for (const { stores } of result)
      for (const [column, value] of stores) if (Math.abs(value) <= CANCELLED * largest) stores.delete(column)
    for (const row of nets) if (row !== common) result[row].name = `u${unknowns[row].name.slice(1)}`
  }
  return result
}

/** Sets of unknowns that store charge between each other. */
function joinedByCapacitors(unknowns: readonly Unknown[]): number[][] {
  const sets: number[][] = []
  const seen = new Set<number>()
  unknowns.forEach((_, first) => {
    if (seen.has(first)) return
    const set = [first]
    seen.add(first)
    for (const row of set)
      for (const column of unknowns[row].stores.keys())
        if (column >= 0 && !seen.has(column)) {
          seen.add(column)
          set.push(column)
        }
    sets.push(set)
  })
  return sets
}

/** Unknowns of which all signs are tried; of more each is turned alone as long as that helps. */
const MOST_TRIED = 14

/** The signs that the amplifiers give their unknowns, so that the fewest have to be turned over. */
function signsOf(unknowns: readonly Unknown[]): number[] {
  const cost = (signs: readonly number[]) => turnedOver(unknowns, signs).size
  const n = unknowns.length
  if (n <= MOST_TRIED) {
    let best: { signs: number[]; cost: number } | null = null
    for (let set = 0; set < 1 << n; set++) {
      const signs = Array.from({ length: n }, (_, k) => (set & (1 << k) ? -1 : 1))
      const now = cost(signs)
      if (!best || now < best.cost) best = { signs, cost: now }
    }
    return best!.signs
  }
  let signs: number[] = unknowns.map((_, k) => (k % 2 === 0 ? -1 : 1))
  for (let improved = true; improved;) {
    improved = false
    for (let k = 0; k < n; k++) {
      const next = signs.with(k, -signs[k])
      if (cost(next) < cost(signs)) [signs, improved] = [next, true]
    }
  }
  return signs
}

/** The unknowns that some sum needs turned over. */
function turnedOver(unknowns: readonly Unknown[], signs: readonly number[]): Set<number> {
  const turned = new Set<number>()
  unknowns.forEach(({ conducts, stores }, row) => {
    for (const terms of [conducts, stores])
      for (const [column, value] of terms)
        if (column !== row && signs[row] * signOf(signs, column) * value < 0) turned.add(column)
  })
  return turned
}

const signOf = (signs: readonly number[], column: number) => (column === INPUT ? 1 : signs[column])

/** Relative size below which a term has cancelled. */
const GONE = 1e-12

/** What a sum has of others and of its own, without what has cancelled. */
function termsOf({ conducts, stores }: Unknown) {
  const kinds = [
    ['resistor', conducts],
    ['capacitor', stores],
  ] as const
  return kinds.flatMap(([kind, terms]) => {
    const largest = Math.max(0, ...[...terms.values()].map(Math.abs))
    return [...terms].flatMap(([column, value]) => (Math.abs(value) > GONE * largest ? [{ kind, column, value }] : []))
  })
}

/** Grid units between the parts that a sum has, from block to block, and of a block's own. */
const ROW = 4
const PITCH = 9

/** One amplifier with what it sums. */
interface Block {
  readonly inputs: readonly { readonly from: string; readonly kind: 'resistor' | 'capacitor'; readonly value: number }[]
  readonly own: readonly { readonly kind: 'resistor' | 'capacitor'; readonly value: number }[]
  readonly output: string
}

function drawBlock(sketch: Sketch, { inputs, own, output }: Block, x: number): number {
  const bus = x + 8
  const sum = sketch.junction(bus + 2, 0)
  const rows = inputs.map((input, k) => {
    const y = ROW * k
    const id = sketch.valued(
      sketch.name(input.kind === 'resistor' ? 'R' : 'C'),
      input.kind,
      input.value,
      x + 2 + HALF,
      y,
    )
    const start = sketch.junction(x, y)
    sketch.wire(start, { part: id, pin: 'a' })
    sketch.label(input.from, start, x, y)
    const end = sketch.junction(bus, y)
    sketch.wire({ part: id, pin: 'b' }, end)
    return end
  })
  for (let k = 1; k < rows.length; k++) sketch.wire(rows[k - 1], rows[k])
  if (rows.length > 0) sketch.wire(rows[0], sum)
  const amplifier = sketch.amplifier(bus + 9, 1, 'over')
  sketch.wire(sum, { part: amplifier, pin: 'minus' })
  sketch.ground({ part: amplifier, pin: 'plus' }, bus + 6, 4)
  const out = sketch.junction(bus + 14, 1)
  sketch.wire({ part: amplifier, pin: 'out' }, out)
  let [left, right] = [sum, out]
  own.forEach(({ kind, value }, k) => {
    const y = -ROW * (k + 1)
    const id = sketch.valued(sketch.name(kind === 'resistor' ? 'R' : 'C'), kind, value, bus + 8, y)
    const [from, to] = [sketch.junction(bus + 2, y), sketch.junction(bus + 14, y)]
    sketch.wire(left, from)
    sketch.wire(from, { part: id, pin: 'a' })
    sketch.wire({ part: id, pin: 'b' }, to)
    sketch.wire(right, to)
    ;[left, right] = [from, to]
  })
  const end = sketch.junction(bus + 17, 1)
  sketch.wire(out, end)
  sketch.label(output, end, bus + 17, 1)
  return bus + 17 + PITCH
}

/** Each net's voltage and each coil's current of the ladder is an amplifier's output; what they do to each other is resistors. */
export const leapfrog = simulatedLadder({
  id: 'leapfrog',
  name: 'Leapfrog ladder',
  character:
    'Every voltage and current of the LC ladder by an integrator: as little sensitive as the ladder, gains are free.',
  source:
    'F. E. J. Girling, E. F. Good, "Active filters 12: the leap-frog or active-ladder synthesis", Wireless World 76, 1970 (from memory)',
  formulas: [
    'Σ G·v + s·Σ C·v = 0 at each amplifier’s input; a coil’s current is i = v/R: s·(L/R²)·v = (vₐ − v_b)/R',
    'nets that only capacitors between them hold: their common voltage by Σ G·v = 0, u the others’ against it',
    'all currents times α, so that capacitors come out around C and resistors around R',
  ],
  draw({ sketch, arms, source, load, size }) {
    const unit = source ?? load!
    const { unknowns, output } = equationsOf(arms, source, load, unit)
    const signs = signsOf(unknowns)
    const turned = turnedOver(unknowns, signs)
    if (signs[output] < 0) turned.add(output)
    const own = unknowns.flatMap(({ stores }, k) => (stores.has(k) ? [stores.get(k)!] : []))
    const typical = Math.exp(own.reduce((sum, c) => sum + Math.log(c), 0) / own.length)
    const scale = size / typical
    const nameOf = (column: number, sign = 1) =>
      (column === INPUT ? 'in' : unknowns[column].name) + (sign < 0 ? 'n' : '')
    const line = new Line(sketch)
    let x = 12
    const turnOver = (column: number) => {
      const R = { kind: 'resistor', value: unit / scale } as const
      x = drawBlock(sketch, { inputs: [{ from: nameOf(column), ...R }], own: [R], output: nameOf(column, -1) }, x)
    }
    if (turned.has(INPUT)) turnOver(INPUT)
    unknowns.forEach((unknown, row) => {
      const terms = termsOf(unknown).map(({ column, kind, value }) => ({
        column,
        sign: signs[row] * signOf(signs, column) * value,
        kind,
        value: kind === 'resistor' ? 1 / (Math.abs(value) * scale) : Math.abs(value) * scale,
      }))
      const [mine, others] = [terms.filter((t) => t.column === row), terms.filter((t) => t.column !== row)]
      const inputs = others.map(({ column, sign, kind, value }) => ({ from: nameOf(column, sign), kind, value }))
      x = drawBlock(sketch, { inputs, own: mine, output: nameOf(row) }, x)
      if (turned.has(row)) turnOver(row)
    })
    const start = sketch.junction(x, 0)
    sketch.label(nameOf(output, signs[output]), start, x, 0)
    line.goOn(start, x, 0)
    return line
  },
})
