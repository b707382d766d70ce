import {
  type Box,
  formatQuantity,
  type GridPoint,
  type LayerText,
  NetMap,
  type OperatingReport,
  partKind,
  placed,
  placeTexts,
  wirePoints,
} from '@voskel/core'
import type { Scene } from './scene'

/** Something that a layer says on the drawing. */
export interface LayerTag {
  readonly lines: readonly string[]
  readonly kind: 'voltage' | 'current' | 'device' | 'role'
  readonly box: Box
  /** From its frame to where it belongs, where that is not beside it; grid units. */
  readonly lead: readonly [GridPoint, GridPoint] | null
}

const DIGITS = 4

/** What a device says at rest, in the order in which a designer reads it. */
const DEVICE_WORDS: readonly (readonly [id: string, unit: string])[] = [
  ['gm', 'S'],
  ['gds', 'S'],
  ['gpi', 'S'],
  ['go', 'S'],
  ['gd', 'S'],
]

/**
 * The operating point on the drawing: voltages at nets, currents in parts with their direction, what devices do.
 *
 * @param taken where something else is said already
 */
export function operatingLayer(scene: Scene, report: OperatingReport, taken: readonly Box[] = []): LayerTag[] {
  const { circuit } = scene.drawing
  const texts: (LayerText & Pick<LayerTag, 'kind'>)[] = []
  for (const [net, volts] of Object.entries(report.nodes)) {
    const at = netPlace(scene, net)
    if (at) texts.push({ lines: [formatQuantity(volts, 'V', DIGITS)], at, kind: 'voltage' })
  }
  for (const part of circuit.parts) {
    const [first, second] = partKind(part.kind).pins
    if (!part.at || first === undefined || second === undefined) continue
    const { pinPlaces } = partKind(part.kind)
    const [from, to] = [placed(part, pinPlaces[first]!), placed(part, pinPlaces[second]!)]
    const middle = { x: (from.x + to.x) / 2, y: (from.y + to.y) / 2 }
    const ampere = report.currents[part.id]
    const device = report.devices[part.id]
    if (device) {
      const words = DEVICE_WORDS.flatMap(([id, unit]) => {
        const value = device[id]
        return typeof value === 'number' ? [`${id} ${formatQuantity(value, unit, 3)}`] : []
      })
      const region = typeof device.region === 'string' ? [device.region] : []
      const lines = [[part.id, ...region].join(' '), words.slice(0, 2).join(' · '), words.slice(2).join(' · ')]
      texts.push({ lines: lines.filter((l) => l !== ''), at: part.at, kind: 'device' })
    }
    if (ampere === undefined) continue
    // The arrow points where the current flows.
    const forth = ampere >= 0
    const [dx, dy] = forth ? [to.x - from.x, to.y - from.y] : [from.x - to.x, from.y - to.y]
    const arrow = Math.abs(dx) >= Math.abs(dy) ? (dx > 0 ? '→' : '←') : dy > 0 ? '↓' : '↑'
    texts.push({ lines: [`${arrow} ${formatQuantity(Math.abs(ampere), 'A', DIGITS)}`], at: middle, kind: 'current' })
  }
  return tagsAt(scene, taken, texts)
}

/** Tags near their places, on nothing that is drawn and on none of what else is said. */
export function tagsAt(
  scene: Scene,
  taken: readonly Box[],
  texts: readonly (LayerText & Pick<LayerTag, 'kind'>)[],
): LayerTag[] {
  const words = [...scene.labels.map((l) => l.box), ...scene.names.map((n) => n.box), ...taken]
  return placeTexts(scene.drawing.circuit, words, texts).map((box, k) => {
    const { lines, kind, at } = texts[k]!
    return { lines, kind, box, lead: leadOf(box, at) }
  })
}

/** Grid units from a frame within which what it belongs to is seen. */
const NEAR = 2.5

function leadOf(box: Box, at: GridPoint): LayerTag['lead'] {
  const edge = {
    x: Math.min(box.right, Math.max(box.left, at.x)),
    y: Math.min(box.bottom, Math.max(box.top, at.y)),
  }
  return Math.hypot(at.x - edge.x, at.y - edge.y) > NEAR ? [edge, at] : null
}

/** The middle of the longest stretch of a net; a pin where it has no wire. */
export function netPlace(scene: Scene, net: string): GridPoint | null {
  const { circuit } = scene.drawing
  const nets = NetMap.of(circuit)
  let best: { at: GridPoint; length: number } | null = null
  for (const wire of circuit.wires) {
    if (nets.netAt(wire.ends[0]) !== net) continue
    for (const piece of scene.wires.find((w) => w.id === wire.id)?.pieces ?? [])
      for (let k = 0; k + 1 < piece.length; k++) {
        const [a, b] = [piece[k]!, piece[k + 1]!]
        const length = Math.abs(a.x - b.x) + Math.abs(a.y - b.y)
        if (!best || length > best.length) best = { at: { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 }, length }
      }
  }
  if (best) return best.at
  const [pin] = nets.pinsOf(net)
  return pin ? (wirePoints(circuit, { id: '?', ends: [pin, pin] })?.[0] ?? null) : null
}
