import type { PartKind, PartShape } from './PartKind.js'
import { formatShort } from '../../quantity/formatQuantity.js'
import { textWidth } from '../drawing/lettering.js'

/** Where a pin is looked for by its name, as on a block diagram: what comes in left, what goes out right, supplies above and below. */
const OUT = /^(out|q|y|z)/i
const ABOVE = /^(v(cc|dd|pos|plus|p)|\+|pos)$/i
const BELOW = /^(v(ee|ss|neg|minus)|gnd|ground|-|neg|0)$/i

/** Grid units between two pins of a side, and an em of their names. */
const PITCH = 2
const EM = 0.8

/** A box with its pins' names inside. */
function shaped(names: readonly string[]): PartShape {
  const pins = names.map((name, k) => ({ id: `p${k + 1}`, name }))
  const named = (test: RegExp) => pins.filter((p) => test.test(p.name))
  const [above, below] = [named(ABOVE), named(BELOW)]
  const rest = pins.filter((p) => !above.includes(p) && !below.includes(p))
  const out = rest.filter((p) => OUT.test(p.name))
  // Names that say nothing: the first half comes in.
  const right = out.length > 0 ? out : rest.slice(Math.ceil(rest.length / 2))
  const left = rest.filter((p) => !right.includes(p))
  const widest = (of: typeof pins) => Math.max(0, ...of.map((p) => EM * textWidth(p.name)))
  const across = Math.max(above.length, below.length)
  const half = Math.max(2, Math.ceil((widest(left) + widest(right) + 1) / 2), across * PITCH)
  const down = Math.max(left.length, right.length, 1)
  const high = down + (above.length > 0 || below.length > 0 ? 1 : 0)
  const spread = (of: typeof pins, place: (offset: number) => readonly [number, number]) =>
    of.map(({ id, name }, k) => ({ id, name, at: place(PITCH * k - (of.length - 1)) }))
  const sides = {
    left: spread(left, (y) => [-half - 1, y]),
    right: spread(right, (y) => [half + 1, y]),
    above: spread(above, (x) => [x, -high - 1]),
    below: spread(below, (x) => [x, high + 1]),
  }
  const inset = (name: string) => 0.3 + (EM * textWidth(name)) / 2
  const all = Object.values(sides).flat()
  return {
    pins: pins.map((p) => p.id),
    flow: { in: left.map((p) => p.id), out: right.map((p) => p.id) },
    pinPlaces: Object.fromEntries(all.map(({ id, at }) => [id, at])),
    symbol: {
      strokes: [
        `M${-half} ${-high}H${half}V${high}H${-half}Z`,
        ...sides.left.map(({ at: [x, y] }) => `M${x} ${y}H${x + 1}`),
        ...sides.right.map(({ at: [x, y] }) => `M${x} ${y}H${x - 1}`),
        ...sides.above.map(({ at: [x, y] }) => `M${x} ${y}V${y + 1}`),
        ...sides.below.map(({ at: [x, y] }) => `M${x} ${y}V${y - 1}`),
      ],
      texts: [
        ...sides.left.map(({ name, at: [, y] }) => ({ x: -half + inset(name), y, text: name })),
        ...sides.right.map(({ name, at: [, y] }) => ({ x: half - inset(name), y, text: name })),
        ...sides.above.map(({ name, at: [x] }) => ({ x, y: -high + 0.8, text: name })),
        ...sides.below.map(({ name, at: [x] }) => ({ x, y: high - 0.8, text: name })),
      ],
      labelled: 'below',
      half: [half + (left.length + right.length > 0 ? 1 : 0), high + (above.length + below.length > 0 ? 1 : 0)],
    },
  }
}

const known = new Map<string, PartShape>()

/** A use of one of the circuit's own definitions; flattening replaces it, so it has no equations itself. */
export const subcircuit: PartKind = {
  id: 'subcircuit',
  name: 'Block',
  words: ['subcircuit'],
  letter: 'X',
  group: 'join',
  // Pins are numbered p1, p2, … by the definition.
  pins: [],
  pinPlaces: {},
  symbol: { strokes: ['M-2 -2H2V2H-2Z'], half: [2, 2] },
  shapeFor({ pins = [] }) {
    const key = JSON.stringify(pins)
    let shape = known.get(key)
    if (!shape) known.set(key, (shape = shaped(pins)))
    return shape
  },
  values: [],
  describe: ({ definition = '', values, formulas }) =>
    [
      definition,
      ...Object.entries(values).map(([name, value]) => `${name} = ${formatShort(value, '')}`),
      ...Object.entries(formulas ?? {}).map(([name, formula]) => `${name} = ${formula}`),
    ].join(', '),
  stamp: () => {},
}
