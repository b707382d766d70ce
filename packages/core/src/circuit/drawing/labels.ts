import { formatQuantity } from '../../quantity/formatQuantity.js'
import type { Circuit, GridPoint, Note, Part } from '../circuit.js'
import type { EffectiveValue } from '../effectiveValues.js'
import { Boxes, TOUCHING } from './Boxes.js'
import {
  around,
  type Box,
  endPoint,
  pinAt,
  inflated,
  isOnNet,
  isUpright,
  movedBox,
  overlap,
  symbolBox,
  wireBoxes,
} from './geometry.js'
import { textWidth } from './lettering.js'
import { partKind, partShape } from '../parts/index.js'

/** Name and value in one line, in two, or each phrase of the value in one of its own. */
export type LabelLines = 1 | 2 | 'all'

/** Where a part's label stands, and in how many lines. */
export interface LabelPlace {
  readonly side: 'above' | 'below' | 'left' | 'right'
  readonly lines: LabelLines
  /** From where it usually stands on that side: it was put elsewhere, or found no room there. */
  readonly shift?: GridPoint
}

/** Grid units of an em and of a line, at the size that a drawing writes. */
const EM = 15 / 16
const LINE = 1.27
/** Between a name and its value in one line. */
const BETWEEN = 0.32
const GAP = 0.2
/** Between the words of two parts. */
const AIR = 0.25

/** The frame of a net's name: where it begins from the place of the name, and what it adds to the letters' width. */
const NET = { above: 2.1, left: 0.875, frame: 1 } as const

/** What weighs how much where something must give way, per square unit of overlap. */
const WEIGHT = { label: 12, symbol: 8, wire: 3 } as const
/** What a less usual side costs. */
const STEP = 0.4

const [ABOVE, BELOW]: readonly LabelPlace[] = [
  { side: 'above', lines: 1 },
  { side: 'below', lines: 1 },
]
const [ABOVE_TWO, BELOW_TWO]: readonly LabelPlace[] = [
  { side: 'above', lines: 2 },
  { side: 'below', lines: 2 },
]
const BESIDE: readonly LabelPlace[] = [
  { side: 'right', lines: 2 },
  { side: 'left', lines: 2 },
  { side: 'right', lines: 1 },
  { side: 'left', lines: 1 },
]
/** Grid units beyond which what a part says stands in several lines. */
const LONG = 9

/** Where what a part says has many phrases: a source's bias, AC and waveform. */
const BROKEN: readonly LabelPlace[] = [
  { side: 'right', lines: 'all' },
  { side: 'left', lines: 'all' },
]
const CANDIDATES: Readonly<Record<'lying' | 'lyingBelow' | 'standing' | 'beside', readonly LabelPlace[]>> = {
  lying: [ABOVE, BELOW, ABOVE_TWO, BELOW_TWO],
  lyingBelow: [BELOW, ABOVE, BELOW_TWO, ABOVE_TWO],
  standing: BESIDE,
  beside: [...BESIDE, ABOVE, BELOW],
}

/**
 * What a drawing says of a part's main value: with its unit, as a word, or as the formula that cannot be worked out; null
 * for a part without one. A number without a unit stands without a prefix where it can be read so.
 */
export function valueText(part: Part, values: Readonly<Record<string, EffectiveValue>> | null): string | null {
  const kind = partKind(part.kind, part.id)
  const field = kind.values.find((f) => f.id === kind.mainValue)
  if (!field) {
    if (!kind.describe || !values) return null
    return kind.describe(part, Object.fromEntries(Object.entries(values).map(([id, { value }]) => [id, value])))
  }
  if (!values) return part.formulas?.[field.id] ?? '?'
  const { value } = values[field.id]!
  const word = kind.valueWord?.(value)
  if (word) return word
  return field.unit === '' && Math.abs(value) >= 1e-3 && Math.abs(value) < 1e4
    ? String(Number(value.toPrecision(4)))
    : formatQuantity(value, field.unit)
}

/** A label at a place beside its part; null where the part has no place. */
export function labelBox(part: Part, value: string | null, place: LabelPlace): Box | null {
  const box = usualBox(part, value, place)
  return box && place.shift ? movedBox(box, place.shift) : box
}

/** What stands between two phrases of a value. */
const PHRASES = /(?<=,) /

/** The lines of a label; the first begins with the part's name. */
export function labelRows(id: string, value: string | null, lines: LabelLines): readonly (readonly string[])[] {
  if (value === null) return [[id]]
  if (lines === 1) return [[id, value]]
  return [[id], ...(lines === 2 ? [value] : value.split(PHRASES)).map((row) => [row])]
}

function usualBox(part: Part, value: string | null, { side, lines }: LabelPlace): Box | null {
  const symbol = symbolBox(part)
  if (!symbol) return null
  const rows = labelRows(part.id, value, lines)
  const widthOf = (words: readonly string[]) =>
    words.reduce((sum, word) => sum + EM * textWidth(word), BETWEEN * (words.length - 1))
  const width = Math.max(...rows.map(widthOf))
  const height = LINE * rows.length
  const { x, y } = part.at!
  if (side === 'above' || side === 'below') {
    const top = side === 'above' ? symbol.top - GAP - height : symbol.bottom + GAP
    return { left: x - width / 2, right: x + width / 2, top, bottom: top + height }
  }
  const left = side === 'right' ? symbol.right + GAP : symbol.left - GAP - width
  return { left, right: left + width, top: y - height / 2, bottom: y + height / 2 }
}

/** The frame of a net's name, from the place that it names. */
export function nameBox(name: string, { x, y }: GridPoint, side: NameSide = 'above'): Box {
  const [width, height] = [EM * textWidth(name) + NET.frame, NET.above - GAP]
  const left = x - NET.left
  switch (side) {
    case 'above':
      return { left, right: left + width, top: y - NET.above, bottom: y - GAP }
    case 'above left':
      return { left: x + NET.left - width, right: x + NET.left, top: y - NET.above, bottom: y - GAP }
    case 'below':
      return { left, right: left + width, top: y + GAP, bottom: y + NET.above }
    case 'right':
      return { left: x + GAP, right: x + GAP + width, top: y - height / 2, bottom: y + height / 2 }
    case 'left':
      return { left: x - GAP - width, right: x - GAP, top: y - height / 2, bottom: y + height / 2 }
  }
}

/** Grid units of an em and a line of a text on the sheet, by what it is. */
export const NOTE_SIZE = { title: { em: 20 / 16, line: 1.8 }, text: { em: EM, line: 1.3 } } as const

/** The frame of a text on the sheet. */
export function noteBox({ at, as, text }: Note): Box {
  const { em, line } = NOTE_SIZE[as]
  const lines = text.split('\n')
  const width = em * Math.max(...lines.map(textWidth))
  return { left: at.x, right: at.x + width, top: at.y, bottom: at.y + line * lines.length }
}

const noteBoxes = ({ notes = [] }: Circuit): Box[] => notes.map(noteBox)

/** What is drawn but for words that may stand elsewhere. */
const drawn = (circuit: Circuit): Box[] => [
  ...circuit.parts.flatMap((p) => symbolBox(p) ?? []),
  ...wireBoxes(circuit),
  ...noteBoxes(circuit),
]

/** Where a net's name stands beside what it names, the usual side first. */
const NAME_SIDES = ['above', 'below', 'right', 'left', 'above left'] as const
type NameSide = (typeof NAME_SIDES)[number]

/** Beside a pin that leads sideways and that no wire leaves, the name goes on where a wire would. */
function sidesOf(
  circuit: Circuit,
  { end }: Circuit['labels'][number],
  wired: ReadonlySet<string>,
): readonly NameSide[] {
  if (!('part' in end)) return NAME_SIDES
  const part = circuit.parts.find((p) => p.id === end.part)!
  const { x, y, faces } = pinAt(part, part.at!, end.pin)
  if (wired.has(`${x} ${y}`)) return NAME_SIDES
  const first = faces === 'up' ? 'above' : faces === 'down' ? 'below' : faces
  return [first, ...NAME_SIDES.filter((side) => side !== first)]
}

/** Whether a net's name stands on the drawing. */
export const isShown = ({ shown }: Circuit['labels'][number]): boolean => shown !== false

/** Where the frame of each net's name lies, by the label: where it was put, else on a side that is free. */
export function namePlaces(circuit: Circuit): Map<string, Box> {
  const found = new Map<string, Box>()
  const shown = circuit.labels.filter(isShown)
  const free = shown.flatMap((label) => {
    const stands = isOnNet(circuit, label)
    if (label.at && !stands) found.set(label.id, nameBox(label.name, label.at))
    const at = stands ? label.at : endPoint(circuit, label.end)
    return at ? [{ label, at }] : []
  })
  if (found.size === shown.length) return found
  const taken = new Boxes([...drawn(circuit), ...found.values()])
  const wired = new Set(
    circuit.wires.flatMap((w) => w.ends.flatMap((e) => endPoint(circuit, e) ?? []).map(({ x, y }) => `${x} ${y}`)),
  )
  for (const { label, at } of free) {
    if (found.has(label.id)) continue
    const boxes = sidesOf(circuit, label, wired).map((side) => nameBox(label.name, at, side))
    const box = boxes.find((b) => taken.isFree(b)) ?? taken.nearestFree(boxes[0])
    found.set(label.id, box)
    taken.insert(box)
  }
  return found
}

/** The frames of the nets' names. */
export const netBoxes = (circuit: Circuit): Box[] => [...namePlaces(circuit).values()]

/** The frame of the name that a net has where a row ends, or where it goes on: at the wire's end, on its height. */
export function tagBox({ net, at, goesOn }: { net: string; at: GridPoint; goesOn: boolean }): Box {
  const width = EM * textWidth(`${net} ›`) + NET.frame - 0.5
  const half = (NET.above - GAP) / 2
  const left = goesOn ? at.x : at.x - width
  return { left, right: left + width, top: at.y - half, bottom: at.y + half }
}

/**
 * A place for the label of every part: the side that a reader expects unless a symbol, a wire or another label lies there.
 * Each label minds only what it could lie on, in the order of the parts, so that a change far away seldom moves it.
 *
 * @param textOf what stands after a part's name; null for nothing
 * @param names the frames of the nets' names, which were there first
 */
export function placeLabels(
  circuit: Circuit,
  textOf: (part: Part) => string | null,
  names: readonly Box[] = netBoxes(circuit),
): Map<string, LabelPlace> {
  const words = new Boxes([...names, ...noteBoxes(circuit)])
  const parts = circuit.parts.filter((p) => p.at && p.kind !== 'ground')
  const symbols = new Boxes(circuit.parts.flatMap((p) => (p.at ? [{ id: p.id, ...symbolBox(p)! }] : [])))
  const wires = new Boxes(wireBoxes(circuit))
  const labels = parts.map((part) => {
    const text = textOf(part)
    const places = part.label ? [byHand(part, text, part.label)] : candidatesOf(part, text)
    const others = (box: Box) => symbols.on(box).filter((s) => s.id !== part.id)
    const priced = places.map((place, k) => {
      const box = labelBox(part, text, place)!
      const hidden =
        WEIGHT.symbol * others(box).reduce((sum, other) => sum + overlap(box, other), 0) +
        WEIGHT.wire * wires.covering(box) +
        WEIGHT.label * words.covering(box)
      return { place, box, hidden, price: hidden + STEP * k }
    })
    const reach = inflated(priced.map((p) => p.box).reduce(around), AIR)
    return { part, text, ...reach, candidates: priced, chosen: priced[0] }
  })
  type Labelled = (typeof labels)[number]
  const reaches = new Boxes(labels)
  const neighbours = new Map(labels.map((label) => [label, reaches.on(label).filter((l) => l !== label)]))
  const hiddenBy = (label: Labelled, box: Box) =>
    neighbours.get(label)!.reduce((sum, l) => sum + WEIGHT.label * overlap(inflated(box, AIR), l.chosen.box), 0)
  // A later label may have taken what an earlier one would rather have had: more rounds settle that.
  for (let round = 0; round < 4; round++) {
    let moved = false
    for (const label of labels) {
      if (label.candidates.length === 1) continue
      const prices = label.candidates.map((c) => c.price + hiddenBy(label, c.box))
      const best = label.candidates[prices.indexOf(Math.min(...prices))]
      moved ||= best !== label.chosen
      label.chosen = best
    }
    if (!moved) break
  }
  // What still lies on something goes to the nearest place that is free.
  const lost = labels.filter(
    (label) => !label.part.label && label.chosen.hidden + hiddenBy(label, label.chosen.box) > TOUCHING,
  )
  for (const label of lost) {
    const { chosen } = label
    if (chosen.hidden + hiddenBy(label, chosen.box) <= TOUCHING) continue
    const others = labels.flatMap((l) => (l === label ? [] : [inflated(l.chosen.box, AIR)]))
    const box = new Boxes<Box>([...symbols.all(), ...wires.all(), ...words.all(), ...others]).nearestFree(chosen.box)
    const shift = { x: box.left - chosen.box.left, y: box.top - chosen.box.top }
    label.chosen = { place: { ...chosen.place, shift }, box, hidden: 0, price: 0 }
  }
  return new Map(labels.map(({ part, chosen }) => [part.id, chosen.place]))
}

/** Words of a layer over a drawing: what they say, line by line, and beside what. */
export interface LayerText {
  readonly lines: readonly string[]
  readonly at: GridPoint
}

/** Grid units of an em and of a line of a layer. */
export const LAYER_SIZE = { em: 13 / 16, line: 1.1 } as const

/** Ems for which a line of a layer has room: a number that changes seldom needs another. */
const ROOMS = [1.6, 3.4, 4.2, 5]
/** Beside them, both sides together. */
const PADDING = 0.6

/** What the words of a layer cover. */
export function textBox({ lines, at }: LayerText): Box {
  const most = Math.max(...lines.map(textWidth))
  const width = LAYER_SIZE.em * (PADDING + (ROOMS.find((room) => room >= most) ?? most))
  const height = LAYER_SIZE.line * lines.length
  return { left: at.x - width / 2, right: at.x + width / 2, top: at.y - height / 2, bottom: at.y + height / 2 }
}

/** Where the words of a layer stand: near their places, on nothing that is drawn and on none of each other. */
export function placeTexts(circuit: Circuit, taken: readonly Box[], wanted: readonly Box[]): Box[] {
  const lying = new Boxes([...taken, ...drawn(circuit)])
  return wanted.map((box) => {
    const place = lying.nearestFree(box)
    lying.insert(place)
    return place
  })
}

/** Where a label was put: `middle` is that of its box, from the part's place. */
function byHand(part: Part, text: string | null, middle: GridPoint): LabelPlace {
  const [place] = candidatesOf(part, text)
  const { left, right, top, bottom } = usualBox(part, text, place)!
  const { x, y } = part.at!
  return { ...place, shift: { x: x + middle.x - (left + right) / 2, y: y + middle.y - (top + bottom) / 2 } }
}

/** Places for a label, the usual one first. */
export function candidatesOf(part: Part, text: string | null): readonly LabelPlace[] {
  const { labelled } = partShape(part).symbol
  if (labelled === 'beside') return isUpright(part) ? CANDIDATES.lying : CANDIDATES.beside
  if (isUpright(part)) {
    if (!text || !PHRASES.test(text)) return CANDIDATES.standing
    return EM * textWidth(text) > LONG ? [...BROKEN, ...BESIDE] : [...BESIDE, ...BROKEN]
  }
  return labelled === 'below' ? CANDIDATES.lyingBelow : CANDIDATES.lying
}
