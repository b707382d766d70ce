import { TYPE } from './chart'
import { type Area, squared } from './frame'
import { MARGINS, Painter, topOf } from './paint'
import type { Palette } from './palette'
import type { Plot } from './plot'

/** px of a picture. */
export interface PictureSize {
  readonly width: number
  readonly height: number
}

function areaOf({ width, height }: PictureSize, plot: Plot): Area {
  return {
    left: MARGINS.left,
    top: topOf(plot),
    right: width - (plot.right ? MARGINS.rightAxis : MARGINS.right),
    bottom: height - MARGINS.bottom,
  }
}

/** Draws a diagram on its paper into any context; where the pointer is belongs to the screen and is left out. */
export function drawPicture(ctx: CanvasRenderingContext2D, plot: Plot, palette: Palette, size: PictureSize): void {
  ctx.fillStyle = palette.paper
  ctx.fillRect(0, 0, size.width, size.height)
  const area = areaOf(size, plot)
  const axes = plot.square ? squared(plot.x, plot.y, area) : { x: plot.x, y: plot.y }
  new Painter(ctx, palette, TYPE).draw({ ...plot, ...axes, cursor: null }, area)
}

/** The same on a canvas, so many dots a px. */
export function paintPicture(
  canvas: HTMLCanvasElement,
  plot: Plot,
  palette: Palette,
  size: PictureSize,
  dots: number,
): void {
  canvas.width = dots * size.width
  canvas.height = dots * size.height
  const ctx = canvas.getContext('2d')!
  ctx.scale(dots, dots)
  drawPicture(ctx, plot, palette, size)
}
