import type { Diagram } from '@voskel/core'
import type { Handle } from '../../diagram/XyDiagram.vue'
import type { Mark, Plot } from '../../diagram/plot'
import type { Scales } from './scales'

/** A plot with the words that somebody has put on its diagram: title, legend, labels of the axes, free notes. */
export function captioned(plot: Plot, { title, legend, labels, notes = [] }: Diagram, scales: Pick<Scales, 'x'>): Plot {
  if (!title && !legend && !labels && notes.length === 0) return plot
  const words = notes.map(({ text, at: [x, y] }): Mark => ({
    kind: 'note',
    at: [scales.x(x), y],
    text,
  }))
  return {
    ...plot,
    x: { ...plot.x, title: labels?.x || plot.x.title },
    y: { ...plot.y, title: labels?.y || plot.y.title },
    ...(plot.right && { right: { ...plot.right, title: labels?.right || plot.right.title } }),
    ...(title && { title }),
    ...(legend && { legend }),
    marks: [...plot.marks, ...words],
  }
}

const NOTE = 'note '

/** Each note can be drawn to another place. */
export const noteHandles = ({ notes = [] }: Diagram, scales: Pick<Scales, 'x'>): Handle[] =>
  notes.map(({ at: [x, y] }, k) => ({ id: `${NOTE}${k}`, axis: 'both', at: scales.x(x), y }))

/** Which note a handle is; null for another handle. */
export const noteOf = (id: string): number | null => (id.startsWith(NOTE) ? Number(id.slice(NOTE.length)) : null)
