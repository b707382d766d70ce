import type { Circuit } from '../../circuit/circuit.js'
import { complex } from '../../numeric/complex.js'
import { leastBetween } from '../../numeric/goldenSection.js'
import { evaluate, gainForDc, magnitudeDb, type TransferFunction } from '../../numeric/transferFunction.js'
import type { ResponseId } from '../../specification/responses.js'
import { impossible } from '../Line.js'

/** What lossless parts must do so that those of a quality factor do what is asked. */
export interface Predistorted {
  readonly prototype: TransferFunction
  /** By which every pole has been moved towards the axis, of the edge's ω. */
  readonly damping: number
  /** Insertion loss, dB. */
  readonly lossDb: number
}

/**
 * Loss that is alike in all parts moves every pole to the left by ω/Q: poles are made that far to the right.
 *
 * Source: S. Darlington, J. Math. Phys. 18, 1939, 257–353, part IV.
 *
 * @param quality of coils and capacitors at the passband's edge
 * @throws VoskelError `REALIZATION_IMPOSSIBLE` with the quality factor that would do
 */
export function predistorted(response: ResponseId, prototype: TransferFunction, quality: number): Predistorted {
  const path = 'realization.quality'
  if (response !== 'lowpass')
    throw impossible(
      path,
      'Loss that is alike in coils and capacitors moves the poles of a low-pass all by the same; other responses are not predistorted.',
      'Leave the quality factor out, or choose the lowpass response.',
    )
  if (prototype.zeros.length > 0)
    throw impossible(
      path,
      'Predistortion would move the stop-band zeros off the axis, where no ladder has them.',
      'Leave the quality factor out, or choose an approximation without zeros.',
    )
  const damping = 1 / quality
  const nearest = Math.min(...prototype.poles.map((p) => -p.re))
  if (damping >= nearest)
    throw impossible(
      path,
      `With a quality factor of ${quality} at the edge the loss is more than the poles of this response have.`,
      `Take parts with a Q above ${(1 / nearest).toPrecision(3)}, a lower order, or an approximation that rings less.`,
    )
  const poles = prototype.poles.map((p) => complex(p.re + damping, p.im))
  const raw = { poles, zeros: [], gain: gainForDc(poles, [], 1) }
  // What the lossless ladder loses at s = δ is what the lossy one loses at DC.
  const lossDb = -20 * Math.log10(evaluate(raw, complex(damping)).re)
  const peak = highestOf(raw)
  return { prototype: { ...raw, gain: raw.gain / peak }, damping, lossDb }
}

/** Greatest magnitude of a low-pass whose frequencies are of the order of 1 rad/s. */
export function highestOf(h: TransferFunction): number {
  const points = Array.from({ length: PEAK_POINTS + 1 }, (_, k) => (4 * k) / PEAK_POINTS)
  const levels = points.map((w) => magnitudeDb(h, w))
  const top = levels.indexOf(Math.max(...levels))
  if (top === 0) return 10 ** (levels[0] / 20)
  const at = leastBetween((w) => -magnitudeDb(h, w), points[top - 1], points[Math.min(top + 1, PEAK_POINTS)])
  return 10 ** (magnitudeDb(h, at) / 20)
}

const PEAK_POINTS = 1600

/** The parts with the loss that the ladder was predistorted for: r = δ·L in series, g = δ·C across. */
export function withLosses(circuit: Circuit, damping: number): Circuit {
  const parts = circuit.parts.map((part) => {
    const { inductance, capacitance } = part.values
    if (part.kind === 'inductor') return { ...part, values: { ...part.values, seriesResistance: damping * inductance } }
    if (part.kind !== 'capacitor') return part
    return { ...part, values: { ...part.values, parallelResistance: 1 / (damping * capacitance) } }
  })
  return { ...circuit, parts }
}
