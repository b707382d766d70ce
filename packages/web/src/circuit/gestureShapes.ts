import { around, type Box, followingWires, type GridPoint, noteBox } from '@voskel/core'
import type { Gesture } from './gesture'
import type { Chosen } from './hit'
import { GRID, pathOf, type Scene, type SceneSymbol, type SceneWire } from './scene'

/** What a hand moves, drawn apart from what stays. */
export interface MovingShapes {
  /** What is not shown in its place meanwhile. */
  readonly hidden: ReadonlySet<string>
  readonly symbols: readonly SceneSymbol[]
  readonly wires: readonly SceneWire[]
  readonly notes: Scene['notes']
}

export function movingShapes(scene: Scene, { parts, notes }: Chosen): MovingShapes {
  const inside = scene.drawing.circuit.wires.filter((w) => w.ends.every((e) => 'part' in e && parts.has(e.part)))
  const followers = followingWires(scene.drawing.circuit, parts, { x: 0, y: 0 })
  const texts = scene.notes.filter((n) => notes.has(n.id))
  return {
    hidden: new Set([
      ...parts,
      ...inside.map((w) => `wire ${w.id}`),
      ...[...followers.keys()].map((id) => `wire ${id}`),
      ...texts.map((n) => `note ${n.id}`),
    ]),
    symbols: scene.symbols.filter((s) => parts.has(s.id)),
    wires: scene.wires.filter((w) => inside.some((i) => i.id === w.id)),
    notes: texts,
  }
}

/** Wires from what moves to what stays, as they follow, px. */
export const followingPath = (scene: Scene, { chosen, by }: Extract<Gesture, { kind: 'moving' }>): string =>
  [...followingWires(scene.drawing.circuit, chosen.parts, by).values()].map(pathOf).join('')

/** A wire that is pulled, px. */
export const pullPath = ({ at, to }: Extract<Gesture, { kind: 'pulling' }>): string =>
  pathOf([at, { x: to.x, y: at.y }, to])

/** A box of the drawing as a rectangle, px. */
export const rectOf = ({ left, right, top, bottom }: Box, margin = 0) => ({
  x: left * GRID - margin,
  y: top * GRID - margin,
  width: (right - left) * GRID + 2 * margin,
  height: (bottom - top) * GRID + 2 * margin,
})

export const boxBetween = (a: GridPoint, b: GridPoint): Box => ({
  left: Math.min(a.x, b.x),
  right: Math.max(a.x, b.x),
  top: Math.min(a.y, b.y),
  bottom: Math.max(a.y, b.y),
})

/** Where a name, or a part's name and value, is while it is moved. */
export function labelledBox(scene: Scene, { what, by }: Extract<Gesture, { kind: 'labelling' }>): Box {
  const { left, right, top, bottom } =
    what.kind === 'label' ? what.box : scene.names.find((n) => n.id === what.label)!.box
  return { left: left + by.x, right: right + by.x, top: top + by.y, bottom: bottom + by.y }
}

/** Handles in the middle of the stretches of chosen wires, px. */
export function handlesOf(scene: Scene, wires: ReadonlySet<string>, gesture: Gesture) {
  const slid = gesture.kind === 'sliding' ? gesture : null
  return scene.wires
    .filter((w) => wires.has(w.id))
    .flatMap((w) =>
      w.pieces.flatMap((piece) =>
        piece.slice(1).flatMap((b, k) => {
          const a = piece[k]!
          if (a.x === b.x && a.y === b.y) return []
          const by = slid?.wire === w.id && slid.stretch === k ? slid.by : { x: 0, y: 0 }
          const shift = a.y === b.y ? { x: 0, y: by.y } : { x: by.x, y: 0 }
          return [{ key: `${w.id} ${k}`, x: ((a.x + b.x) / 2 + shift.x) * GRID, y: ((a.y + b.y) / 2 + shift.y) * GRID }]
        }),
      ),
    )
}

/** Around the chosen texts; null where none is. */
export function textsBox(scene: Scene, notes: ReadonlySet<string>): Box | null {
  const boxes = scene.notes.filter((n) => notes.has(n.id)).map(noteBox)
  return boxes.length > 0 ? boxes.reduce(around) : null
}
