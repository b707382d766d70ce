import { z } from 'zod'
import { VoskelError } from '../../errors/VoskelError.js'
import { wirePoints } from '../drawing/geometry.js'
import type { CircuitEdit } from './CircuitEdit.js'
import { fewestBends, wireOf } from './spots.js'

const schema = z.strictObject({
  wire: z.string(),
  /** 0 is the stretch at the wire's first end. */
  stretch: z.number().int().min(0),
  /** Across the stretch: down for a lying one, to the right for a standing one. */
  by: z.number(),
})

/** Moves one stretch of a wire across itself; those beside it grow or shrink. */
export const moveStretch: CircuitEdit<z.output<typeof schema>, 'move-stretch'> = {
  id: 'move-stretch',
  schema,
  label: () => 'wire moved',
  apply(circuit, { wire: id, stretch, by }) {
    const wire = circuit.wires.find((w) => w.id === id)
    const points = wire && wirePoints(circuit, wire)
    if (!wire || !points || stretch > points.length - 2)
      throw new VoskelError('CIRCUIT_INVALID', {
        problem: `There is no stretch ${stretch + 1} of a wire "${id}" on the sheet.`,
        fix: 'Choose a stretch that is drawn.',
      })
    const [a, b] = [points[stretch], points[stretch + 1]]
    const across = a.y === b.y ? 'y' : 'x'
    const moved = (p: typeof a) => ({ ...p, [across]: p[across] + by })
    const way = [...points.slice(0, stretch + 1), moved(a), moved(b), ...points.slice(stretch + 1)]
    // Its ends stay where they are; a bend in between is not needed any more.
    const kept = way.filter(
      (_, k) => !(k === stretch && stretch > 0) && !(k === stretch + 3 && stretch + 1 < points.length - 1),
    )
    return {
      ...circuit,
      wires: circuit.wires.map((w) => (w === wire ? wireOf(wire.id, wire.ends, fewestBends(kept)) : w)),
    }
  },
}
