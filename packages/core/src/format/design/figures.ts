import { z } from 'zod'
import type { Design } from './Design.js'
import { type Diagram, DiagramSchema } from './diagrams.js'

/** Most diagrams on a drawing. */
export const MOST_FIGURES = 12

/** Grid units of a diagram on the drawing. */
export const FIGURE_SIZE = { width: 40, height: 24 } as const

/** A diagram that lies on the drawing of the circuit; places and sizes in grid units, of its upper left corner, y down. */
export const FigureSchema = z.strictObject({
  id: z.string().min(1).max(40),
  diagram: DiagramSchema,
  at: z.strictObject({ x: z.number(), y: z.number() }),
  width: z.number().min(10).max(200),
  height: z.number().min(6).max(200),
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

/** A diagram on the drawing at another place or in another size. */
export const withFigure = (design: Design, figure: Figure): Design => ({
  ...design,
  figures: (design.figures ?? []).map((f) => (f.id === figure.id ? figure : f)),
})

/** The drawing without a diagram. */
export function withoutFigure(design: Design, id: string): Design {
  const { figures = [], ...rest } = design
  const others = figures.filter((f) => f.id !== id)
  return others.length > 0 ? { ...rest, figures: others } : rest
}
