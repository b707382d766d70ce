import { z } from 'zod'
import type { Design } from './Design.js'
import { type Diagram, DiagramSchema } from './diagrams.js'

/** Most diagrams on a drawing. */
export const MOST_FIGURES = 12

/** Grid units of a diagram on the drawing. */
export const FIGURE_SIZE = { width: 40, height: 24 } as const
const LEAST = { width: 10, height: 6 } as const
const MOST = 200

/** A diagram that lies on the drawing of the circuit; places and sizes in grid units, of its upper left corner, y down. */
export const FigureSchema = z.strictObject({
  id: z.string().min(1).max(40),
  diagram: DiagramSchema,
  at: z.strictObject({ x: z.number(), y: z.number() }),
  width: z.number().min(LEAST.width).max(MOST),
  height: z.number().min(LEAST.height).max(MOST),
})
export type Figure = z.output<typeof FigureSchema>

/** A diagram laid on the drawing, at a place. */
export function withNewFigure(design: Design, diagram: Diagram, at: Figure['at']): Design {
  const figures = design.figures ?? []
  const taken = new Set(figures.map((f) => f.id))
  let k = figures.length + 1
  while (taken.has(`diagram ${k}`)) k++
  return { ...design, figures: [...figures, { id: `diagram ${k}`, diagram, at, ...FIGURE_SIZE }] }
}

/** Where a diagram lies, and how large it is. */
export type FigureFrame = Pick<Figure, 'at' | 'width' | 'height'>

/** A diagram on the drawing at another place, or in the nearest size to this that can be seen. */
export function withFigureFramed(design: Design, id: string, { at, width, height }: FigureFrame): Design {
  const held = (size: number, least: number) => Math.min(MOST, Math.max(least, size))
  const frame = { at, width: held(width, LEAST.width), height: held(height, LEAST.height) }
  return { ...design, figures: (design.figures ?? []).map((f) => (f.id === id ? { ...f, ...frame } : f)) }
}

/** The drawing without a diagram. */
export function withoutFigure(design: Design, id: string): Design {
  const { figures = [], ...rest } = design
  const others = figures.filter((f) => f.id !== id)
  return others.length > 0 ? { ...rest, figures: others } : rest
}
