import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { ComplexSystem } from '../../analysis/complexSystem.js'
import { CompiledSweep } from '../../analysis/compiledSweep.js'
import type { Pencil } from '../../analysis/complexSystem.js'
import { assemble, GROUP } from './assemble.js'
import { Graph, ZERO } from './graph.js'

describe('graph', () => {
  test('zeros, ones, signs and repetitions never become operations', () => {
    const g = new Graph()
    const [a, b] = [g.given(0), g.given(1)]
    const size = g.size
    expect(g.mul(a, ZERO)).toBe(ZERO)
    expect(g.mul(g.literal(1), a)).toBe(a)
    expect(g.sub(a, a)).toBe(ZERO)
    expect(g.negate(g.negate(a))).toBe(a)
    expect(g.size).toBe(size + 3)
    expect(g.add(a, b)).toBe(g.add(b, a))
    expect(g.negate(g.sub(a, b))).toBe(g.sub(b, a))
  })

  test('code gives what the graph says, for odd numbers of points and changed values', () => {
    const g = new Graph()
    const w = g.omega()
    const value = g.sub(g.mul(g.given(0), w), g.reciprocal(g.add(w, g.given(1))))
    const code = assemble(g, [value, ZERO, g.given(0)])!
    const { omega, outputs } = code.reserve(601)
    // Filled up to whole groups.
    for (let k = 0; k < 604; k++) omega[k] = k + 0.5
    for (const [a, b] of [
      [2, 3],
      [-7, 0.25],
    ]) {
      code.prepare(Float64Array.of(a, b))
      code.run(601)
      for (let k = 0; k < 601; k++) {
        expect(outputs[0][k]).toBe(a * omega[k] - 1 / (omega[k] + b))
        expect(outputs[1][k]).toBe(0)
        expect(outputs[2][k]).toBe(a)
      }
    }
  })
})

test.each([33, 90])('%i outputs go by a tile, in runs of any length', (count) => {
  const g = new Graph()
  const square = g.mul(g.omega(), g.omega())
  const values = Array.from({ length: count }, (_, k) => (k === 7 ? ZERO : g.add(g.given(k), square)))
  const code = assemble(g, values)!
  const given = Float64Array.from({ length: count }, (_, k) => 10 * k)
  // Longest first: shorter runs work in the same memory.
  for (const points of [1001, 128, 127, 5, 1]) {
    const { omega, outputs } = code.reserve(points)
    for (let k = 0; k < Math.ceil(points / GROUP) * GROUP; k++) omega[k] = k + points
    code.prepare(given)
    code.run(points)
    for (let k = 0; k < points; k++)
      for (let j = 0; j < count; j++) expect(outputs[j][k]).toBe(j === 7 ? 0 : 10 * j + (k + points) ** 2)
  }
})

describe('compiled sweeps against the plain replay', () => {
  /** A random diagonally heavy pencil, so that every pivot order is sound and only the arithmetic is compared. */
  const pencilArb = fc
    .record({ n: fc.integer({ min: 1, max: 12 }), seed: fc.integer({ min: 1, max: 1e6 }) })
    .map(({ n, seed }): Pencil => {
      let state = seed
      const random = () => (state = (state * 16807) % 2147483647) / 2147483647
      const rows: number[] = []
      const cols: number[] = []
      const g: number[] = []
      const c: number[] = []
      for (let i = 0; i < n; i++) {
        for (let j = 0; j < n; j++) {
          if (i !== j && random() > 0.3) continue
          rows.push(i)
          cols.push(j)
          const kind = random()
          g.push(i === j ? n + random() : kind < 0.3 ? 0 : kind < 0.5 ? 1 : random() - 0.5)
          c.push(kind < 0.6 ? random() - 0.5 : 0)
        }
      }
      return {
        pattern: { size: n, rows: Int32Array.from(rows), cols: Int32Array.from(cols) },
        g: Float64Array.from(g),
        c: Float64Array.from(c),
        unknowns: Array.from({ length: n }, (_, k) => `v(${k})`),
      }
    })

  test('every unknown, one unknown with its slope, and other values of the same structure', () => {
    fc.assert(
      fc.property(pencilArb, (pencil) => {
        const n = pencil.pattern.size
        const omega = Float64Array.of(0.01, 0.3, 1, 7, 40)
        const drive = [[0, 1] as const]
        const range = [0.01, 40] as const
        const all = CompiledSweep.compile(pencil, {
          range,
          solves: [{ drive, probes: Array.from({ length: n }, (_, k) => [[k, 1, 0] as const]) }],
        })!
        const one = CompiledSweep.compile(pencil, {
          range,
          slope: true,
          solves: [{ drive, probes: [[[n - 1, 2, 0.5] as const]] }],
        })!
        const other = {
          ...pencil,
          g: pencil.g.map((v) => (Math.abs(v) === 1 ? v : v * 1.1)),
          c: pencil.c.map((v) => v * 0.9),
        }
        for (const p of [pencil, other]) {
          expect(all.fits(p.g, p.c)).toBe(true)
          const values = all.run(omega, p.g, p.c)
          const { re, im } = one.run(omega, p.g, p.c)
          const system = new ComplexSystem(p, [{ re: 0, im: 1 }])
          omega.forEach((w, k) => {
            system.factor({ re: 0, im: w })
            system.solve(drive)
            const largest = Math.max(...system.xRe.map((x, j) => Math.hypot(x, system.xIm[j])))
            for (let j = 0; j < n; j++) {
              expect(Math.abs(values.re[j][k] - system.xRe[j])).toBeLessThan(1e-12 * largest)
              expect(Math.abs(values.im[j][k] - system.xIm[j])).toBeLessThan(1e-12 * largest)
            }
            const [xr, xi] = [system.xRe[n - 1], system.xIm[n - 1]]
            expect(Math.abs(re[0][k] - (2 * xr - 0.5 * w * xi))).toBeLessThan(1e-11 * (1 + w) * largest)
            // dH/ds = 0.5·x − yᵀCx
            system.solveAdjoint([[n - 1, 2, 0.5 * w]])
            const d = system.adjointDerivative()
            expect(Math.hypot(re[1][k] - (0.5 * xr - d.re), im[1][k] - (0.5 * xi - d.im))).toBeLessThan(
              1e-10 * (1 + w) ** 2 * largest,
            )
          })
        }
      }),
      { numRuns: 60 },
    )
  })
})
