import { describe, expect, test } from 'vitest'
import { partKinds } from './index.js'

type Point = readonly [x: number, y: number]

/** The corners of an SVG path of lines and arcs, in turn; those where a stroke begins or ends are `tips`. */
function walked(path: string): { corners: Point[]; tips: Point[] } {
  const corners: Point[] = []
  const tips: Point[] = []
  let [x, y] = [0, 0]
  let start: Point = [0, 0]
  for (const [, command, rest] of path.matchAll(/([A-Za-z])([^A-Za-z]*)/g)) {
    const n = (rest.match(/-?(?:\d+\.?\d*|\.\d+)/g) ?? []).map(Number)
    if (command === 'M') {
      if (corners.length > 0) tips.push([x, y])
      ;[x, y] = n
      start = [x, y]
      tips.push(start)
    } else if (command === 'L') [x, y] = n
    else if (command === 'H') [x] = n
    else if (command === 'V') [y] = n
    else if (command === 'a') [x, y] = [x + n[5], y + n[6]]
    else if (command === 'Z') [x, y] = start
    else throw new Error(`A symbol has the path command "${command}", which this test does not walk.`)
    corners.push([x, y])
  }
  tips.push([x, y])
  return { corners, tips }
}

const NEAR = 1e-9
const isAt = ([x, y]: Point, [u, v]: Point) => Math.hypot(x - u, y - v) < NEAR

describe.each(partKinds.map((k) => [k.id, k] as const))('the symbol of a %s', (_id, kind) => {
  const { strokes, filled = [], half } = kind.symbol
  const tips = strokes.flatMap((s) => walked(s).tips)

  test('reaches every pin that has to be joined', () => {
    for (const pin of kind.pins) {
      if (pin in (kind.optionalPins ?? {})) continue
      expect(
        tips.some((tip) => isAt(tip, kind.pinPlaces[pin]!)),
        pin,
      ).toBe(true)
    }
  })

  test('stays within its outline, from whose middle it is turned', () => {
    for (const [x, y] of [...strokes, ...filled].flatMap((s) => walked(s).corners)) {
      expect(Math.abs(x)).toBeLessThanOrEqual(half[0] + 1)
      expect(Math.abs(y)).toBeLessThanOrEqual(half[1] + NEAR)
    }
  })
})

test('every kind has its pins on the grid, no two at one place', () => {
  for (const { id, pins, pinPlaces } of partKinds) {
    const places = pins.map((pin) => pinPlaces[pin]!)
    for (const place of places) expect(place.every(Number.isInteger), id).toBe(true)
    expect(new Set(places.map(String)).size, id).toBe(places.length)
  }
})

test('symbols tell kinds apart', () => {
  const drawn = partKinds.map((k) => JSON.stringify([k.symbol.strokes, k.symbol.filled, k.symbol.texts, k.pinPlaces]))
  expect(new Set(drawn).size).toBe(partKinds.length)
})
