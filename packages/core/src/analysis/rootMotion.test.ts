import { describe, expect, test } from 'vitest'
import { flatten } from '../circuit/flatten.js'
import { readNetlist } from '../format/netlist/readNetlist.js'
import { abs, subtract } from '../numeric/complex.js'
import { evaluate } from '../numeric/transferFunction.js'
import { formulate } from './mna.js'
import { polesAndZeros } from './poles.js'
import { movedResponse, rootMotions } from './rootMotion.js'

const read = (...lines: string[]) => readNetlist(['t', ...lines, ''].join('\n')).circuit

/*
 * Sallen and Key's low-pass of unity gain: ω₀ = 1/√(R1·R2·C1·C2), Q = √(R1·R2·C1/C2)/(R1 + R2); S(ω₀; any) = −1/2, S(Q; C1) = 1/2,
 * S(Q; C2) = −1/2, S(Q; R1) = (R2 − R1)/(2·(R1 + R2)). Source: R. P. Sallen, E. L. Key, IRE Trans. CT-2, 1955, 74–85.
 */
test('of a section: ω₀ and Q by its published sensitivities', () => {
  const mna = formulate(
    read('V1 in 0 AC 1', 'R1 in a 10k', 'R2 a b 20k', 'C1 a out 20n', 'C2 b 0 2n', 'E1 out 0 b out 1e12'),
  )
  const { transfer } = polesAndZeros(mna)
  const motions = rootMotions(mna, transfer)!
  const [pole] = transfer.poles.filter((p) => p.im > 0)
  const sensitivities = Object.fromEntries(
    motions.map(({ name, poles }) => {
      const ds = poles[transfer.poles.indexOf(pole!)]!
      const w0 = (ds.re * pole!.re + ds.im * pole!.im) / abs(pole!) ** 2
      return [name, [w0, w0 - ds.re / pole!.re]]
    }),
  )
  const q = { R1: 10 / 60, R2: -10 / 60, C1: 0.5, C2: -0.5 }
  for (const [name, of] of Object.entries(q)) {
    expect(sensitivities[name]![0]).toBeCloseTo(-0.5, 9)
    expect(sensitivities[name]![1]).toBeCloseTo(of, 8)
  }
})

/*
 * State variable: ω₀ = √(R6/(R5·R3·R4·C1·C2)) with R3, R4 the integrators’ and R5, R6 the feedback’s: S(ω₀; R3) = −1/2, S(ω₀; R6) =
 * 1/2. Source: W. J. Kerwin, L. P. Huelsman, R. W. Newcomb, IEEE J. SC-2, 1967, 87–92.
 */
test('of a state variable filter: ω₀ by its published sensitivities, zeros of its high-pass output stay at the origin', () => {
  const mna = formulate(
    read(
      'V1 in 0 AC 1',
      'R1 in p 10k',
      'R2 bp p 30k',
      'R5 lp n 10k',
      'R6 n hp 20k',
      'E1 hp 0 p n 1e12',
      'R3 hp x 12k',
      'C1 x bp 10n',
      'E2 bp 0 0 x 1e12',
      'R4 bp y 15k',
      'C2 y lp 4.7n',
      'E3 lp 0 0 y 1e12',
    ),
  )
  for (const output of ['lp', 'bp']) {
    const { transfer } = polesAndZeros(mna, { output })
    const motions = rootMotions(mna, transfer, { output })!
    const at = transfer.poles.findIndex((p) => p.im > 0)
    const pole = transfer.poles[at]!
    const w0 = (name: string) => {
      const ds = motions.find((m) => m.name === name)!.poles[at]!
      return (ds.re * pole.re + ds.im * pole.im) / abs(pole) ** 2
    }
    for (const [name, s] of [
      ['R3', -0.5],
      ['R4', -0.5],
      ['C1', -0.5],
      ['C2', -0.5],
      ['R5', -0.5],
      ['R6', 0.5],
      ['R1', 0],
    ] as const)
      expect(w0(name)).toBeCloseTo(s, 7)
    for (const { zeros } of motions) for (const z of zeros) expect(abs(z)).toBeLessThan(1e-3)
  }
})

describe('a ladder with transmission zeros', () => {
  const lines = ['V1 in 0 AC 1', 'RS in a 50', 'C1 a 0 1n', 'L2 a b 2u', 'C2 a b 300p', 'C3 b 0 1.2n', 'RL b 0 50']
  const circuit = read(...lines)
  const mna = formulate(circuit)
  const { transfer } = polesAndZeros(mna, { output: 'b' })
  const motions = rootMotions(mna, transfer, { output: 'b' })!

  test('moved by a part it is the response of the circuit with that part changed', () => {
    const step = 1e-4
    const flat = flatten(circuit)
    for (const motion of motions) {
      const index = flat.elements.findIndex((e) => e.name === motion.name)
      const element = flat.elements[index]!
      const field = element.kind.mainValue!
      const values = { ...element.values, [field]: element.values[field]! * (1 + step) }
      const other = formulate({ ...flat, elements: flat.elements.with(index, { ...element, values }) })
      const wanted = polesAndZeros(other, { output: 'b' }).transfer
      const found = movedResponse(transfer, motion, step)
      for (const w of [1e6, 1.5e7, 4e7, 2e8]) {
        const [a, b] = [wanted, found].map((h) => evaluate(h, { re: 0, im: w }))
        // What is left is of the second order.
        expect(abs(subtract(a!, b!))).toBeLessThan(50 * step * step * Math.max(abs(a!), 1e-3))
      }
    }
  })

  test('two roots at one place have no motion of their own', () => {
    const twice = formulate(
      read('V1 in 0 AC 1', 'R1 in a 1k', 'C1 a 0 1n', 'E1 b 0 a 0 1', 'R2 b out 1k', 'C2 out 0 1n'),
    )
    expect(rootMotions(twice, polesAndZeros(twice).transfer)).toBeNull()
  })
})
