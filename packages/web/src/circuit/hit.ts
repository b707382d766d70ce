import { type Box, type End, endPoint, type GridPoint, NetMap, placedPins, noteBox } from '@voskel/core'
import { type Scene } from './scene'

/** What lies under a finger. Places are on the drawing, in grid units. */
export type Hit =
  | { readonly kind: 'pin'; readonly end: End; readonly at: GridPoint }
  | { readonly kind: 'label'; readonly part: string; readonly box: Box }
  | { readonly kind: 'name'; readonly label: string; readonly name: string }
  | { readonly kind: 'part'; readonly part: string }
  | {
      readonly kind: 'wire'
      readonly wire: string
      readonly stretch: number
      readonly at: GridPoint
      readonly isHandle: boolean
    }
  | { readonly kind: 'note'; readonly note: string }
  | { readonly kind: 'paper'; readonly at: GridPoint }

/** Grid units from a pin, and from a wire, at which they are still meant. */
const PIN_REACH = 0.55
const WIRE_REACH = 0.4

/** Finds what lies under a place, the smallest first: a pin, a handle, words, a symbol, a wire, a text, paper. */
export class Hits {
  private readonly ends: readonly { readonly end: End; readonly at: GridPoint }[]

  constructor(private readonly scene: Scene) {
    const { circuit } = scene.drawing
    this.ends = [
      ...placedPins(circuit, NetMap.of(circuit)).map(({ part, pin, at }) => ({ end: { part, pin }, at })),
      ...circuit.junctions.flatMap(({ id }) => {
        const at = endPoint(circuit, { junction: id })
        return at ? [{ end: { junction: id }, at }] : []
      }),
    ]
  }

  /** @param reach how much farther than usual something is still meant: fingers are thick */
  at(p: GridPoint, chosenWires: ReadonlySet<string> = new Set(), reach = 0): Hit {
    const pin = this.pinAt(p, reach)
    if (pin) return pin
    const wire = this.wireAt(p, chosenWires, reach)
    if (wire?.isHandle) return wire
    const label = this.scene.labels.find((l) => isIn(p, l.box))
    if (label) return { kind: 'label', part: label.id, box: label.box }
    const name = this.scene.names.find((n) => !n.row && isIn(p, n.box))
    if (name) return { kind: 'name', label: name.id, name: name.name }
    const symbol = this.scene.symbols.findLast((s) => isIn(p, s.box))
    if (symbol) return { kind: 'part', part: symbol.id }
    if (wire) return wire
    const note = this.scene.notes.find((n) => isIn(p, noteBox(n)))
    return note ? { kind: 'note', note: note.id } : { kind: 'paper', at: onGrid(p) }
  }

  pinAt(p: GridPoint, reach = 0): Extract<Hit, { kind: 'pin' }> | null {
    let best: { end: End; at: GridPoint; far: number } | null = null
    for (const { end, at } of this.ends) {
      const far = Math.hypot(at.x - p.x, at.y - p.y)
      if (far <= PIN_REACH + reach && (!best || far < best.far)) best = { end, at, far }
    }
    return best && { kind: 'pin', end: best.end, at: best.at }
  }

  private wireAt(p: GridPoint, chosen: ReadonlySet<string>, reach: number): Extract<Hit, { kind: 'wire' }> | null {
    for (const { id, pieces } of this.scene.wires) {
      let stretch = 0
      for (const piece of pieces)
        for (let k = 0; k + 1 < piece.length; k++, stretch++) {
          const [a, b] = [piece[k]!, piece[k + 1]!]
          const x = Math.min(Math.max(a.x, b.x), Math.max(Math.min(a.x, b.x), p.x))
          const y = Math.min(Math.max(a.y, b.y), Math.max(Math.min(a.y, b.y), p.y))
          if (Math.hypot(p.x - x, p.y - y) > WIRE_REACH + reach) continue
          const middle = { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 }
          const isHandle = chosen.has(id) && Math.hypot(p.x - middle.x, p.y - middle.y) <= PIN_REACH + reach
          const at =
            a.y === b.y
              ? { x: within(Math.round(p.x), a.x, b.x), y: a.y }
              : { x: a.x, y: within(Math.round(p.y), a.y, b.y) }
          return { kind: 'wire', wire: id, stretch, at, isHandle }
        }
    }
    return null
  }

  /** Parts, wires, names and texts that lie in a frame. */
  inside(frame: Box): Chosen {
    const has = (b: Box) =>
      b.left >= frame.left && b.right <= frame.right && b.top >= frame.top && b.bottom <= frame.bottom
    const hasPoint = (p: GridPoint) =>
      p.x >= frame.left && p.x <= frame.right && p.y >= frame.top && p.y <= frame.bottom
    return {
      parts: new Set(this.scene.symbols.filter((s) => has(s.box)).map((s) => s.id)),
      wires: new Set(this.scene.wires.filter((w) => w.pieces.flat().every(hasPoint)).map((w) => w.id)),
      labels: new Set(this.scene.names.filter((n) => !n.row && has(n.box)).map((n) => n.id)),
      notes: new Set(this.scene.notes.filter((n) => has(noteBox(n))).map((n) => n.id)),
    }
  }
}

/** What is chosen on a sheet. */
export interface Chosen {
  readonly parts: ReadonlySet<string>
  readonly wires: ReadonlySet<string>
  readonly labels: ReadonlySet<string>
  readonly notes: ReadonlySet<string>
}

export const NOTHING_CHOSEN: Chosen = { parts: new Set(), wires: new Set(), labels: new Set(), notes: new Set() }

export const isNothing = ({ parts, wires, labels, notes }: Chosen): boolean =>
  parts.size + wires.size + labels.size + notes.size === 0

/** Both together; what is in both goes. */
export function toggled(a: Chosen, b: Chosen): Chosen {
  const both = (x: ReadonlySet<string>, y: ReadonlySet<string>) =>
    new Set([...x].filter((id) => !y.has(id)).concat([...y].filter((id) => !x.has(id))))
  return {
    parts: both(a.parts, b.parts),
    wires: both(a.wires, b.wires),
    labels: both(a.labels, b.labels),
    notes: both(a.notes, b.notes),
  }
}

const isIn = (p: GridPoint, b: Box) => p.x >= b.left && p.x <= b.right && p.y >= b.top && p.y <= b.bottom

const within = (v: number, a: number, b: number) => Math.min(Math.max(a, b), Math.max(Math.min(a, b), v))

export const onGrid = ({ x, y }: GridPoint): GridPoint => ({ x: Math.round(x), y: Math.round(y) })
