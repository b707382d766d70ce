import type { GridPoint, Part } from '../../circuit/circuit.js'
import { around, type Box, placed, symbolBox, wirePoints } from '../../circuit/drawing/geometry.js'
import type { Drawing } from '../../circuit/drawing/index.js'
import { labelBox, type LabelPlace, labelRows, noteBox, NOTE_SIZE, tagBox } from '../../circuit/drawing/labels.js'
import { textWidth } from '../../circuit/drawing/lettering.js'
import { partShape } from '../../circuit/parts/index.js'
import { drawingJson } from './drawingJson.js'

/** Pixels a grid unit, and the air around everything, grid units. */
const GRID = 16
const AIR = 1.5

/** Grid units of a letter's em, and how far its base line lies below its middle. */
const EM = 15 / GRID
const BASE = 0.33 * EM

const FONT = "'Source Sans 3 Variable', 'Source Sans 3', sans-serif"

/**
 * A drawing as a picture: SVG 1.1 in ink on white, 16 px a grid unit, in the font that the application ships where it is
 * installed.
 *
 * @param textOf what stands after a part's name; null for nothing
 */
export function drawingSvg(drawing: Drawing, textOf: (part: Part) => string | null): string {
  const { circuit, labels, names, tags } = drawing
  const { wires, junctions } = drawingJson(drawing, textOf)
  const symbols = circuit.parts.flatMap((part) => (part.at ? [symbolOf(part)] : []))
  const words = circuit.parts.flatMap((part) => {
    const place = labels.get(part.id)
    return place ? labelOf(part, textOf(part), place) : []
  })
  const named = circuit.labels.flatMap(({ id, name }) => {
    const box = names.get(id)
    return box ? [{ name, box }] : []
  })
  const ended = tags.map((tag) => ({ name: tag.goesOn ? `${tag.net} ›` : `› ${tag.net}`, box: tagBox(tag) }))
  const frames = [...named, ...ended]
  const box = boundsOf(drawing, textOf)
  const [width, height] = [box.right - box.left, box.bottom - box.top].map((v) => number(v * GRID))
  const path = (d: string, rest = '') => (d === '' ? [] : [`<path d="${d}"${rest}/>`])
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="${[box.left, box.top, box.right - box.left, box.bottom - box.top].map(number).join(' ')}">`,
    `<title>${escaped(circuit.title ?? 'Circuit')}</title>`,
    `<rect x="${number(box.left)}" y="${number(box.top)}" width="100%" height="100%" fill="#fff"/>`,
    '<g fill="none" stroke="#111" stroke-width=".11" stroke-linejoin="round" stroke-linecap="round">',
    ...path(wires.map(({ points }) => `M${points.map((p) => p.map(number).join(' ')).join('L')}`).join('')),
    ...symbols.map(({ transform, strokes, filled }) =>
      [`<g transform="${transform}">`, ...path(strokes), ...path(filled, ' fill="#111"'), '</g>'].join(''),
    ),
    ...frames.map(
      ({ box: { left, top, right, bottom } }) =>
        `<rect x="${number(left)}" y="${number(top)}" width="${number(right - left)}" height="${number(bottom - top)}" rx=".4" stroke="#888" stroke-width=".07"/>`,
    ),
    '</g>',
    `<g fill="#111">${junctions.map(([x, y]) => `<circle cx="${number(x)}" cy="${number(y)}" r=".25"/>`).join('')}</g>`,
    `<g fill="#111" font-family="${FONT}" font-size="${EM}" xml:space="preserve">`,
    ...symbols.flatMap((s) => s.texts.map(({ x, y, text: t }) => text(x, y + BASE, t, 'middle'))),
    ...words,
    ...frames.map(({ name, box: b }) =>
      text((b.left + b.right) / 2, (b.top + b.bottom) / 2 + BASE, name, 'middle', ' font-weight="650"'),
    ),
    ...(circuit.notes ?? []).flatMap((note) =>
      note.text.split('\n').map((row, k) => {
        const { em, line } = NOTE_SIZE[note.as]
        const bold = note.as === 'title' ? ' font-weight="700"' : ''
        return text(note.at.x, note.at.y + line * (k + 0.5) + 0.33 * em, row, 'start', ` font-size="${em}"${bold}`)
      }),
    ),
    '</g>',
    '</svg>',
    '',
  ].join('\n')
}

function symbolOf(part: Part) {
  const { strokes, filled = [], texts = [] } = partShape(part).symbol
  const { x, y, rotation, mirrored } = part.at!
  return {
    transform: `translate(${number(x)} ${number(y)})${rotation ? ` rotate(${rotation})` : ''}${mirrored ? ' scale(-1 1)' : ''}`,
    strokes: strokes.join(''),
    filled: filled.join(''),
    texts: texts.map((t) => ({ ...placed(part, [t.x, t.y]), text: t.text })),
  }
}

function labelOf(part: Part, value: string | null, place: LabelPlace): string[] {
  const box = labelBox(part, value, place)!
  const rows = labelRows(part.id, value, place.lines)
  const [anchor, x] =
    place.side === 'right'
      ? (['start', box.left] as const)
      : place.side === 'left'
        ? (['end', box.right] as const)
        : (['middle', (box.left + box.right) / 2] as const)
  const step = (box.bottom - box.top) / rows.length
  return rows.map((row, k) => {
    const y = box.top + step * (k + 0.5) + BASE
    const [first, ...rest] = row
    const name = k === 0 ? `<tspan fill="#555">${escaped(first)}</tspan>` : escaped(first)
    // As wide as the core left room for, whatever the font.
    const width = number(EM * textWidth(row.join(' ')))
    return `<text x="${number(x)}" y="${number(y)}" text-anchor="${anchor}" textLength="${width}" lengthAdjust="spacingAndGlyphs">${[name, ...rest.map(escaped)].join(' ')}</text>`
  })
}

function boundsOf({ circuit, labels, names, tags, pieces }: Drawing, textOf: (part: Part) => string | null): Box {
  const points = circuit.wires.flatMap((w) => (pieces.get(w.id) ?? [wirePoints(circuit, w) ?? []]).flat())
  const boxes: Box[] = [
    ...circuit.parts.flatMap((part) => {
      const place = labels.get(part.id)
      return [symbolBox(part), place ? labelBox(part, textOf(part), place) : null].flatMap((b) => b ?? [])
    }),
    ...names.values(),
    ...tags.map(tagBox),
    ...(circuit.notes ?? []).map(noteBox),
    ...points.map(pointBox),
  ]
  const all = boxes.length > 0 ? boxes.reduce(around) : pointBox({ x: 0, y: 0 })
  return { left: all.left - AIR, right: all.right + AIR, top: all.top - AIR, bottom: all.bottom + AIR }
}

const pointBox = ({ x, y }: GridPoint): Box => ({ left: x, right: x, top: y, bottom: y })

const text = (x: number, y: number, of: string, anchor: 'start' | 'middle' | 'end', more = '') =>
  `<text x="${number(x)}" y="${number(y)}" text-anchor="${anchor}"${more}>${escaped(of)}</text>`

/** Without digits that nobody sees. */
const number = (value: number): string => String(Number(value.toFixed(3)))

const ESCAPES: Readonly<Record<string, string>> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' }
const escaped = (of: string): string => of.replace(/[&<>"]/g, (c) => ESCAPES[c])
