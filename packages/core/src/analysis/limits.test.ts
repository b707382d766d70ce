import { describe, expect, test } from 'vitest'
import {
  AcAnalysis,
  acMeasures,
  adaptiveSweep,
  approximate,
  evaluate,
  type FilterSpecInput,
  formulate,
  NoiseAnalysis,
  naturalFrequenciesOf,
  parseSpec,
  polesAndZeros,
  readNetlist,
  realize,
  sensitivity,
  stepMeasures,
  VoskelError,
} from '../index.js'

const made = (spec: FilterSpecInput) => {
  const parsed = parseSpec(spec)
  const ideal = approximate(parsed)
  const { circuit, referenceDb } = realize(parsed, 'exact', ideal)
  return { mna: formulate(circuit), circuit, ideal, level: 10 ** (referenceDb / 20) }
}
const bandstop = (approximation: string, order: number) =>
  made({
    response: 'bandstop',
    approximation,
    order,
    passband: { edges: [9000, 22_000], ripple: 0.5 },
    stopband: { attenuation: 40 },
    realization: { family: 'lc-ladder', source: 50, load: 50 },
  } as FilterSpecInput)
const lattice = (approximation: string, order: number) =>
  made({
    response: 'allpass',
    approximation,
    order,
    passband: { edges: [10_000], ripple: 0.5 },
    realization: { family: 'lattice', resistance: 600 },
  } as FilterSpecInput)
/** A singular frequency, where resonators that the ends do not see ring by themselves. */
const singularOf = ({ mna }: ReturnType<typeof made>): number => {
  const { hidden } = polesAndZeros(mna)
  const undamped = hidden.filter((p) => p.re === 0 && p.im > 0)
  expect(undamped.length).toBeGreaterThan(0)
  return undamped[0]!.im / (2 * Math.PI)
}

/** On the frequency, so near to it that digits are lost, and where all is well again. */
const BESIDE = [1, 1 + 1e-15, 1 - 1e-13, 1 + 1e-11, 1 - 1e-9, 1 + 1e-7, 1 - 1e-4]

describe('where the equations are singular, the limit is the answer', () => {
  const cases = [
    ...[5, 7, 9].map((n) => [`band-stop elliptic ${n}`, bandstop('elliptic', n)]),
    ...[3, 5].map((n) => [`band-stop inverse-chebyshev ${n}`, bandstop('inverse-chebyshev', n)]),
    ...['butterworth', 'chebyshev', 'legendre', 'gaussian', 'transitional'].flatMap((a) =>
      [3, 5].map((n) => [`all-pass ${a} ${n}`, lattice(a, n)]),
    ),
  ] as [string, ReturnType<typeof made>][]

  test.each(cases)('%s', (_, filter) => {
    const { mna, ideal, level } = filter
    const f0 = singularOf(filter)
    const ac = new AcAnalysis(mna)
    for (const factor of BESIDE) {
      const omega = 2 * Math.PI * f0 * factor
      const { value, slope } = ac.point(omega)
      const wanted = evaluate(ideal.transfer, { re: 0, im: omega })
      const size = Math.hypot(value.re, value.im)
      expect(Math.abs(size - level * Math.hypot(wanted.re, wanted.im)), `at ${factor}·f0`).toBeLessThan(1e-8)
      // The slope by differences of the ideal response, whose phase may differ by a turn that does not change with ω.
      const step = 1e-4
      const [up, down] = [1 + step, 1 - step].map((k) => evaluate(ideal.transfer, { re: 0, im: omega * k }))
      const steepness = level * Math.hypot(up!.re - down!.re, up!.im - down!.im)
      expect(Math.hypot(slope.re, slope.im) * omega * 2 * step).toBeCloseTo(steepness, 5)
    }
    const sweep = adaptiveSweep(ac, f0 / 10, f0 * 10, ideal.transfer.poles)
    expect([...sweep.re, ...sweep.im].every(Number.isFinite)).toBe(true)
  })

  test('noise there is what the output’s resistance makes', () => {
    const filter = bandstop('elliptic', 5)
    const f0 = singularOf(filter)
    const { circuit } = filter
    // A current into the output finds Z; a network at one temperature has 4·k·T·Re Z (H. Nyquist, Phys. Rev. 32, 1928).
    const driven = {
      ...circuit,
      parts: [...circuit.parts, { id: 'I9', kind: 'current-source', values: { acMagnitude: 1 } }],
      labels: [
        ...circuit.labels,
        { id: 'into', name: 'out', end: { part: 'I9', pin: 'minus' } },
        { id: 'from', name: '0', end: { part: 'I9', pin: 'plus' } },
      ],
    }
    const impedance = new AcAnalysis(formulate(driven), { input: 'I9' })
    const noise = new NoiseAnalysis(filter.mna, { range: [f0 / 10, f0 * 10] })
    for (const factor of BESIDE) {
      const f = f0 * factor
      const unit = 4 * 1.380649e-23 * 300.15 * 50
      const wanted = impedance.point(2 * Math.PI * f).value.re / 50
      expect(noise.at(f).output / unit, `at ${factor}·f0`).toBeCloseTo(wanted, 10)
    }
  })

  test('sensitivities pass through it smoothly', () => {
    const filter = lattice('chebyshev', 3)
    const f0 = singularOf(filter)
    const near = 1e-3
    const { components } = sensitivity(filter.mna, [f0 * (1 - near), f0, f0 * (1 + near)])
    for (const { magnitude, phase } of Object.values(components)) {
      for (const [below, at, above] of [magnitude, phase]) {
        // A parabola through all three leaves the square of the distance.
        expect(Math.abs(at! - (below! + above!) / 2)).toBeLessThan(1e-4)
      }
    }
  })

  test('a pole on the axis that the output does see stays an error', () => {
    const { circuit } = readNetlist('t\nI1 0 out AC 1\nL1 out 0 1m\nC1 out 0 1u\nR1 x 0 1\nE1 x 0 out 0 1\n')
    const ac = new AcAnalysis(formulate(circuit))
    const there = 1 / Math.sqrt(1e-3 * 1e-6)
    // Either the equations say it, or what they give is as large as rounding lets a pole be.
    let size = Infinity
    try {
      const { value } = ac.point(there)
      size = Math.hypot(value.re, value.im)
    } catch (error) {
      expect((error as { code?: string }).code).toBe('SINGULAR')
    }
    expect(size).toBeGreaterThan(1e10)
  })

  test('at DC: capacitors in series divide, though the net between them floats there', () => {
    const { circuit } = readNetlist('t\nV1 in 0 AC 1\nC1 in out 3n\nC2 out 0 1n\n')
    expect(new AcAnalysis(formulate(circuit)).point(0).value.re).toBeCloseTo(0.75, 12)
  })
})

describe('uniform lines', () => {
  const lc = (sections: number) => {
    const cards = Array.from({ length: sections }, (_, k) => `L${k} n${k} n${k + 1} 1u\nC${k} n${k + 1} 0 400p`)
    return formulate(
      readNetlist(
        `t\nV1 in 0 AC 1\nRS in n0 50\n${cards.join('\n')}\nRL n${sections} 0 50\nE1 out 0 n${sections} 0 1\n`,
      ).circuit,
    )
  }
  const rc = (sections: number) => {
    const cards = Array.from({ length: sections }, (_, k) => `R${k} n${k} n${k + 1} 100\nC${k} n${k + 1} 0 1n`)
    return formulate(readNetlist(`t\nV1 n0 0 AC 1\n${cards.join('\n')}\nE1 out 0 n${sections} 0 1\n`).circuit)
  }

  test.each([
    ['LC', 25, lc],
    ['RC', 50, rc],
    ['RC', 100, rc],
  ] as const)('%s of %i sections: poles, measures, and the poles say what the equations say', (_, sections, of) => {
    const mna = of(sections)
    const { transfer } = polesAndZeros(mna)
    expect(transfer.poles).toHaveLength(mna.places.length)
    expect(transfer.zeros).toHaveLength(0)
    const ac = new AcAnalysis(mna)
    const scale = Math.max(...transfer.poles.map((p) => Math.hypot(p.re, p.im)))
    for (const k of [1e-3, 0.05, 0.3, 0.8, 1.5]) {
      const omega = k * scale
      const [rooted, swept] = [evaluate(transfer, { re: 0, im: omega }), ac.point(omega).value]
      const error = Math.hypot(rooted.re - swept.re, rooted.im - swept.im)
      expect(error / Math.hypot(swept.re, swept.im)).toBeLessThan(1e-9)
    }
    expect(acMeasures(transfer).cutoffs).toHaveLength(1)
    expect(stepMeasures(transfer).riseTime).toBeGreaterThan(0)
  })

  test('the poles of an open RC line are known: 4/(RC)·sin²((2k − 1)π/(4n + 2))', () => {
    // Eigenvalues of the tridiagonal Toeplitz matrix with one end open (common practice, no source).
    const n = 50
    const { transfer } = polesAndZeros(rc(n))
    const known = Array.from(
      { length: n },
      (_, k) => (-4 / 1e-7) * Math.sin(((2 * k + 1) * Math.PI) / (4 * n + 2)) ** 2,
    )
    const found = transfer.poles.map((p) => p.re).sort((a, b) => b - a)
    known.forEach((p, k) => expect(found[k]! / p - 1).toBeCloseTo(0, 12))
  })
})

describe('narrow roots are told from those that cancel', () => {
  const notch = (q: number, f0: number, k: number) => {
    const c = 1 / (2 * Math.PI * f0)
    return [
      `Re${k} e${k} 0 1`,
      `Ga${k} 0 e${k} in${k} 0 1`,
      `Gb${k} 0 e${k} x${k} 0 -1`,
      `Gc${k} 0 e${k} w${k} 0 ${-1 / q}`,
      `Cw${k} w${k} 0 ${c}`,
      `Gd${k} 0 w${k} e${k} 0 1`,
      `Cx${k} x${k} 0 ${c}`,
      `Gx${k} 0 x${k} w${k} 0 1`,
      `Ry${k} in${k + 1} 0 1`,
      `Gy${k} 0 in${k + 1} x${k} 0 1`,
      `Gz${k} 0 in${k + 1} e${k} 0 1`,
    ].join('\n')
  }
  const chain = (...notches: (readonly [q: number, f0: number])[]) =>
    formulate(
      readNetlist(
        `t\nV1 in0 0 AC 1\n${notches.map(([q, f], k) => notch(q, f, k)).join('\n')}\nE9 out 0 in${notches.length} 0 1\n`,
      ).circuit,
    )

  test.each([1e3, 1e5, 1e7, 1e8, 1e10])('two notches of Q %d, 0.05 %% apart', (q) => {
    const { transfer, hidden } = polesAndZeros(chain([q, 1000], [q, 1000.5]))
    expect(hidden).toEqual([])
    expect(transfer.poles).toHaveLength(4)
    const upper = transfer.zeros.filter((z) => z.im > 0).map((z) => z.im / (2 * Math.PI))
    expect(upper[0]).toBeCloseTo(1000, 9)
    expect(upper[1]).toBeCloseTo(1000.5, 9)
    expect(transfer.zeros.every((z) => z.re === 0)).toBe(true)
    const width = transfer.poles.filter((p) => p.im > 0).map((p) => (-2 * p.re) / Math.hypot(p.re, p.im))
    // The width is a difference of numbers of size 1.
    for (const w of width) expect(w * q).toBeCloseTo(1, Math.max(1, 14 - Math.log10(q)))
    const { cutoffs } = acMeasures(transfer)
    expect(cutoffs[0]).toBeLessThan(1000)
    expect(cutoffs[0]).toBeGreaterThan(1000 * (1 - 2 / q))
  })
})

test.each(['1e-308', '5e-324', '1e-200', '1e300'])('an inductance of %s H is an error in words, or none', (value) => {
  const mna = formulate(readNetlist(`t\nV1 in 0 AC 1\nR1 in a 1k\nL1 a out ${value}\nC1 out 0 1n\n`).circuit)
  for (const of of [
    () => polesAndZeros(mna),
    () => naturalFrequenciesOf(mna),
    () => new AcAnalysis(mna).sweep(Float64Array.of(1e3)),
  ])
    try {
      of()
    } catch (error) {
      expect(error).toBeInstanceOf(VoskelError)
    }
})
