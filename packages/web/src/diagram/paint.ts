import { extremesOf } from './extremes'
import { type Area, type Axis, frame, type Frame, type Ruler } from './frame'
import type { Palette } from './palette'
import type { Ink, Lens, Mark, Place, Plot, PlotCurve } from './plot'
import { tickText, ticksOf } from './ticks'

/** Draws diagrams on a canvas. Nothing here knows of the page: an area, a plot and colours are all. */

/** Font of a canvas, px and family. */
export interface Type {
  readonly size: number
  readonly family: string
}

/** Px for the numbers and titles beside a diagram. */
export const MARGINS = { left: 68, bottom: 42, top: 12, right: 14, rightAxis: 66 } as const

/** Px above a diagram that a title takes. */
const TITLE_HEIGHT = 22
/** Px above a diagram. */
export const topOf = ({ title }: Pick<Plot, 'title'>): number => MARGINS.top + (title ? TITLE_HEIGHT : 0)

/** Least px between two numbers along an axis. */
const X_PITCH = 74
const Y_PITCH = 40
/** Px within which names at the ends of curves would cover each other. */
const NAME_HEIGHT = 15
/** px that a marker needs on an average to be told from the next. */
const MARKER_PITCH = 5
/** Points a pixel from which on a curve is drawn by its least and greatest value in each pixel column. */
const CROWDED = 8

/** Marks that are drawn behind the curves, or over everything else. */
const BEFORE_OR_AFTER: ReadonlySet<Mark['kind']> = new Set(['area', 'flag', 'note'])

/** px of a cursor's flag. */
const FLAG = 17

export class Painter {
  /** Where words stand already. */
  private words: Area[] = []

  constructor(
    private readonly ctx: CanvasRenderingContext2D,
    private readonly palette: Palette,
    private readonly type: Type,
  ) {}

  /** The whole diagram inside an area that leaves room for its axes. */
  draw(plot: Plot, area: Area): void {
    this.words = []
    const whole = frame(area, plot.x, plot.y, plot.right)
    if (!plot.bare) this.grid(whole)
    this.clipped(area, () => {
      for (const mark of plot.marks) if (mark.kind === 'area') this.mark(mark, whole)
      for (const curve of plot.curves) this.curve(curve, whole)
      for (const mark of plot.marks) if (!BEFORE_OR_AFTER.has(mark.kind)) this.mark(mark, whole)
      if (!plot.legend) this.names(plot.curves, whole)
      for (const mark of plot.marks) if (mark.kind === 'flag') this.mark(mark, whole)
      if (plot.cursor !== null && plot.cursor !== undefined) this.cursor(plot.cursor, whole)
    })
    if (plot.lens && area.bottom - area.top >= LENS.room) this.lens(plot, plot.lens, whole)
    if (plot.legend) this.legend(plot, whole)
    if (plot.title) this.title(plot.title, whole)
    this.clipped(area, () => {
      for (const mark of plot.marks) if (mark.kind === 'note') this.mark(mark, whole)
    })
  }

  private font(size: number, weight = 400): void {
    this.ctx.font = `${weight} ${size}px ${this.type.family}`
  }

  private clipped(area: Area, draw: () => void): void {
    const { ctx } = this
    ctx.save()
    ctx.beginPath()
    ctx.rect(area.left, area.top, area.right - area.left, area.bottom - area.top)
    ctx.clip()
    draw()
    ctx.restore()
  }

  private grid({ area, x, y, right }: Frame): void {
    const { ctx, palette, type } = this
    const [xs, ys] = [
      ticksOf(x.axis, Math.max(2, Math.floor((area.right - area.left) / X_PITCH))),
      ticksOf(y.axis, Math.max(2, Math.floor((area.bottom - area.top) / Y_PITCH))),
    ]
    ctx.save()
    ctx.lineWidth = 1
    ctx.strokeStyle = palette.grid
    ctx.beginPath()
    for (const t of xs) this.upright(crisp(x.place(t)), area)
    for (const t of ys) this.level(crisp(y.place(t)), area)
    ctx.stroke()
    ctx.strokeStyle = palette.line
    ctx.beginPath()
    this.upright(crisp(area.left), area)
    if (right) this.upright(crisp(area.right), area)
    this.level(crisp(area.bottom), area)
    ctx.stroke()
    ctx.fillStyle = palette.soft
    this.font(type.size)
    ctx.textAlign = 'center'
    ctx.textBaseline = 'top'
    for (const t of xs) ctx.fillText(tickText(t, x.axis.prefixes ?? true), x.place(t), area.bottom + 6)
    ctx.fillText(x.axis.title, (area.left + area.right) / 2, area.bottom + 24)
    ctx.textAlign = 'right'
    ctx.textBaseline = 'middle'
    for (const t of ys) ctx.fillText(tickText(t, y.axis.prefixes ?? true), area.left - 7, y.place(t))
    this.upwards(y.axis.title, area.left - MARGINS.left + 10, area)
    if (right) {
      ctx.textAlign = 'left'
      for (const t of ticksOf(right.axis, Math.max(2, Math.floor((area.bottom - area.top) / Y_PITCH))))
        ctx.fillText(tickText(t, right.axis.prefixes ?? true), area.right + 7, right.place(t))
      this.upwards(right.axis.title, area.right + MARGINS.rightAxis - 10, area)
    }
    ctx.restore()
  }

  /** A title along an upright axis. */
  private upwards(text: string, px: number, { top, bottom }: Area): void {
    const { ctx } = this
    ctx.save()
    ctx.translate(px, (top + bottom) / 2)
    ctx.rotate(-Math.PI / 2)
    ctx.textAlign = 'center'
    ctx.fillText(text, 0, 0)
    ctx.restore()
  }

  private upright(px: number, { top, bottom }: Area): void {
    this.ctx.moveTo(px, top)
    this.ctx.lineTo(px, bottom)
  }

  private level(px: number, { left, right }: Area): void {
    this.ctx.moveTo(left, px)
    this.ctx.lineTo(right, px)
  }

  private curve({ x, y, color, dash = [], right, path, points, marker, thin }: PlotCurve, on: Frame): void {
    const { ctx, palette } = this
    const { area, x: across } = on
    const up = right && on.right ? on.right : on.y
    const [first, last] = path ? [0, x.length - 1] : visible(x, across.axis.min, across.axis.max)
    ctx.save()
    ctx.strokeStyle = palette.curves[color % palette.curves.length]!
    const width = area.right - area.left
    if (marker && (last - first) * MARKER_PITCH < width) {
      ctx.lineWidth = 1.5
      for (let k = first; k <= last; k++) {
        const [px, py] = [across.place(x[k]!), up.place(y[k]!)]
        if (Number.isFinite(px) && Number.isFinite(py)) this.marker(marker, px, py)
      }
      ctx.restore()
      return
    }
    ctx.lineWidth = marker || thin ? 1 : 2
    if (thin) ctx.strokeStyle = palette.line
    ctx.lineJoin = 'round'
    ctx.setLineDash([...dash])
    ctx.beginPath()
    if (!path && last - first > CROWDED * width) columns(ctx, x, y, first, last, across, up.place)
    else line(ctx, x, y, first, last, across.place, up.place)
    ctx.stroke()
    if (points) {
      ctx.fillStyle = ctx.strokeStyle
      for (let k = first; k <= last; k++) {
        const py = up.place(y[k]!)
        if (Number.isFinite(py)) ctx.fillRect(across.place(x[k]!) - 2.5, py - 2.5, 5, 5)
      }
    }
    ctx.restore()
  }

  private marker(shape: NonNullable<PlotCurve['marker']>, px: number, py: number): void {
    const { ctx } = this
    ctx.beginPath()
    if (shape === 'ring') ctx.arc(px, py, 3.5, 0, 2 * Math.PI)
    else if (shape === 'box') ctx.rect(px - 3, py - 3, 6, 6)
    else
      for (const sign of [-1, 1]) {
        ctx.moveTo(px - 3.5, py - sign * 3.5)
        ctx.lineTo(px + 3.5, py + sign * 3.5)
      }
    ctx.stroke()
  }

  /** Each curve's name at its end, so that colour is not needed to tell them apart. */
  private names(curves: readonly PlotCurve[], on: Frame): void {
    const { ctx, palette, type } = this
    const { area, x: across } = on
    const taken: number[] = []
    ctx.save()
    this.font(type.size, 600)
    ctx.textAlign = 'right'
    ctx.textBaseline = 'bottom'
    for (const { label, x, y, color, right, path } of curves) {
      const up = right && on.right ? on.right : on.y
      const end = path ? insideOf(x, y, across.axis, up.axis) : endOf(x, y, across.axis, up.axis)
      if (!label || end < 0) continue
      const [px, py] = [across.place(x[end]!), up.place(y[end]!)]
      let at = Math.min(area.bottom - 4, Math.max(area.top + 18, py - 5))
      // Names that would cover each other are stacked towards the middle of the diagram.
      const away = at > (area.top + area.bottom) / 2 ? -NAME_HEIGHT - 1 : NAME_HEIGHT + 1
      while (taken.some((t) => Math.abs(t - at) < NAME_HEIGHT)) at += away
      taken.push(at)
      this.halo(
        right ? `${label} →` : label,
        Math.min(px, area.right) - 14,
        at,
        palette.curves[color % palette.curves.length]!,
      )
    }
    ctx.restore()
  }

  /** Names of the curves with how each is drawn, where the frame covers least. */
  private legend(plot: Plot, whole: Frame): void {
    const { ctx, palette, type } = this
    const named = plot.curves.filter((c) => c.label !== '')
    if (named.length === 0) return
    ctx.save()
    this.font(type.size)
    // Wider than it seems: elsewhere the letters may be those of another font.
    const width = 1.12 * Math.max(...named.map((c) => ctx.measureText(c.label).width)) + LEGEND.sample + 24
    const height = named.length * LEGEND.row + 8
    const taken = plot.lens ? lensArea(plot, whole) : null
    const { left, top } = leastCovered(plot, whole, width, height, 8, taken)
    ctx.fillStyle = palette.paper
    ctx.strokeStyle = palette.line
    ctx.lineWidth = 1
    ctx.fillRect(left, top, width, height)
    ctx.strokeRect(crisp(left), crisp(top), width, height)
    ctx.textAlign = 'left'
    ctx.textBaseline = 'middle'
    named.forEach(({ label, color, dash = [], marker, right }, k) => {
      const y = top + 4 + (k + 0.5) * LEGEND.row
      ctx.strokeStyle = palette.curves[color % palette.curves.length]!
      ctx.lineWidth = 2
      if (marker) this.marker(marker, left + 8 + LEGEND.sample / 2, y)
      else {
        ctx.setLineDash([...dash])
        ctx.beginPath()
        this.level(y, { left: left + 8, right: left + 8 + LEGEND.sample, top: y, bottom: y })
        ctx.stroke()
        ctx.setLineDash([])
      }
      ctx.fillStyle = palette.ink
      ctx.fillText(right ? `${label} →` : label, left + LEGEND.sample + 16, y)
    })
    ctx.restore()
  }

  private title(text: string, { area }: Frame): void {
    const { ctx, palette, type } = this
    ctx.save()
    this.font(type.size + 2, 650)
    ctx.textAlign = 'center'
    ctx.textBaseline = 'top'
    ctx.fillStyle = palette.ink
    ctx.fillText(text, (area.left + area.right) / 2, area.top - TITLE_HEIGHT)
    ctx.restore()
  }

  private halo(text: string, x: number, y: number, color: string): void {
    const { ctx } = this
    ctx.lineWidth = 4
    ctx.lineJoin = 'round'
    ctx.strokeStyle = this.palette.paper
    ctx.strokeText(text, x, y)
    ctx.fillStyle = color
    ctx.fillText(text, x, y)
  }

  private color(ink: Ink): string {
    const { palette } = this
    const { soft, ink: dark, maskEdge: mask, missed, curves } = palette
    return { soft, ink: dark, mask, missed, first: curves[0]! }[ink]
  }

  private mark(mark: Mark, on: Frame): void {
    const { ctx, palette, type } = this
    ctx.save()
    if (mark.kind === 'area') {
      const [[x0, y0], [x1, y1]] = [place(mark.from, on), place(mark.to, on)]
      const box = [Math.min(x0, x1), Math.min(y0, y1), Math.abs(x1 - x0), Math.abs(y1 - y0)] as const
      ctx.fillStyle = palette.mask
      ctx.fillRect(...box)
      if (mark.edge) {
        ctx.strokeStyle = palette.maskEdge
        ctx.setLineDash(mark.edge === 'dashed' ? [4, 3] : [])
        ctx.strokeRect(...box)
      }
    } else if (mark.kind === 'line') {
      const [[x0, y0], [x1, y1]] = [place(mark.from, on), place(mark.to, on)]
      ctx.strokeStyle = this.color(mark.ink)
      ctx.lineWidth = mark.width ?? 1
      ctx.setLineDash([...(mark.dash ?? [])])
      ctx.beginPath()
      ctx.moveTo(x0, y0)
      ctx.lineTo(x1, y1)
      ctx.stroke()
      if (mark.text) {
        this.font(type.size - 1)
        ctx.textBaseline = 'bottom'
        ctx.fillStyle = palette.ink
        ctx.fillText(mark.text, Math.max(x0, on.area.left + 4), y0 - 3)
      }
    } else if (mark.kind === 'point') {
      const [x, y] = place(mark.at, mark.right && on.right ? { ...on, y: on.right } : on)
      ctx.fillStyle = palette.paper
      ctx.strokeStyle = palette.curves[0]!
      ctx.lineWidth = 2
      ctx.beginPath()
      ctx.arc(x, y, 4.5, 0, 2 * Math.PI)
      ctx.fill()
      ctx.stroke()
    } else if (mark.kind === 'run') {
      ctx.strokeStyle = this.color(mark.ink)
      ctx.lineWidth = 4
      ctx.beginPath()
      line(ctx, mark.x, mark.y, 0, mark.x.length - 1, on.x.place, on.y.place)
      ctx.stroke()
    } else if (mark.kind === 'flag') this.flag(mark, on)
    else if (mark.kind === 'text') this.text(mark, on)
    else if (mark.kind === 'note') this.text({ ...mark, kind: 'text', side: 'right' }, on)
    else this.root(mark.kind, place(mark.at, on))
    ctx.restore()
  }

  /** A cross for a pole, a ring for a zero: common practice, no source. */
  private root(kind: 'pole' | 'zero', [px, py]: readonly [number, number]): void {
    const { ctx, palette } = this
    ctx.strokeStyle = palette.curves[kind === 'pole' ? 0 : 1]!
    ctx.lineWidth = 2
    ctx.beginPath()
    if (kind === 'zero') ctx.arc(px, py, 5, 0, 2 * Math.PI)
    else
      for (const sign of [-1, 1]) {
        ctx.moveTo(px - 5, py - sign * 5)
        ctx.lineTo(px + 5, py + sign * 5)
      }
    ctx.stroke()
  }

  private flag({ x, name }: Extract<Mark, { kind: 'flag' }>, { area, x: across }: Frame): void {
    const { ctx, palette, type } = this
    const px = crisp(across.place(x))
    ctx.strokeStyle = palette.ink
    ctx.lineWidth = 1
    ctx.setLineDash([4, 3])
    ctx.beginPath()
    this.upright(px, area)
    ctx.stroke()
    this.font(type.size, 650)
    const width = ctx.measureText(name).width + 10
    const left = Math.min(area.right - width, Math.max(area.left, px - width / 2))
    ctx.fillStyle = palette.ink
    ctx.fillRect(left, area.bottom - FLAG, width, FLAG)
    ctx.fillStyle = palette.paper
    ctx.textAlign = 'center'
    ctx.textBaseline = 'middle'
    ctx.fillText(name, left + width / 2, area.bottom - FLAG / 2)
  }

  private text({ at, text, side, down = 0 }: Extract<Mark, { kind: 'text' }>, on: Frame): void {
    const { ctx, palette, type } = this
    const [px, py] = place(at, on)
    this.font(type.size)
    const width = ctx.measureText(text).width
    // It stands on its side of the place, or on the other where it would leave the diagram.
    const fits = side === 'right' ? px + width + 12 <= on.area.right : px - width - 12 >= on.area.left
    const left = (side === 'right') === fits ? px + 9 : px - 9 - width
    let y = Math.min(on.area.bottom - 9, Math.max(on.area.top + 9, py + down))
    // Words that would cover each other stand one below the other.
    const covers = (box: Area) =>
      left - 3 < box.right && left + width + 3 > box.left && y - 9 < box.bottom && y + 9 > box.top
    while (this.words.some(covers) && y + 18 < on.area.bottom) y += 18
    this.words.push({ left: left - 3, right: left + width + 3, top: y - 9, bottom: y + 9 })
    ctx.fillStyle = palette.paper
    ctx.globalAlpha = 0.88
    ctx.fillRect(left - 3, y - 9, width + 6, 18)
    ctx.globalAlpha = 1
    ctx.fillStyle = palette.ink
    ctx.textAlign = 'left'
    ctx.textBaseline = 'middle'
    ctx.fillText(text, left, y)
  }

  private cursor(at: number, { area, x }: Frame): void {
    const { ctx } = this
    ctx.strokeStyle = this.palette.ink
    ctx.lineWidth = 1
    ctx.setLineDash([2, 3])
    ctx.beginPath()
    this.upright(crisp(x.place(at)), area)
    ctx.stroke()
  }

  /** A part of the diagram, larger, where it covers least; a thin frame marks what it shows. */
  private lens(plot: Plot, { x, y }: Lens, whole: Frame): void {
    const { ctx, palette, type } = this
    const box = lensArea(plot, whole)
    const inner = { left: box.left + 52, right: box.right - 10, top: box.top + 24, bottom: box.bottom - 22 }
    const inside = frame(
      inner,
      { ...plot.x, min: Math.max(plot.x.min, x[0]), max: Math.min(plot.x.max, x[1]) },
      { ...plot.y, min: y[0], max: y[1] },
    )
    ctx.save()
    ctx.fillStyle = palette.paper
    ctx.strokeStyle = palette.soft
    ctx.lineWidth = 1
    ctx.fillRect(box.left, box.top, box.right - box.left, box.bottom - box.top)
    ctx.strokeRect(crisp(box.left), crisp(box.top), Math.floor(box.right - box.left), Math.floor(box.bottom - box.top))
    const [ys, xs] = [ticksOf(inside.y.axis, 4), ticksOf(inside.x.axis, 4)]
    ctx.strokeStyle = palette.grid
    ctx.beginPath()
    for (const t of ys) this.level(crisp(inside.y.place(t)), inner)
    for (const t of xs) this.upright(crisp(inside.x.place(t)), inner)
    ctx.stroke()
    this.clipped(inner, () => {
      for (const mark of plot.marks) if (mark.kind === 'area') this.mark(mark, inside)
      for (const curve of plot.curves) this.curve(curve, inside)
    })
    this.font(type.size - 1)
    ctx.fillStyle = palette.soft
    ctx.textAlign = 'right'
    ctx.textBaseline = 'middle'
    for (const t of ys) ctx.fillText(tickText(t, false), inner.left - 5, inside.y.place(t))
    ctx.textAlign = 'center'
    ctx.textBaseline = 'top'
    for (const t of xs) ctx.fillText(tickText(t, true), inside.x.place(t), inner.bottom + 5)
    this.font(type.size - 1, 600)
    ctx.textAlign = 'left'
    ctx.textBaseline = 'middle'
    ctx.fillText('passband, larger', box.left + 8, box.top + 13)
    ctx.restore()
  }
}

/** A line of one pixel is sharp between two pixels. */
const crisp = (px: number): number => Math.round(px) + 0.5

/** A place on the canvas; the ends of the axes stand for what lies beyond them. */
function place([x, y]: Place, { x: across, y: up }: Frame): readonly [number, number] {
  const held = (v: number, { min, max }: Axis) => (v === -Infinity ? min : v === Infinity ? max : v)
  return [across.place(held(x, across.axis)), up.place(held(y, up.axis))]
}

/** The stretch of points from just before a range to just after it: [first, last]. */
export function visible(x: Float64Array, min: number, max: number): readonly [number, number] {
  return [Math.max(0, lowerBound(x, min) - 1), Math.min(x.length - 1, lowerBound(x, max) + 1)]
}

/** Index of the first value, from a place on, that is not below another. */
export function lowerBound(x: Float64Array, value: number, from = 0): number {
  let [lo, hi] = [from, x.length]
  while (lo < hi) {
    const middle = (lo + hi) >> 1
    if (x[middle]! < value) lo = middle + 1
    else hi = middle
  }
  return lo
}

type Pen = Pick<CanvasRenderingContext2D, 'moveTo' | 'lineTo'>
type Scale = (value: number) => number

function line(pen: Pen, x: Float64Array, y: Float64Array, first: number, last: number, across: Scale, up: Scale): void {
  let isDown = false
  for (let k = first; k <= last; k++) {
    const py = up(y[k]!)
    // Where a way has no place it begins anew; where a curve has no value it goes on.
    if (Number.isNaN(x[k]!)) isDown = false
    if (Number.isNaN(x[k]!) || !Number.isFinite(py)) continue
    if (isDown) pen.lineTo(across(x[k]!), py)
    else pen.moveTo(across(x[k]!), py)
    isDown = true
  }
}

/** In each pixel column the first, least, greatest and last value: what a line through all points would paint. */
export function columns(
  pen: Pen,
  x: Float64Array,
  y: Float64Array,
  first: number,
  last: number,
  across: Pick<Ruler, 'place' | 'value'>,
  up: Scale,
): void {
  let isDown = false
  for (let k = first; k <= last;) {
    const column = Math.floor(across.place(x[k]!))
    const end = Math.min(last + 1, Math.max(k + 1, lowerBound(x, across.value(column + 1), k)))
    const [least, greatest] = extremesOf(y, k, end)
    if (least <= greatest) {
      let [begin, stop] = [k, end - 1]
      while (!Number.isFinite(y[begin]!)) begin++
      while (!Number.isFinite(y[stop]!)) stop--
      if (isDown) pen.lineTo(column, up(y[begin]!))
      else pen.moveTo(column, up(y[begin]!))
      pen.lineTo(column, up(least))
      pen.lineTo(column, up(greatest))
      pen.lineTo(column, up(y[stop]!))
      isDown = true
    }
    k = end
  }
}

/** The last point that lies inside both axes; −1 where none does. */
function endOf(x: Float64Array, y: Float64Array, across: Axis, up: Axis): number {
  for (let k = Math.min(x.length, lowerBound(x, across.max) + 1) - 1; k >= 0 && x[k]! >= across.min; k--)
    if (x[k]! <= across.max && y[k]! >= up.min && y[k]! <= up.max) return k
  return -1
}

/** The last point of a path that lies inside both axes; −1 where none does. */
function insideOf(x: Float64Array, y: Float64Array, across: Axis, up: Axis): number {
  for (let k = x.length - 1; k >= 0; k--)
    if (x[k]! >= across.min && x[k]! <= across.max && y[k]! >= up.min && y[k]! <= up.max) return k
  return -1
}

/** px of a row of a legend, and of the piece of a curve beside a name. */
const LEGEND = { row: 18, sample: 26 } as const

/** Parts of the diagram that a lens takes, its px, and the px from which on there is room for one. */
const LENS = { width: 0.4, height: 0.46, least: 210, most: 380, room: 130 } as const

/** Where a lens covers least of the curves: at the lower edge, else at the upper one. */
export function lensArea(plot: Plot, whole: Frame): Area {
  const { area } = whole
  const width = Math.min(LENS.most, Math.max(LENS.least, LENS.width * (area.right - area.left)))
  return leastCovered(plot, whole, width, LENS.height * (area.bottom - area.top), 28)
}

/** Where a frame covers least of the curves: at the lower edge, else so many px below the upper one. */
function leastCovered(
  { curves }: Plot,
  { area, x, y }: Frame,
  width: number,
  height: number,
  below: number,
  taken: Area | null = null,
): Area {
  const lefts = [area.left + 12, area.right - width - 12, (area.left + area.right - width) / 2]
  const tops = [area.bottom - 12 - height, area.top + below]
  const places = tops.flatMap((top) =>
    lefts.map((left): Area => ({ left, right: left + width, top, bottom: top + height })),
  )
  /** Pixel columns in which a curve passes through; what is taken already is worst. */
  const covered = ({ left, right, top, bottom }: Area) => {
    let count = 0
    if (taken && left < taken.right && right > taken.left && top < taken.bottom && bottom > taken.top) count = 1e6
    for (const curve of curves) {
      let column = -1
      const [first, last] = visible(curve.x, x.value(left), x.value(right))
      for (let k = first; k <= last; k++) {
        const [px, py] = [Math.floor(x.place(curve.x[k]!)), y.place(curve.y[k]!)]
        if (px === column || px < left || px > right || py < top - 8 || py > bottom + 8) continue
        column = px
        count++
      }
    }
    return count
  }
  return places.reduce((best, next) => (covered(next) < covered(best) ? next : best))
}
