import { complex } from '../../numeric/complex.js'
import { magnitudeDb, type TransferFunction } from '../../numeric/transferFunction.js'
import { CLASS_FIELD, type LimitPoint, type Shape } from './Shape.js'

/** Pole frequencies of IEC 61672-1:2013, annex E, Hz. */
const [F1, F2, F3, F4] = [20.598997, 107.65265, 737.86223, 12194.217]

/** Weightings are 0 dB here, Hz. */
const REFERENCE = 1000

/** Doubly at both ends; A has two poles more and falls by two powers more below. */
function weighted(inner: readonly number[]): TransferFunction {
  const poles = [F1, F1, ...inner, F4, F4].map((f) => complex(-2 * Math.PI * f))
  const zeros = Array.from({ length: poles.length - 2 }, () => complex(0))
  const raw = { poles, zeros, gain: 1 }
  return { ...raw, gain: 10 ** (-magnitudeDb(raw, 2 * Math.PI * REFERENCE) / 20) }
}

/**
 * Acceptance limits in dB around the design goal at nominal frequencies: class 1 down and up, class 2 down and up;
 * IEC 61672-1:2013, table 3 (from memory).
 */
const ACCEPTED: readonly (readonly [frequency: number, down1: number, up1: number, down2: number, up2: number])[] = [
  [10, Infinity, 3, Infinity, 5],
  [12.5, Infinity, 2.5, Infinity, 5],
  [16, 4, 2, Infinity, 5],
  [20, 2, 2, 3, 3],
  [25, 1.5, 2, 3, 3],
  [31.5, 1.5, 1.5, 3, 3],
  [40, 1, 1, 2, 2],
  [80, 1, 1, 2, 2],
  [100, 1, 1, 1.5, 1.5],
  [800, 1, 1, 1.5, 1.5],
  [1000, 0.7, 0.7, 1, 1],
  [1250, 1, 1, 1.5, 1.5],
  [1600, 1, 1, 2, 2],
  [2000, 1, 1, 2, 2],
  [2500, 1, 1, 2.5, 2.5],
  [3150, 1, 1, 2.5, 2.5],
  [4000, 1, 1, 3, 3],
  [5000, 1.5, 1.5, 3.5, 3.5],
  [6300, 2, 1.5, 4.5, 4.5],
  [8000, 2.5, 1.5, 5, 5],
  [10000, 3, 2, Infinity, 5],
  [12500, 5, 2, Infinity, 5],
  [16000, 16, 2.5, Infinity, 5],
  [20000, Infinity, 3, Infinity, 5],
]

type Class = {
  class: string
}

const fields = [CLASS_FIELD]

/** Points a decade of the limits, which follow the curve between the nominal frequencies. */
const LIMIT_POINTS = 20

function limits(goal: TransferFunction, name: string, wanted: string) {
  const column = wanted === '1' ? 1 : 3
  const points: LimitPoint[] = []
  ACCEPTED.forEach((row, k) => {
    const next = ACCEPTED[k + 1] ?? row
    const steps = Math.max(1, Math.round(LIMIT_POINTS * Math.log10(next[0] / row[0])))
    for (let i = 0; i < (next === row ? 1 : steps); i++) {
      const part = i / steps
      const f = row[0] * (next[0] / row[0]) ** part
      const between = (c: 1 | 2 | 3 | 4) => {
        if (part === 0) return row[c]
        // Where there is no limit at one end there is none between.
        return Number.isFinite(row[c]) && Number.isFinite(next[c]) ? row[c] + part * (next[c] - row[c]) : Infinity
      }
      const db = magnitudeDb(goal, 2 * Math.PI * f)
      points.push([f, db - between(column), db + between(column === 1 ? 2 : 4)])
    }
  })
  return { name: `${name}, class ${wanted}`, reference: REFERENCE, points }
}

const A = weighted([F2, F3])
const C = weighted([])

/** The ear at low levels, as sound level meters take it. */
export const aWeighting: Shape<Class> = {
  id: 'a-weighting',
  name: 'A-weighting',
  character: 'The A curve of sound level meters, 0 dB at 1 kHz, with the limits of its class.',
  source: 'IEC 61672-1:2013, annex E (poles), table 3 (limits, from memory)',
  formulas: ['H ∝ s⁴/((s + ω₁)²(s + ω₂)(s + ω₃)(s + ω₄)²), f₁ … f₄ = 20.598997, 107.65265, 737.86223, 12194.217 Hz'],
  fields,
  transfer: () => A,
  marks: () => [10, 20_000],
  limits: ({ class: wanted }) => limits(A, 'A-weighting', wanted),
}

/** The same without the ear's loss in the middle. */
export const cWeighting: Shape<Class> = {
  id: 'c-weighting',
  name: 'C-weighting',
  character: 'The C curve of sound level meters, 0 dB at 1 kHz, with the limits of its class.',
  source: 'IEC 61672-1:2013, annex E (poles), table 3 (limits, from memory)',
  formulas: ['H ∝ s²/((s + ω₁)²(s + ω₄)²), f₁ = 20.598997 Hz, f₄ = 12194.217 Hz'],
  fields,
  transfer: () => C,
  marks: () => [10, 20_000],
  limits: ({ class: wanted }) => limits(C, 'C-weighting', wanted),
}
