import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { frame, pannedAxis, ruler, zoomedAxis } from './frame'
import { extremesOf } from './extremes'
import { columns, lensArea, lowerBound, visible } from './paint'
import { extentOf } from './plot'
import { linearTicks, logTicks, ticksOf } from './ticks'

const axis = (min: number, max: number, log = false) => ({ title: '', min, max, log })

describe('rulers', () => {
  test('put values where the axis has them and back, logarithmic ones by decades', () => {
    const log = ruler(axis(10, 1e5, true), 100, 500)
    expect([10, 1000, 1e5].map((v) => Math.round(1e6 * log.place(v)) / 1e6)).toEqual([100, 300, 500])
    fc.assert(
      fc.property(fc.double({ min: 1e-3, max: 1e9, noNaN: true }), fc.boolean(), (v, isLog) => {
        const r = ruler(axis(1e-3, 1e9, isLog), 0, 1000)
        expect(Math.abs(r.value(r.place(v)) / v - 1)).toBeLessThan(1e-9)
      }),
    )
  })

  test('zoom keeps what lies under the pointer, and never leaves what there is; panning stops at the ends', () => {
    const full = axis(1, 1e6, true)
    const near = zoomedAxis(full, full, 1000, 4)
    expect(ruler(near, 0, 1).place(1000)).toBeCloseTo(ruler(full, 0, 1).place(1000), 9)
    expect(zoomedAxis(full, near, 1000, 0.01)).toMatchObject({ min: 1, max: 1e6 })
    const moved = pannedAxis(full, near, 0.5)
    expect(Math.log(moved.max / moved.min)).toBeCloseTo(Math.log(near.max / near.min), 9)
    const end = pannedAxis(full, near, 1e3)
    expect(end.max / 1e6).toBeCloseTo(1, 9)
    expect(pannedAxis(full, full, 0.5).min).toBeCloseTo(1, 9)
  })
})

describe('ticks', () => {
  test.each([
    [0, 200e-6, 10, 11],
    [-80e-3, 80e-3, 9, 9],
    [0, 1, 4, 3],
    [3, 3, 5, 1],
  ])('from %d to %d, at most %i: round, and %i of them', (min, max, most, count) => {
    const ticks = linearTicks(min, max, most)
    expect(ticks).toHaveLength(count)
    expect(ticks.some((t) => Object.is(t, -0))).toBe(false)
  })

  test('degrees stand at multiples of their step, fewer where they would crowd', () => {
    expect(linearTicks(-360, 0, 8, 90)).toEqual([-360, -270, -180, -90, 0])
    expect(linearTicks(-3600, 0, 8, 180)).toHaveLength(6)
  })

  test('decades are marked as finely as there is room; within one, evenly', () => {
    expect(logTicks(1, 1000, 12)).toEqual([1, 2, 5, 10, 20, 50, 100, 200, 500, 1000])
    expect(logTicks(1, 1000, 5)).toEqual([1, 10, 100, 1000])
    expect(logTicks(1e-6, 1e9, 6)).toEqual([1e-6, 1e-3, 1, 1e3, 1e6, 1e9])
    expect(ticksOf(axis(110e3, 150e3, true), 4)).toEqual([110e3, 120e3, 130e3, 140e3, 150e3])
  })
})

describe('curves of many points', () => {
  test('are drawn in each pixel column from the least to the greatest value, so that no crest is lost', () => {
    const n = 1_000_000
    const x = Float64Array.from({ length: n }, (_, k) => k / n)
    const y = x.map((t) => Math.sin(2 * Math.PI * 20_000 * t))
    y[777_777] = 5
    const drawn: [number, number][] = []
    const pen = {
      moveTo: (a: number, b: number) => drawn.push([a, b]),
      lineTo: (a: number, b: number) => drawn.push([a, b]),
    }
    columns(pen, x, y, 0, n - 1, { place: (v) => v * 900, value: (px) => px / 900 }, (v) => v)
    expect(drawn.length).toBeLessThanOrEqual(4 * 901)
    const values = drawn.map(([, v]) => v)
    expect(Math.max(...values)).toBe(5)
    for (let column = 0; column < 900; column++) {
      const own = drawn.filter(([px]) => px === column).map(([, v]) => v)
      expect(Math.max(...own)).toBeGreaterThan(0.99)
      expect(Math.min(...own)).toBeLessThan(-0.99)
    }
  })

  test('what is not finite is passed by', () => {
    const x = Float64Array.from([0, 1, 2, 3, 4])
    const drawn: number[] = []
    const pen = { moveTo: (a: number) => drawn.push(a), lineTo: (a: number) => drawn.push(a) }
    columns(
      pen,
      x,
      Float64Array.from([NaN, 1, Infinity, NaN, 2]),
      0,
      4,
      { place: (v) => v, value: (px) => px },
      (v) => v,
    )
    expect([...new Set(drawn)]).toEqual([1, 4])
  })

  test('only what is seen is gone through, with a point to either side', () => {
    const x = Float64Array.from({ length: 100 }, (_, k) => k)
    expect(visible(x, 10.5, 20.5)).toEqual([10, 22])
    expect(visible(x, -5, 1000)).toEqual([0, 99])
    expect([lowerBound(x, -1), lowerBound(x, 50), lowerBound(x, 1e9)]).toEqual([0, 50, 100])
  })
})

test('least and greatest of a stretch are the same by blocks as one by one, whatever is not finite', () => {
  const y = Float64Array.from({ length: 50_000 }, (_, k) => (k % 977 === 0 ? NaN : Math.sin(k * k)))
  y[30_000] = Infinity
  y[30_001] = -9
  for (const [from, to] of [
    [0, 50_000],
    [1, 129],
    [127, 40_003],
    [29_950, 30_002],
    [49_999, 50_000],
  ] as const) {
    const own = [...y.subarray(from, to)].filter((v) => Number.isFinite(v))
    const wanted = [own.reduce((a, b) => Math.min(a, b), Infinity), own.reduce((a, b) => Math.max(a, b), -Infinity)]
    expect(extremesOf(y, from, to)).toEqual(wanted)
  }
})

test('least and greatest leave out what is not finite, of however many values', () => {
  expect(extentOf(Float64Array.of(NaN, 3, -Infinity), Float64Array.of(-2, Infinity))).toEqual([-2, 3])
  expect(extentOf(Float64Array.of(NaN), new Float64Array(0))).toBeNull()
  expect(extentOf(new Float64Array(500_000).fill(7))).toEqual([7, 7])
})

test('a lens stands where it covers least of the curves', () => {
  const area = { left: 70, top: 10, right: 970, bottom: 410 }
  const x = Float64Array.from({ length: 400 }, (_, k) => 10 * 10 ** (k / 100))
  const at = (y: Float64Array) => {
    const plot = { x: axis(10, 1e5, true), y: axis(-60, 10), curves: [{ label: '', x, y, color: 0 }], marks: [] }
    return lensArea(plot, frame(area, plot.x, plot.y))
  }
  // A low-pass leaves room below its passband, a high-pass on the other side.
  expect(at(x.map((f) => (f < 1e3 ? 0 : -40 * Math.log10(f / 1e3)))).left).toBe(82)
  const high = at(x.map((f) => (f > 1e4 ? 0 : 18 * Math.log10(f / 1e4))))
  expect(high.right).toBeGreaterThan(900)
  for (const side of [high]) {
    expect(side.left).toBeGreaterThanOrEqual(area.left)
    expect(side.bottom).toBeLessThanOrEqual(area.bottom)
  }
})
