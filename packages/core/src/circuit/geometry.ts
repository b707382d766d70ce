import type { Circuit, End, GridPoint, Part } from './circuit.js'
import { partKind } from './parts/index.js'

/** A pin's or any other point of a part's own frame, on the drawing: mirrored, then turned clockwise, then moved. */
export function placed(part: Part, [x, y]: readonly [number, number]): GridPoint {
  const at = part.at ?? { x: 0, y: 0, rotation: 0 as const }
  const mx = at.mirrored ? -x : x
  const turned: Record<number, readonly [number, number]> = { 0: [mx, y], 90: [-y, mx], 180: [-mx, -y], 270: [y, -mx] }
  const [tx, ty] = turned[at.rotation]
  return { x: at.x + tx, y: at.y + ty }
}

/** Where a wire's end lies; null where its part or junction has no place on the drawing. */
export function endPoint(circuit: Circuit, end: End): GridPoint | null {
  if ('junction' in end) return circuit.junctions.find((j) => j.id === end.junction)?.at ?? null
  const part = circuit.parts.find((p) => p.id === end.part)
  const place = part?.at && partKind(part.kind, part.id).pinPlaces[end.pin]
  return part && place ? placed(part, place) : null
}

/** True where every part has its place, so that the circuit can be drawn. */
export function isDrawn(circuit: Circuit): boolean {
  return circuit.parts.length > 0 && circuit.parts.every((p) => p.at)
}
