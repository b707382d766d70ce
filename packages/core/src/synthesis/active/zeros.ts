import { abs } from '../../numeric/complex.js'
import type { Factor } from './factors.js'

/** Relative distance below which two roots are one. */
const ALIKE = 1e-9

const atOrigin = ({ zeros }: Factor): boolean => zeros.every((z) => abs(z) === 0)

export const isLowpass = ({ zeros }: Factor): boolean => zeros.length === 0
export const isBandpass = (f: Factor): boolean => f.poles.length === 2 && f.zeros.length === 1 && atOrigin(f)
export const isHighpass = (f: Factor): boolean => f.zeros.length === f.poles.length && atOrigin(f)

/** A pair of zeros on the axis. */
export const isNotch = ({ zeros }: Factor): boolean =>
  zeros.length === 2 && zeros.every((z) => z.im !== 0 && Math.abs(z.re) <= ALIKE * abs(z))

/** A pair of complex zeros on the axis or left of it. */
export const isDip = ({ zeros }: Factor): boolean =>
  zeros.length === 2 && zeros.every((z) => z.im !== 0 && z.re <= ALIKE * abs(z))

/** Each zero mirrors a pole. */
export const isMirrored = ({ poles, zeros }: Factor): boolean =>
  zeros.length === poles.length &&
  poles.every((p) => zeros.some((z) => Math.hypot(z.re + p.re, z.im - p.im) <= ALIKE * abs(p)))

/** Real zeros to the left, as many as poles. */
export const isReal = ({ poles, zeros }: Factor): boolean =>
  zeros.length === poles.length && zeros.every((z) => z.im === 0 && z.re < 0)
