import type { FlatCircuit } from '../circuit/flatten.js'
import { abs } from '../numeric/complex.js'
import { gainDecades, type TransferFunction } from '../numeric/transferFunction.js'
import { formatQuantity } from '../quantity/formatQuantity.js'

/** A measure by the formula that textbooks have for a response of this kind, with this circuit's numbers in it. */
export interface TextbookValue {
  /** As in `measure`'s JSON. */
  readonly path: string
  /** The formula, and what stands for its letters. */
  readonly formula: string
  readonly value: number
}

/** Roots that differ by less than this part are one. */
const SAME = 1e-6

const TAU = 2 * Math.PI
const q = formatQuantity

/**
 * What textbooks say of responses of first and second order (common practice, no source): by the pole's ω₀ and Q, and where the
 * circuit has one capacitor or one coil, or one of each, by their values.
 *
 * @param h the response by its roots
 * @param circuit whose parts may be named
 * @returns nothing for a response of another order
 */
export function textbook(h: TransferFunction, circuit: FlatCircuit | null = null): TextbookValue[] {
  const { poles, zeros } = h
  if (!poles.every((p) => p.re < 0)) return []
  const atOrigin = zeros.filter((z) => abs(z) === 0).length
  if (atOrigin !== zeros.length) return []
  if (poles.length === 1) return firstOrder(h, atOrigin === 1, circuit)
  if (poles.length === 2 && atOrigin <= 2) return secondOrder(h, atOrigin, circuit)
  return []
}

function firstOrder({ poles }: TransferFunction, isHigh: boolean, circuit: FlatCircuit | null): TextbookValue[] {
  const w = abs(poles[0])
  const value = (path: string, formula: string, value: number): TextbookValue => ({ path, formula, value })
  const corner = value('ac.cutoffs[0]', `1/(2π·τ), ${timeConstant(w, circuit)}`, w / TAU)
  if (isHigh) return [corner]
  return [
    corner,
    value('step.riseTime', 'ln 9·τ = 2.197·τ', Math.log(9) / w),
    value('step.delay', 'ln 2·τ = 0.693·τ', Math.LN2 / w),
    value('step.settlingTime', 'ln 100·τ = 4.605·τ', Math.log(100) / w),
  ]
}

/** τ by the one part that stores, and the resistance that it sees. */
function timeConstant(w: number, circuit: FlatCircuit | null): string {
  const stores = circuit?.elements.filter((e) => e.kind.id === 'capacitor' || e.kind.id === 'inductor') ?? []
  if (stores.length !== 1) return `τ = 1/|p| = ${q(1 / w, 's')}`
  const [{ name, kind, values }] = stores
  if (kind.id === 'capacitor') return `τ = R·${name}, R = ${q(1 / (w * values.capacitance), 'Ω')} seen by ${name}`
  return `τ = ${name}/R, R = ${q(w * values.inductance, 'Ω')} seen by ${name}`
}

function secondOrder({ poles, ...h }: TransferFunction, kind: number, circuit: FlatCircuit | null): TextbookValue[] {
  const w0 = Math.sqrt(abs(poles[0]) * abs(poles[1]))
  const sum = -(poles[0].re + poles[1].re)
  const quality = w0 / sum
  const f0 = w0 / TAU
  const letters = `f₀ = ${resonance(w0, circuit)}, Q = ${q(quality)}`
  const list: TextbookValue[] = []
  const add = (path: string, formula: string, value: number) =>
    list.push({ path, formula: `${formula}; ${letters}`, value })
  const half = 1 / (2 * quality * quality)
  if (kind === 1) {
    const side = Math.sqrt(1 + 1 / (4 * quality * quality))
    add('ac.center', 'f₀', f0)
    add('ac.q', 'Q', quality)
    add('ac.bandwidth', 'f₀/Q', f0 / quality)
    add('ac.peakFrequency', 'f₀', f0)
    add('ac.cutoffs[0]', 'f₀·(√(1 + 1/4Q²) − 1/2Q)', f0 * (side - 1 / (2 * quality)))
    add('ac.cutoffs[1]', 'f₀·(√(1 + 1/4Q²) + 1/2Q)', f0 * (side + 1 / (2 * quality)))
    return list
  }
  const isLow = kind === 0
  // Of a low-pass at DC, of a high-pass at infinity.
  const flat = 20 * gainDecades({ poles, ...h }) - (isLow ? 40 * Math.log10(w0) : 0)
  const hasPeak = quality > Math.SQRT1_2
  if (hasPeak) {
    const at = Math.sqrt(1 - half)
    add(
      'ac.peakDb',
      '20·lg(Q/√(1 − 1/4Q²)) above the flat part',
      flat + 20 * Math.log10(quality / Math.sqrt(1 - half / 2)),
    )
    add('ac.peakFrequency', isLow ? 'f₀·√(1 − 1/2Q²)' : 'f₀/√(1 − 1/2Q²)', isLow ? f0 * at : f0 / at)
  } else {
    const ratio = Math.sqrt(1 - half + Math.sqrt((1 - half) ** 2 + 1))
    const formula = '√(1 − 1/2Q² + √((1 − 1/2Q²)² + 1))'
    add('ac.cutoffs[0]', isLow ? `f₀·${formula}` : `f₀/${formula}`, isLow ? f0 * ratio : f0 / ratio)
  }
  if (isLow && quality > 1 / 2)
    add('step.overshootPercent', '100 %·e^(−π/√(4Q² − 1))', 100 * Math.exp(-Math.PI / Math.sqrt(4 * quality ** 2 - 1)))
  return list
}

/** f₀ by coil and capacitor, where they alone make it. */
function resonance(w0: number, circuit: FlatCircuit | null): string {
  const found = q(w0 / TAU, 'Hz')
  const coils = circuit?.elements.filter((e) => e.kind.id === 'inductor') ?? []
  const capacitors = circuit?.elements.filter((e) => e.kind.id === 'capacitor') ?? []
  if (coils.length !== 1 || capacitors.length !== 1) return found
  const own = 1 / Math.sqrt(coils[0].values.inductance * capacitors[0].values.capacitance)
  if (Math.abs(own / w0 - 1) > SAME) return found
  return `1/(2π·√(${coils[0].name}·${capacitors[0].name})) = ${found}`
}
