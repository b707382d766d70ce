import { Context } from 'svgcanvas'
import { FONT, TYPE } from './chart'
import type { Area } from './frame'
import { MARGINS, Painter, topOf } from './paint'
import type { Palette } from './palette'
import type { Plot } from './plot'

/** px of a picture, and dots for each of them. */
export interface PictureSize {
  readonly width: number
  readonly height: number
}

/** The usual size: half a page wide. */
export const PICTURE: PictureSize = { width: 960, height: 560 }
const DOTS = 2

function areaOf({ width, height }: PictureSize, plot: Plot): Area {
  return {
    left: MARGINS.left,
    top: topOf(plot),
    right: width - (plot.right ? MARGINS.rightAxis : MARGINS.right),
    bottom: height - MARGINS.bottom,
  }
}

function paint(ctx: CanvasRenderingContext2D, plot: Plot, palette: Palette, size: PictureSize): void {
  ctx.fillStyle = palette.paper
  ctx.fillRect(0, 0, size.width, size.height)
  // Where the pointer is belongs to the screen.
  new Painter(ctx, palette, TYPE).draw({ ...plot, cursor: null }, areaOf(size, plot))
}

/** A diagram as a PNG picture, two dots a px. */
export async function pngOf(plot: Plot, palette: Palette, size: PictureSize = PICTURE): Promise<Blob> {
  await document.fonts.load(FONT)
  const canvas = document.createElement('canvas')
  canvas.width = DOTS * size.width
  canvas.height = DOTS * size.height
  const ctx = canvas.getContext('2d')!
  ctx.scale(DOTS, DOTS)
  paint(ctx, plot, palette, size)
  return new Promise((done, failed) =>
    canvas.toBlob((blob) => (blob ? done(blob) : failed(new Error('The picture cannot be made.'))), 'image/png'),
  )
}

/** A diagram as SVG: lines and letters that can be changed in any drawing program. */
export function svgOf(plot: Plot, palette: Palette, size: PictureSize = PICTURE): string {
  // Widths of letters are a canvas' own.
  const measuring = document.createElement('canvas').getContext('2d')!
  const context = new Context({ ...size, ctx: measuring })
  paint(context as unknown as CanvasRenderingContext2D, plot, palette, size)
  // With a view box it fits wherever it is put.
  return context.getSerializedSvg(true).replace('<svg ', `<svg viewBox="0 0 ${size.width} ${size.height}" `)
}
