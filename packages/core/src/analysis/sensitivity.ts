import { type Device, type FlatElement, GROUND, type Stamper, type StoragePlace } from '../circuit/parts/PartKind.js'
import { type Complex, complex, divide } from '../numeric/complex.js'
import { ComplexSystem } from './complexSystem.js'
import { type Mna, placeTerms, type Probe } from './mna.js'
import { inputSource, netlistName, parseOutput } from './outputs.js'

/** Relative sensitivities of a transfer to each part's value, by frequency. */
export interface Sensitivity {
  /** Hz */
  readonly frequency: readonly number[]
  readonly components: Readonly<
    Record<string, { readonly magnitude: readonly number[]; readonly phase: readonly number[] }>
  >
}

/** x·dA/dx of one part's main value: [row, column, g, c] of (g + s·c). */
type Derivative = readonly (readonly [row: number, column: number, g: number, c: number])[]

/**
 * d ln|H| / d ln x and d arg H / d ln x (rad) of a linear circuit's transfer for every R, L, C, K and controlled source.
 * Two solves a frequency give all parts.
 *
 * Source: S. W. Director, R. A. Rohrer, IEEE Trans. CT-16, 1969, 318–323.
 *
 * @param frequencies Hz, > 0
 * @throws VoskelError `ARGUMENT`, `SINGULAR`
 */
export function sensitivity(
  mna: Mna,
  frequencies: readonly number[],
  options: { input?: string; output?: string } = {},
): Sensitivity {
  const output = parseOutput(mna, options.output ?? 'out')
  const impedance = output.kind === 'impedance'
  const source = impedance ? output.source : inputSource(mna, options.input).index
  const drive = mna.sources.filter((s) => s.element === source).map((s) => [s.row, s.sign] as const)
  const probe: Probe = impedance ? impedanceProbe(mna, source) : output.probe
  // Z = 1/I of a voltage source turns every relative sensitivity over.
  const sign = impedance && mna.currents.has(source) ? -1 : 1
  const parts = sensitiveParts(mna)
  const owner = impedance ? -1 : probeOwner(mna, probe)
  const w = frequencies.map((f) => 2 * Math.PI * f)
  const middle = w[Math.floor(w.length / 2)] ?? 1
  const system = new ComplexSystem(
    mna,
    [Math.min(...w), middle, Math.max(...w)].map((omega) => complex(0, omega)),
  )
  const rows = parts.map(() => ({ magnitude: [] as number[], phase: [] as number[] }))
  for (const omega of w) {
    const s = complex(0, omega)
    system.factor(s)
    system.solve(drive)
    system.verify(drive)
    const h = combine(probe, omega, system)
    system.solveAdjoint(probe.map(([column, g, c]) => [column, g, omega * c]))
    parts.forEach((part, k) => {
      const change = bilinear(part.derivative, omega, system)
      // The probe itself may follow the part's value.
      const own = part.index === owner ? (part.element.kind.law === 'inverse' ? -1 : 1) : 0
      const relative = divide(complex(own * h.re - change.re, own * h.im - change.im), h)
      rows[k].magnitude.push(sign * relative.re)
      rows[k].phase.push(sign * relative.im)
    })
  }
  return {
    frequency: frequencies,
    components: Object.fromEntries(parts.map((p, k) => [netlistName(p.element), rows[k]])),
  }
}

interface SensitivePart {
  readonly index: number
  readonly element: FlatElement
  readonly derivative: Derivative
}

/** Every part whose kind says how the equations follow its main value. */
export function sensitiveParts(mna: Mna): SensitivePart[] {
  const { elements } = mna.circuit
  return elements.flatMap((element, index) => {
    const { law, mainValue } = element.kind
    if (!law || !mainValue) return []
    const present = entriesOf(mna, index, element.values)
    const derivative =
      law === 'inverse'
        ? scaled(present, -1)
        : [
            ...entriesOf(mna, index, { ...element.values, [mainValue]: 2 * element.values[mainValue] }),
            ...scaled(present, -1),
          ]
    // What refers to this part follows it, too: a mutual inductance goes with the root of each inductance.
    elements.forEach((other, k) => {
      const exponent = other.kind.refLaw
      if (exponent && other.refs.includes(index)) derivative.push(...scaled(entriesOf(mna, k, other.values), exponent))
    })
    return [{ index, element, derivative }]
  })
}

type Entry = [row: number, column: number, g: number, c: number]

const scaled = (entries: readonly Entry[], factor: number) =>
  entries.map(([r, k, g, c]): Entry => [r, k, factor * g, factor * c])

/** What an element writes into the equations at some values. */
function entriesOf(mna: Mna, index: number, values: Readonly<Record<string, number>>): Entry[] {
  const collector = new Collector(mna, index)
  const element = mna.circuit.elements[index]
  element.kind.stamp(collector, { ...element, values })
  return collector.entries
}

class Collector implements Stamper {
  readonly entries: Entry[] = []
  readonly temperature: number

  constructor(
    private readonly mna: Mna,
    private readonly index: number,
  ) {
    this.temperature = mna.temperature
  }

  entry(row: number, column: number, g: number): void {
    if (row !== GROUND && column !== GROUND) this.entries.push([row, column, g, 0])
  }

  store(at: StoragePlace, of: StoragePlace, value: number): void {
    for (const [row, rowSign] of placeTerms(at)) {
      for (const [column, sign] of placeTerms(of)) {
        if (row === GROUND || column === GROUND) continue
        this.entries.push([row, column, 0, ('branch' in at ? -1 : rowSign * sign) * value])
      }
    }
  }

  branch(): number {
    return this.mna.branches.get(this.index)!
  }

  branchOf(element: number): number {
    return this.mna.branches.get(element)!
  }

  currentOf(element: number): Probe {
    return [[this.mna.branches.get(element)!, 1, 0]]
  }

  element(index: number): FlatElement {
    return this.mna.circuit.elements[index]
  }

  net(name: string): number {
    return this.mna.unknowns.indexOf(`v(${this.mna.circuit.elements[this.index].name}:${name})`)
  }

  source(): void {}
  current(): void {}
  noise(): void {}
  device(_device: Device): void {}
}

/** The element whose current the probe is, where that current is written with the element's own value. */
function probeOwner(mna: Mna, probe: Probe): number {
  for (const [index, terms] of mna.currents) if (terms === probe && !mna.branches.has(index)) return index
  return -1
}

function combine(probe: Probe, omega: number, { xRe, xIm }: ComplexSystem): Complex {
  let re = 0
  let im = 0
  for (const [column, g, c] of probe) {
    re += g * xRe[column] - omega * c * xIm[column]
    im += g * xIm[column] + omega * c * xRe[column]
  }
  return { re, im }
}

/** yᵀ·D·x at s = jω. */
function bilinear(derivative: Derivative, omega: number, { xRe, xIm, yRe, yIm }: ComplexSystem): Complex {
  let re = 0
  let im = 0
  for (const [row, column, g, c] of derivative) {
    const tr = yRe[row] * xRe[column] - yIm[row] * xIm[column]
    const ti = yRe[row] * xIm[column] + yIm[row] * xRe[column]
    re += g * tr - omega * c * ti
    im += g * ti + omega * c * tr
  }
  return { re, im }
}

/** For a driven voltage source its current, for a current source the voltage across it. */
function impedanceProbe(mna: Mna, source: number): Probe {
  const current = mna.currents.get(source)
  if (current) return current
  const [plus, minus] = mna.circuit.elements[source].nodes
  return (
    [
      [plus, 1, 0],
      [minus, -1, 0],
    ] as const
  ).filter(([column]) => column !== GROUND)
}
