import type { Diagram } from '@voskel/core'
import type { Axis } from '../../diagram/frame'
import { extentOf, type Mark, type Place, type Plot } from '../../diagram/plot'
import { dbBounds, roundTop } from '../../diagram/values'

/** How numbers in Hz, dB and degrees stand in a diagram: in what it is read in. */
export interface Scales {
  x(value: number): number
  /** From the diagram back to Hz. */
  backX(value: number): number
  y(value: number): number
}

const same = (value: number): number => value
const TAU = 2 * Math.PI

/** @param topDb the highest magnitude, over which a relative one is read */
export function scalesOf({ view, angular, scale, radians }: Diagram, topDb: number): Scales {
  const relative = view === 'db' && scale === 'db-relative'
  const factor = view === 'db' && (scale === 'factor' || scale === 'percent')
  const unit = scale === 'percent' ? 100 : 1
  return {
    x: angular ? (f) => TAU * f : same,
    backX: angular ? (w) => w / TAU : same,
    y: relative
      ? (db) => db - topDb
      : factor
        ? (db) => unit * 10 ** (db / 20)
        : view === 'phase' && radians
          ? (degrees) => (degrees * Math.PI) / 180
          : same,
  }
}

/** A plot in Hz, dB and degrees as a diagram reads it. */
export function scaledPlot(plot: Plot, diagram: Diagram, scales: Scales): Plot {
  const { x, y } = scales
  if (x === same && y === same) return plot
  const curves = plot.curves.map((c) => ({
    ...c,
    x: x === same ? c.x : c.x.map(x),
    y: y === same ? c.y : c.y.map(y),
  }))
  return {
    ...plot,
    x: x === same ? plot.x : { ...plot.x, title: 'Angular frequency, rad/s', min: x(plot.x.min), max: x(plot.x.max) },
    y: y === same ? plot.y : axisOf(diagram, plot, scales),
    curves,
    marks: scaledMarks(plot.marks, scales),
    lens: plot.lens ? { x: [x(plot.lens.x[0]), x(plot.lens.x[1])], y: [y(plot.lens.y[0]), y(plot.lens.y[1])] } : null,
  }
}

export const scaledMarks = (marks: readonly Mark[], { x, y }: Scales): Mark[] => {
  const place = ([a, b]: Place): Place => [x(a), y(b)]
  return marks.map((mark): Mark => {
    if (mark.kind === 'flag') return { ...mark, x: x(mark.x) }
    return 'at' in mark ? { ...mark, at: place(mark.at) } : { ...mark, from: place(mark.from), to: place(mark.to) }
  })
}

/** The axis of y, its ends on round marks again. */
function axisOf({ view, scale }: Diagram, plot: Plot, { y }: Scales): Axis {
  if (view === 'phase') return { title: 'Phase, rad', min: y(plot.y.min), max: y(plot.y.max) }
  if (scale === 'db-relative')
    return {
      ...plot.y,
      title: 'Magnitude over its highest, dB',
      ...dbBounds(0, y(plot.y.min), plot.y.max - plot.y.min),
    }
  const [, highest] = extentOf(...plot.curves.map((c) => c.y)) ?? [0, 0]
  return {
    title: scale === 'percent' ? 'Magnitude, %' : 'Magnitude, factor',
    min: 0,
    max: roundTop(y(highest)),
    prefixes: false,
  }
}
