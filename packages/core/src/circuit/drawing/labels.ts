import { formatQuantity } from '../../quantity/formatQuantity.js'
import type { Circuit, GridPoint, Part } from '../circuit.js'
import type { EffectiveValue } from '../effectiveValues.js'
import { type Box, isUpright, overlap, symbolBox, wireBoxes } from './geometry.js'
import { partKind } from '../parts/index.js'

/** Where a part's label stands, and whether name and value share a line. */
export interface LabelPlace {
  readonly side: 'above' | 'below' | 'left' | 'right'
  readonly lines: 1 | 2
}

/** Grid units of a letter and of a line, at the size that a drawing writes them; a letter is rather taken too wide. */
const LETTER = 0.47
const LINE = 1.27
const GAP = 0.2

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
const CANDIDATES: Readonly<Record<'lying' | 'lyingBelow' | 'standing', readonly LabelPlace[]>> = {
  lying: [ABOVE, BELOW, ABOVE_TWO, BELOW_TWO],
  lyingBelow: [BELOW, ABOVE, BELOW_TWO, ABOVE_TWO],
  standing: [
    { side: 'right', lines: 2 },
    { side: 'left', lines: 2 },
    { side: 'right', lines: 1 },
    { side: 'left', lines: 1 },
  ],
}

/**
 * What a drawing says of a part's main value: with its unit, as a word, or as the formula that cannot be worked out; null
 * for a part without one. A number without a unit stands without a prefix where it can be read so.
 */
export function valueText(part: Part, values: Readonly<Record<string, EffectiveValue>> | null): string | null {
  const kind = partKind(part.kind, part.id)
  const field = kind.values.find((f) => f.id === kind.mainValue)
  if (!field) return null
  if (!values) return part.formulas?.[field.id] ?? '?'
  const { value } = values[field.id]!
  const word = kind.valueWord?.(value)
  if (word) return word
  return field.unit === '' && Math.abs(value) >= 1e-3 && Math.abs(value) < 1e4
    ? String(Number(value.toPrecision(4)))
    : formatQuantity(value, field.unit)
}

/** A label at a place beside its part; null where the part has no place. */
export function labelBox(part: Part, value: string | null, { side, lines }: LabelPlace): Box | null {
  const symbol = symbolBox(part)
  if (!symbol) return null
  const [name, length] = [part.id.length, value?.length ?? 0]
  const width = LETTER * (lines === 1 ? name + (length && length + 1) : Math.max(name, length))
  const height = LINE * (value === null ? 1 : lines)
  const { x, y } = part.at!
  if (side === 'above' || side === 'below') {
    const top = side === 'above' ? symbol.top - GAP - height : symbol.bottom + GAP
    return { left: x - width / 2, right: x + width / 2, top, bottom: top + height }
  }
  const left = side === 'right' ? symbol.right + GAP : symbol.left - GAP - width
  return { left, right: left + width, top: y - height / 2, bottom: y + height / 2 }
}

/** The frames of the nets' names. */
export function netBoxes(circuit: Circuit): Box[] {
  return circuit.labels.flatMap(({ name, at }) => {
    if (!at) return []
    const left = at.x - NET.left
    return [{ left, right: left + LETTER * name.length + NET.frame, top: at.y - NET.above, bottom: at.y - GAP }]
  })
}

/** The frame of the name that a net has where a row ends, or where it goes on: at the wire's end, on its height. */
export function tagBox({ net, at, goesOn }: { net: string; at: GridPoint; goesOn: boolean }): Box {
  const width = LETTER * net.length + NET.frame
  const half = (NET.above - GAP) / 2
  const left = goesOn ? at.x : at.x - width
  return { left, right: left + width, top: at.y - half, bottom: at.y + half }
}

/**
 * A place for the label of every part: the side that a reader expects unless a symbol, a wire or another label lies there.
 * Each label minds only what it could lie on, in the order of the parts, so that a change far away seldom moves it.
 *
 * @param textOf what stands after a part's name; null for nothing
 */
export function placeLabels(circuit: Circuit, textOf: (part: Part) => string | null): Map<string, LabelPlace> {
  const parts = circuit.parts.filter((p) => p.at && p.kind !== 'ground')
  const symbols = circuit.parts.flatMap((p) => (p.at ? [{ id: p.id, box: symbolBox(p)! }] : []))
  const [wires, nets] = [wireBoxes(circuit), netBoxes(circuit)]
  const labels = parts.map((part) => {
    const text = textOf(part)
    const candidates = candidatesOf(part).map((place, k) => {
      const box = labelBox(part, text, place)!
      let price = STEP * k
      for (const s of symbols) if (s.id !== part.id) price += WEIGHT.symbol * overlap(box, s.box)
      for (const wire of wires) price += WEIGHT.wire * overlap(box, wire)
      for (const net of nets) price += WEIGHT.label * overlap(box, net)
      return { place, box, price }
    })
    return { id: part.id, candidates, chosen: candidates[0] }
  })
  // A later label may have taken what an earlier one would rather have had: more rounds settle that.
  for (let round = 0; round < 4; round++) {
    let moved = false
    for (const label of labels) {
      const priceOf = ({ box, price }: (typeof label.candidates)[number]) =>
        labels.reduce((sum, l) => (l === label ? sum : sum + WEIGHT.label * overlap(box, l.chosen.box)), price)
      const best = label.candidates.reduce((a, b) => (priceOf(b) < priceOf(a) ? b : a))
      moved ||= best !== label.chosen
      label.chosen = best
    }
    if (!moved) break
  }
  return new Map(labels.map(({ id, chosen }) => [id, chosen.place]))
}

/** Places for a label, the usual one first. */
function candidatesOf(part: Part): readonly LabelPlace[] {
  if (isUpright(part)) return CANDIDATES.standing
  return partKind(part.kind, part.id).symbol.labelled === 'below' ? CANDIDATES.lyingBelow : CANDIDATES.lying
}
