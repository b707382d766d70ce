import { describe, expect, test } from 'vitest'
import { type Course, courseMeasures, coursePlaces, courseSpectrum, lagBetween, timesWhere } from './course.js'

const course = (of: (t: number) => number, stop: number, points: number): Course => {
  const time = Float64Array.from({ length: points }, (_, k) => (stop * k) / (points - 1))
  return { time, value: time.map(of) }
}
const sine =
  (amplitude: number, f: number, degrees = 0, offset = 0) =>
  (t: number) =>
    offset + amplitude * Math.sin(2 * Math.PI * f * t + (degrees * Math.PI) / 180)

describe('a sine of 64 points a period', () => {
  // rms: amplitude/√2; with an offset √(offset² + amplitude²/2)
  const c = course(sine(2, 500, 0, 1), 8.5e-3, 64 * 4.25 + 1)

  test('peak to peak, mean and rms over whole periods, period', () => {
    const m = courseMeasures(c, 0, 8.5e-3)
    expect(m.peakToPeak).toBeCloseTo(4, 4)
    expect(m.greatest).toBeCloseTo(3, 4)
    expect(m.mean).toBeCloseTo(1, 5)
    expect(m.rms).toBeCloseTo(Math.sqrt(3), 5)
    expect(m.period! * 1e3).toBeCloseTo(2, 4)
  })

  test('a part of it: between two times alone', () => {
    // The middle of [0, 0.5 ms] of 1 + 2·sin: 1 + 2·(1 − cos(π/2))/(π/2) = 1 + 4/π
    const m = courseMeasures(c, 0, 0.5e-3)
    expect(m.mean).toBeCloseTo(1 + 4 / Math.PI, 5)
    expect(m.period).toBeNull()
  })

  test('how much later: in degrees, lags positive, leads negative', () => {
    const other = course(sine(0.6, 500, -51.2), 8e-3, 401)
    const first = course(sine(2, 500), 8e-3, 401)
    expect(lagBetween(other, first, 500)).toBeCloseTo(51.2, 3)
    expect(lagBetween(first, other, 500)).toBeCloseTo(-51.2, 3)
    expect(
      lagBetween(
        course(() => 1, 8e-3, 401),
        first,
        500,
      ),
    ).toBeNull()
  })
})

/*
 * A sine that is clipped at ±c of its amplitude, θ = arcsin c: the odd harmonics of its Fourier series are, by integrating
 * c·sin(nθ) from θ to π − θ and sin θ·sin(nθ) outside of it (closed form, worked out here),
 * b₁ = (2/π)·(θ + c·√(1 − c²)), bₙ = (2/π)·[ sin((n−1)θ)/(n−1) − sin((n+1)θ)/(n+1) + 2c·cos(nθ)/n ].
 */
test('the spectrum of a clipped sine is that of its Fourier series', () => {
  const c = 0.6
  const theta = Math.asin(c)
  const clipped = course((t) => Math.max(-c, Math.min(c, Math.sin(2000 * Math.PI * t))), 3e-3, 3 * 8192 + 1)
  const spectrum = courseSpectrum(clipped, 1000, 9)!
  const b = (n: number) =>
    n === 1
      ? (2 / Math.PI) * (theta + c * Math.sqrt(1 - c * c))
      : (2 / Math.PI) *
        (Math.sin((n - 1) * theta) / (n - 1) - Math.sin((n + 1) * theta) / (n + 1) + (2 * c * Math.cos(n * theta)) / n)
  for (const n of [1, 3, 5, 7, 9]) expect(spectrum.harmonics[n]!.amplitude).toBeCloseTo(Math.abs(b(n)), 6)
  for (const n of [0, 2, 4, 6, 8]) expect(spectrum.harmonics[n]!.amplitude).toBeCloseTo(0, 9)
  const above = [3, 5, 7, 9].reduce((sum, n) => sum + b(n) ** 2, 0)
  expect(spectrum.distortionPercent).toBeCloseTo((100 * Math.sqrt(above)) / b(1), 4)
})

test('a square wave with true jumps: 4/(nπ) of its odd harmonics, and rms as high as it is', () => {
  const time: number[] = []
  const value: number[] = []
  for (let k = 0; k < 6; k++)
    for (const t of [0, 0.1, 0.2, 0.3, 0.4, 0.5]) {
      time.push((k + 2 * t) * 5e-4)
      value.push(k % 2 === 0 ? 1 : -1)
    }
  const square = { time: Float64Array.from(time), value: Float64Array.from(value) }
  const m = courseMeasures(square, 0, 3e-3, 1e-3)
  expect(m.rms).toBeCloseTo(1, 12)
  expect(m.mean).toBeCloseTo(0, 12)
  expect(m.peakToPeak).toBe(2)
  const { harmonics } = courseSpectrum(square, 1000, 5)!
  for (const n of [1, 3, 5]) expect(harmonics[n]!.amplitude).toBeCloseTo(4 / (n * Math.PI), 2)
  expect(courseSpectrum(square, 100, 3)).toBeNull()
})

test('places on a course: where it has a value, its extremes, its passages through 0', () => {
  const c = course(sine(2, 500), 4e-3, 257)
  // 2·sin = 1 at a twelfth and five twelfths of each period of 2 ms.
  const wanted = [1 / 12, 5 / 12, 13 / 12, 17 / 12].map((t) => 2e-3 * t)
  timesWhere(c, 1, 0, 4e-3).forEach((t, k) => expect(t).toBeCloseTo(wanted[k]!, 8))
  expect(timesWhere(c, 1, 0, 4e-3)).toHaveLength(4)
  expect(timesWhere(c, 3, 0, 4e-3)).toEqual([])
  coursePlaces(c, 'peak', 0, 4e-3).forEach((t, k) => expect(t).toBeCloseTo(2e-3 * (k + 0.25), 7))
  expect(coursePlaces(c, 'dip', 0, 4e-3)).toHaveLength(2)
  expect(coursePlaces(c, 'zero', 1e-4, 3.9e-3).map((t) => Math.round(t * 1e6))).toEqual([1000, 2000, 3000])
  // A jump passes everything between what was and what is.
  const jump = { time: Float64Array.of(0, 1, 1, 2), value: Float64Array.of(0, 0, 5, 5) }
  expect(timesWhere(jump, 2, 0, 2)).toEqual([1])
})
