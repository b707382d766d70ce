import { Chart, type Plugin, Scale } from 'chart.js'
import zoom from 'chartjs-plugin-zoom'
import { type Area, type Axis, pannedAxis, ruler, type Ruler, squared, zoomedAxis } from './frame'
import { MARGINS, Painter, topOf, type Type } from './paint'
import type { Palette } from './palette'
import type { Plot } from './plot'

/**
 * Charts that cost next to nothing to change: Chart.js keeps the canvas, its size and the gestures; what is seen is drawn
 * from a plot of typed arrays. A changed plot is drawn, not updated: nothing is resolved, built or measured anew.
 */
export interface PlotChart {
  show(plot: Plot, palette: Palette): void
  /** px inside the axes */
  readonly area: Area
  /** Where values lie along x and y now. */
  readonly x: Ruler
  readonly y: Ruler
  /** Everything along x again. */
  showAll(): void
  destroy(): void
}

export const TYPE: Type = { size: 13, family: "'Source Sans 3 Variable', sans-serif" }

/** The diagrams' font as a canvas names it. */
export const FONT = `${TYPE.size}px ${TYPE.family}`

/** What a chart shows. */
interface State {
  plot: Plot
  palette: Palette
  /** The stretch of x that was zoomed to; null shows everything. */
  zoomed: Axis | null
}

const states = new WeakMap<Chart, State>()

const xOf = ({ plot, zoomed }: State): Axis =>
  zoomed && zoomed.log === plot.x.log ? { ...plot.x, min: zoomed.min, max: zoomed.max } : plot.x

/** Both axes as they are seen. */
function axesOf(state: State, area: Area): { x: Axis; y: Axis } {
  const axes = { x: xOf(state), y: state.plot.y }
  return state.plot.square ? squared(axes.x, axes.y, area) : axes
}

/** px kept at the right. */
const rightOf = ({ right, wide }: Plot): number => (right || wide ? MARGINS.rightAxis : MARGINS.right)

/** A scale of fixed size that asks the plot where values lie. */
class PlotScale extends Scale {
  static readonly id = 'plot'
  static readonly defaults = { display: true }

  override update(width: number, height: number): void {
    const state = states.get(this.chart)!
    const axis = this.isHorizontal() ? xOf(state) : state.plot.y
    this.maxWidth = width
    this.maxHeight = height
    this.width = this.isHorizontal() ? width : MARGINS.left
    this.height = this.isHorizontal() ? MARGINS.bottom : height
    this.min = axis.min
    this.max = axis.max
    this.ticks = []
  }

  override getPixelForValue(value: number): number {
    return this.ruler().place(value)
  }

  override getValueForPixel(px: number): number {
    return this.ruler().value(px)
  }

  override draw(): void {}

  private ruler(): Ruler {
    const state = states.get(this.chart)!
    const { left, right, top, bottom } = this.chart.chartArea
    const { x, y } = axesOf(state, this.chart.chartArea)
    return this.isHorizontal() ? ruler(x, left, right) : ruler(y, bottom, top)
  }
}

const painting: Plugin = {
  id: 'plot',
  afterDraw(chart) {
    const state = states.get(chart)
    if (!state) return
    const seen = { ...state.plot, ...axesOf(state, chart.chartArea) }
    new Painter(chart.ctx, state.palette, TYPE).draw(seen, chart.chartArea)
  },
}

/** Changes what is seen of x, as a gesture asks for it; true where something changed. */
function seen(scale: Scale, change: (full: Axis, now: Axis) => Axis): boolean {
  const state = states.get(scale.chart)
  if (!state || !scale.isHorizontal()) return false
  const now = xOf(state)
  const next = change(state.plot.x, now)
  if (!(next.max > next.min) || (next.min === now.min && next.max === now.max)) return false
  const isAll = next.min <= state.plot.x.min && next.max >= state.plot.x.max
  state.zoomed = isAll ? null : next
  return true
}

const gestures = zoom as unknown as {
  zoomFunctions: Record<string, (scale: Scale, factor: number, center: { x: number }) => boolean>
  panFunctions: Record<string, (scale: Scale, px: number) => boolean>
  zoomRectFunctions: Record<string, (scale: Scale, from: number, to: number) => void>
}
gestures.zoomFunctions.plot = (scale, factor, center) =>
  seen(scale, (full, now) => zoomedAxis(full, now, Number(scale.getValueForPixel(center.x)), factor))
gestures.panFunctions.plot = (scale, px) =>
  seen(scale, (full, now) => pannedAxis(full, now, -px / (scale.chart.chartArea.right - scale.chart.chartArea.left)))
gestures.zoomRectFunctions.plot = (scale, from, to) => {
  seen(scale, (_full, now) => ({
    ...now,
    min: Number(scale.getValueForPixel(from)),
    max: Number(scale.getValueForPixel(to)),
  }))
}

Chart.register(PlotScale, zoom, painting)
Chart.defaults.font.family = TYPE.family
Chart.defaults.font.size = TYPE.size
Chart.defaults.animation = false

/** A chart on a canvas. */
export function plotChart(canvas: HTMLCanvasElement, plot: Plot, palette: Palette): PlotChart {
  const state: State = { plot, palette, zoomed: null }
  // The scales ask for the plot while the chart is being made.
  const chart = new Chart(canvas, {
    type: 'line',
    data: { datasets: [] },
    plugins: [{ id: 'state', beforeInit: (made) => void states.set(made, state) }],
    options: {
      responsive: true,
      maintainAspectRatio: false,
      events: [],
      layout: { autoPadding: false, padding: { right: rightOf(plot), top: topOf(plot) } },
      scales: { x: { type: 'plot', axis: 'x', position: 'bottom' }, y: { type: 'plot', axis: 'y', position: 'left' } },
      plugins: {
        zoom: {
          zoom: { wheel: { enabled: true, modifierKey: 'ctrl' }, pinch: { enabled: true }, mode: 'x' },
          pan: { enabled: true, modifierKey: 'shift', mode: 'x' },
        },
      },
    } as never,
  })
  return {
    show(next, colors) {
      const padding = { right: rightOf(next), top: topOf(next) }
      const isSame = padding.right === rightOf(state.plot) && padding.top === topOf(state.plot)
      state.plot = next
      state.palette = colors
      if (isSame) return chart.draw()
      chart.options.layout!.padding = padding
      chart.update('none')
    },
    get area() {
      return chart.chartArea
    },
    get x() {
      return ruler(axesOf(state, chart.chartArea).x, chart.chartArea.left, chart.chartArea.right)
    },
    get y() {
      return ruler(axesOf(state, chart.chartArea).y, chart.chartArea.bottom, chart.chartArea.top)
    },
    showAll() {
      state.zoomed = null
      chart.draw()
    },
    destroy: () => chart.destroy(),
  }
}
