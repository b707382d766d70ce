import { abs } from '../../numeric/complex.js'
import type { Factor } from './factors.js'
import { omegaOf, qOf } from './factors.js'

/** A factor as its coefficients: (n₂·s² + n₁·s + n₀)/(s² + (ω₀/Q)·s + ω₀²), or of first order (n₁·s + n₀)/(s + ω₀). */
export interface Biquad {
  readonly order: 1 | 2
  /** rad/s */
  readonly w0: number
  readonly q: number
  /** By powers of s; the gain in them. */
  readonly n: readonly [n0: number, n1: number, n2: number]
  /** The factor of the highest power of s that is there. */
  readonly gain: number
}

/** Real parts of zeros this small against their size are rounding of zeros on the axis. */
const ON_AXIS = 1e-12

export function biquadOf(factor: Factor, gain: number): Biquad {
  const { zeros } = factor
  const sum = zeros.reduce((total, z) => total + z.re, 0)
  const size = zeros.reduce((product, z) => product * abs(z), 1)
  // Real zeros of both signs make a negative product.
  const product =
    zeros.length === 2 && zeros[0].im === 0 ? zeros[0].re * zeros[1].re : zeros.length === 1 ? -zeros[0].re : size
  const isOnAxis = zeros.length === 2 && Math.abs(sum) <= ON_AXIS * Math.sqrt(size)
  const n: [number, number, number] =
    zeros.length === 0
      ? [gain, 0, 0]
      : zeros.length === 1
        ? [gain * product, gain, 0]
        : [gain * product, isOnAxis ? 0 : -gain * sum, gain]
  return { order: factor.poles.length === 1 ? 1 : 2, w0: omegaOf(factor), q: qOf(factor), n, gain }
}

/** Its gain where it is greatest away from its resonance: at DC, at high frequencies, or where it has neither in the middle. */
export function levelOf({ order, w0, q, n: [n0, n1, n2] }: Biquad): number {
  if (order === 1) return Math.max(Math.abs(n0) / w0, Math.abs(n1))
  return Math.max(Math.abs(n0) / (w0 * w0), Math.abs(n2)) || (Math.abs(n1) * q) / w0
}
