import type { Circuit, GridPoint } from '../circuit/circuit.js'
import { endPoint, wirePoints } from '../circuit/drawing/geometry.js'
import { GROUND_NAME } from '../circuit/flatten.js'
import { NetMap } from '../circuit/NetMap.js'
import { partShape } from '../circuit/parts/index.js'
import { placed } from '../circuit/drawing/geometry.js'

/** Groups of pins that hang together, each as a sorted text, all sorted: comparable between two ways to find them. */
type Groups = string[]

/**
 * What a drawing looks to connect, found from nothing but its points and its names: ends and bends that lie on a stretch
 * touch it, stretches that cross inside of both do not, equal names are one net. By union-find.
 */
export function drawnNets(circuit: Circuit): Groups {
  const parent = new Map<string, string>()
  const find = (key: string): string => {
    const up = parent.get(key)
    if (up === undefined || up === key) return key
    const root = find(up)
    parent.set(key, root)
    return root
  }
  const join = (a: string, b: string) => void parent.set(find(a), find(b))
  const pins = circuit.parts.flatMap((part) =>
    Object.entries(partShape(part).pinPlaces).map(([pin, place]) => ({
      key: `${part.id}.${pin}`,
      at: placed(part, place),
    })),
  )
  const stretches: { key: string; a: GridPoint; b: GridPoint }[] = []
  for (const wire of circuit.wires) {
    const points = wirePoints(circuit, wire) ?? []
    for (let k = 0; k + 1 < points.length; k++)
      stretches.push({ key: `wire ${wire.id}`, a: points[k], b: points[k + 1] })
  }
  const on = (p: GridPoint, { a, b }: { a: GridPoint; b: GridPoint }) =>
    a.x === b.x
      ? p.x === a.x && p.y >= Math.min(a.y, b.y) && p.y <= Math.max(a.y, b.y)
      : a.y === b.y && p.y === a.y && p.x >= Math.min(a.x, b.x) && p.x <= Math.max(a.x, b.x)
  const points = [
    ...pins,
    ...stretches.flatMap(({ key, a, b }) => [
      { key, at: a },
      { key, at: b },
    ]),
    ...circuit.junctions.flatMap(({ id, at }) => (at ? [{ key: `junction ${id}`, at }] : [])),
  ]
  for (const point of points) for (const stretch of stretches) if (on(point.at, stretch)) join(point.key, stretch.key)
  const byPlace = new Map<string, string>()
  for (const { key, at } of points) {
    const place = `${at.x} ${at.y}`
    const known = byPlace.get(place)
    if (known === undefined) byPlace.set(place, key)
    else join(key, known)
  }
  for (const label of circuit.labels) {
    const at = endPoint(circuit, label.end)
    const there = at && byPlace.get(`${at.x} ${at.y}`)
    if (there) join(there, `name ${label.name}`)
  }
  for (const part of circuit.parts) if (part.kind === 'ground') join(`${part.id}.g`, `name ${GROUND_NAME}`)
  return grouped(pins.map(({ key }) => [key, find(key)]))
}

/** What the document connects. */
export function documentNets(circuit: Circuit): Groups {
  const nets = new NetMap(circuit)
  return grouped(
    circuit.parts.flatMap((part) =>
      partShape(part).pins.map((pin) => {
        const key = `${part.id}.${pin}`
        return [key, nets.netOf(part.id, pin) ?? key]
      }),
    ),
  )
}

function grouped(pairs: readonly (readonly string[])[]): Groups {
  const groups = new Map<string, string[]>()
  for (const [key, group] of pairs) groups.set(group, [...(groups.get(group) ?? []), key])
  return [...groups.values()].map((g) => g.toSorted().join(' ')).toSorted()
}
