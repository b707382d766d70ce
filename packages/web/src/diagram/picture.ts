import { Context } from 'svgcanvas'
import { FONT } from './chart'
import { drawPicture, paintPicture, type PictureSize } from './paintPicture'
import type { Palette } from './palette'
import type { Plot } from './plot'

/** The usual size of a picture, px: half a page wide; and dots for each of them. */
const PICTURE: PictureSize = { width: 960, height: 560 }
const DOTS = 2

/** A diagram as a PNG picture, two dots a px. */
export async function pngOf(plot: Plot, palette: Palette, size: PictureSize = PICTURE): Promise<Blob> {
  await document.fonts.load(FONT)
  const canvas = document.createElement('canvas')
  paintPicture(canvas, plot, palette, size, DOTS)
  return new Promise((done, failed) =>
    canvas.toBlob((blob) => (blob ? done(blob) : failed(new Error('The picture cannot be made.'))), 'image/png'),
  )
}

/** A diagram as SVG: lines and letters that can be changed in any drawing program. */
export function svgOf(plot: Plot, palette: Palette, size: PictureSize = PICTURE): string {
  // Widths of letters are a canvas' own.
  const measuring = document.createElement('canvas').getContext('2d')!
  const context = new Context({ ...size, ctx: measuring })
  drawPicture(context as unknown as CanvasRenderingContext2D, plot, palette, size)
  // With a view box it fits wherever it is put.
  return context.getSerializedSvg(true).replace('<svg ', `<svg viewBox="0 0 ${size.width} ${size.height}" `)
}
