import {
  type Box,
  type Drawing,
  endPoint,
  formatQuantity,
  type GridPoint,
  type LayerText,
  NetMap,
  type OperatingReport,
  partShape,
  placed,
  placeTexts,
  textBox,
  stretchesOf,
} from '@voskel/core'
import type { Scene } from './scene'

/** Something that a layer says on the drawing. */
export interface LayerTag {
  readonly lines: readonly string[]
  readonly kind: 'voltage' | 'current' | 'device' | 'role' | 'influence' | 'section'
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

/** In what state a device is at rest, in words; empty where it has none. */
export const stateWords = ({ region, inversion }: OperatingReport['devices'][string]): string =>
  [region, inversion && `${inversion} inversion`].filter((word) => typeof word === 'string').join(', ')

/**
 * The operating point on the drawing: voltages at nets, currents in parts with their direction, what devices do.
 *
 * @param taken where something else is said already
 */
export function operatingLayer(scene: Scene, report: OperatingReport, taken: readonly Box[] = []): LayerTag[] {
  const { circuit } = scene.drawing
  const texts: (LayerText & Pick<LayerTag, 'kind'>)[] = []
  const places = netPlaces(scene)
  for (const [net, volts] of Object.entries(report.nodes)) {
    const at = places.get(net)
    if (at) texts.push({ lines: [formatQuantity(volts, 'V', DIGITS)], at, kind: 'voltage' })
  }
  for (const part of circuit.parts) {
    const { pins, pinPlaces } = partShape(part)
    const [first, second] = pins
    if (!part.at || first === undefined || second === undefined) continue
    const [from, to] = [placed(part, pinPlaces[first]!), placed(part, pinPlaces[second]!)]
    const middle = { x: (from.x + to.x) / 2, y: (from.y + to.y) / 2 }
    const ampere = report.currents[part.id]
    const device = report.devices[part.id]
    if (device) {
      const words = DEVICE_WORDS.flatMap(([id, unit]) => {
        const value = device[id]
        return typeof value === 'number' ? [`${id} ${formatQuantity(value, unit, 3)}`] : []
      })
      const lines = [
        `${part.id} ${stateWords(device)}`.trim(),
        words.slice(0, 2).join(' · '),
        words.slice(2).join(' · '),
      ]
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
  const boxes = placesOf(scene, taken, texts.map(textBox))
  return texts.map(({ lines, kind, at }, k) => ({ lines, kind, box: boxes[k]!, lead: leadOf(boxes[k]!, at) }))
}

/** Where tags stand, worked out anew where the drawing or the room that they take has changed, which other numbers seldom do. */
function placesOf({ drawing, labels, names }: Scene, taken: readonly Box[], wanted: readonly Box[]): readonly Box[] {
  const asked = [...taken, ...wanted].map(({ left, right, top, bottom }) => `${left} ${right} ${top} ${bottom}`).join()
  const known = tagPlaces.get(drawing.labels)?.find((p) => p.asked === asked)
  if (known) return known.boxes
  const words = [...labels.map((l) => l.box), ...names.map((n) => n.box), ...taken]
  const boxes = placeTexts(drawing.circuit, words, wanted)
  const others = tagPlaces.get(drawing.labels)?.slice(0, 1) ?? []
  tagPlaces.set(drawing.labels, [{ asked, boxes }, ...others])
  return boxes
}

/** The last two layers of each drawing, by the places of its labels, which drawings that lie alike have in common. */
const tagPlaces = new WeakMap<
  Drawing['labels'],
  readonly { readonly asked: string; readonly boxes: readonly Box[] }[]
>()

/** Grid units from a frame within which what it belongs to is seen. */
const NEAR = 2.5

function leadOf(box: Box, at: GridPoint): LayerTag['lead'] {
  const edge = {
    x: Math.min(box.right, Math.max(box.left, at.x)),
    y: Math.min(box.bottom, Math.max(box.top, at.y)),
  }
  return Math.hypot(at.x - edge.x, at.y - edge.y) > NEAR ? [edge, at] : null
}

/** The middle of the longest stretch of each net; a pin where it has no wire. */
export function netPlaces(scene: Scene): ReadonlyMap<string, GridPoint> {
  const { circuit, labels } = scene.drawing
  const known = placesOfNets.get(labels)
  if (known) return known
  const nets = NetMap.of(circuit)
  const ends = new Map(circuit.wires.map((w) => [w.id, w.ends[0]]))
  const longest = new Map<string, { at: GridPoint; length: number }>()
  for (const { id, pieces } of scene.wires) {
    const net = nets.netAt(ends.get(id)!)
    if (net === null) continue
    for (const piece of pieces)
      for (const [a, b] of stretchesOf(piece)) {
        const length = Math.abs(a.x - b.x) + Math.abs(a.y - b.y)
        if (length > (longest.get(net)?.length ?? -1))
          longest.set(net, { at: { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 }, length })
      }
  }
  const places = new Map([...longest].map(([net, { at }]) => [net, at]))
  for (const net of nets.nets) {
    const [pin] = nets.pinsOf(net)
    const at = pin && endPoint(circuit, pin)
    if (at && !places.has(net)) places.set(net, at)
  }
  placesOfNets.set(labels, places)
  return places
}

const placesOfNets = new WeakMap<Drawing['labels'], ReadonlyMap<string, GridPoint>>()
