import type { Drawing } from '../circuit/drawing/index.js'
import {
  inkOf,
  looksJoined,
  onlyTouches,
  overlap,
  stretchesOf,
  symbolBox,
  wirePoints,
} from '../circuit/drawing/geometry.js'
import { placedPins } from '../circuit/drawing/pins.js'
import { labelBox, tagBox } from '../circuit/drawing/labels.js'
import type { Circuit, GridPoint } from '../circuit/circuit.js'
import { partTexts } from '../circuit/drawing/texts.js'
import { NetMap } from '../circuit/NetMap.js'

/** Square grid units below which two outlines only touch: a letter covers a fifth of one. */
const TOUCHING = 0.02

/** Whatever lies on something else in a drawing, looks joined and is not, or does not lie along the grid. */
export function collisions({ circuit, labels: places, pieces, tags, names }: Drawing): string[] {
  const textOf = partTexts(circuit)
  const labels = circuit.parts.flatMap((part) => {
    const place = places.get(part.id)
    return place ? [{ what: `label of ${part.id}`, box: labelBox(part, textOf(part), place)! }] : []
  })
  const symbols = circuit.parts.map((part) => ({ of: part.id, what: part.id, box: symbolBox(part)! }))
  const pins = placedPins(circuit, new NetMap(circuit))
  const onNet = new Set(pins.map((p) => `${p.part} ${p.net}`))
  const nets = [...names.values(), ...tags.map(tagBox)].map((box) => ({ what: 'the name of a net', box }))
  const netMap = new NetMap(circuit)
  const endsOf = (wire: Circuit['wires'][number]) => {
    const points = wirePoints(circuit, wire)!
    return [points[0], points.at(-1)!]
  }
  const isAt = (at: GridPoint) => (p: GridPoint) => p.x === at.x && p.y === at.y
  const stretches = circuit.wires.flatMap((wire) =>
    (pieces.get(wire.id) ?? [wirePoints(circuit, wire)!]).flatMap(stretchesOf).map((at) => ({
      at,
      wire: wire.id,
      net: netMap.netAt(wire.ends[0]),
      // Where pins of a net meet, a wire of it touches all of their parts.
      ends: pins.flatMap((p) =>
        p.net === netMap.netAt(wire.ends[0]) && endsOf(wire).some(isAt(p.at)) ? [p.part] : [],
      ),
    })),
  )
  const joined = pairsOf(stretches).flatMap(([a, b]) =>
    a.net !== b.net && looksJoined(a.at, b.at) ? [`wire ${a.wire} into wire ${b.wire}`] : [],
  )
  const aslant = stretches.filter(({ at: [a, b] }) => a.x !== b.x && a.y !== b.y).map((s) => `${s.wire} is aslant`)
  const things = [...labels, ...symbols, ...nets]
  // A wire without length joins two pins that meet: it has no ink.
  const wires = stretches
    .filter(({ at: [a, b] }) => a.x !== b.x || a.y !== b.y)
    .map((s) => ({ ...s, what: `wire ${s.wire}`, box: inkOf(s.at) }))
  const covered = [
    ...pairsOf(things),
    ...labels.flatMap((a) => wires.map((b) => [a, b] as const)),
    ...symbols.flatMap((a) =>
      wires
        .filter((w) => !w.ends.includes(a.of) && !(onNet.has(`${a.of} ${w.net}`) && onlyTouches(w.at, a.box)))
        .map((b) => [a, b] as const),
    ),
  ].flatMap(([a, b]) => (overlap(a.box, b.box) > TOUCHING ? [`${a.what} on ${b.what}`] : []))
  return [...joined, ...aslant, ...covered]
}

const pairsOf = <T>(things: readonly T[]) => things.flatMap((a, k) => things.slice(k + 1).map((b) => [a, b] as const))
