import { abs, add, type Complex, complex, divide, multiply } from '../numeric/complex.js'
import { evaluate, gainAtInfinity, magnitudeDb, type TransferFunction } from '../numeric/transferFunction.js'
import { extrema } from '../measure/extrema.js'

/** Kinds of response that can be told from poles and zeros. */
export type RecognisedResponse =
  | 'lowpass'
  | 'highpass'
  | 'bandpass'
  | 'bandstop'
  | 'allpass'
  | 'peaking'
  | 'low-shelf'
  | 'high-shelf'
  | 'integrator'
  | 'differentiator'

/** Roots of a low-pass of which a response may have been made; its frequencies are in no unit. */
export interface Roots {
  readonly poles: readonly Complex[]
  /** Finite ones. */
  readonly zeros: readonly Complex[]
}

/** dB below its highest at which a response no longer passes. */
const STOPS = 6.1

/** dB by which a response turns up or down that is more than rounding of its parts. */
const TURNS = 0.3

/** An all-pass's magnitude moves by less, dB, though its parts are rounded. */
const FLAT = 3

/** What a response does at both ends of the axis and between them. */
export function responseOf(h: TransferFunction): RecognisedResponse | null {
  const atOrigin = (roots: readonly Complex[]) => roots.filter((r) => abs(r) === 0).length
  const [poles, zeros] = [atOrigin(h.poles), atOrigin(h.zeros)]
  if (poles > zeros) return 'integrator'
  const falls = h.poles.length - h.zeros.length
  if (falls < 0) return zeros > poles ? 'differentiator' : null
  const found = extrema(h)
  const levels = found.map((e) => e.db)
  const [dc, infinity] = [zeros > poles ? -Infinity : magnitudeDb(h, 0), falls > 0 ? -Infinity : levelAtInfinity(h)]
  const peak = Math.max(dc, infinity, ...levels)
  if (h.poles.length === 0) return null
  if (isAllpass(h, peak - Math.min(dc, infinity, ...levels))) return 'allpass'
  const passes = { dc: dc > peak - STOPS, infinity: infinity > peak - STOPS }
  const lowest = Math.min(...levels)
  if (passes.dc && passes.infinity) {
    if (lowest < Math.min(dc, infinity) - STOPS) return 'bandstop'
    if (Math.abs(dc - infinity) > TURNS) return Math.abs(dc) > Math.abs(infinity) ? 'low-shelf' : 'high-shelf'
    return peak > dc + TURNS || lowest < dc - TURNS ? 'peaking' : null
  }
  if (passes.dc) return 'lowpass'
  if (passes.infinity) return 'highpass'
  // What stays at both ends, without a zero near the axis, was raised rather than passed.
  const raised = Number.isFinite(dc) && Number.isFinite(infinity) && !h.zeros.some((z) => onAxis(z))
  return raised ? 'peaking' : 'bandpass'
}

const levelAtInfinity = (h: TransferFunction) => 20 * Math.log10(Math.abs(gainAtInfinity(h)))

/** Relative distance from the axis within which a zero was meant to lie on it. */
const NEAR_AXIS = 0.05

export const onAxis = (r: Complex): boolean => Math.abs(r.re) <= NEAR_AXIS * abs(r)

const isAllpass = ({ poles, zeros }: TransferFunction, swing: number) =>
  zeros.length === poles.length && zeros.every((z) => z.re > 0) && swing < FLAT

/** Relative distance within which roots are what they were meant to be: they are known so well. */
const EXACT = 1e-7

/**
 * The low-pass that a response was made from by a reactance transform, where its roots are just where one puts them; null where
 * there is none.
 *
 * Source: G. L. Matthaei, L. Young, E. M. T. Jones, "Microwave Filters …", McGraw-Hill 1964, §§ 8.02, 12.02, read backwards.
 */
export function prototypeOf(h: TransferFunction, response: RecognisedResponse): Roots | null {
  switch (response) {
    case 'lowpass':
      return { poles: h.poles, zeros: h.zeros }
    case 'allpass':
      return { poles: h.poles, zeros: [] }
    case 'highpass':
      return { poles: h.poles.map(inverse), zeros: h.zeros.filter((z) => abs(z) > 0).map(inverse) }
    case 'bandpass':
    case 'bandstop':
      return fromBand(h, response)
    default:
      return null
  }
}

const inverse = (r: Complex) => divide(complex(1), r)

function fromBand(h: TransferFunction, response: 'bandpass' | 'bandstop'): Roots | null {
  const center = Math.exp(h.poles.reduce((sum, p) => sum + Math.log(abs(p)), 0) / h.poles.length)
  const poles = pairSums(h.poles, center)
  const finite = h.zeros.filter((z) => abs(z) > 0)
  const zeros = pairSums(finite, center)
  if (!poles || !zeros) return null
  if (response === 'bandpass') {
    // A zero of the low-pass at infinity is one at DC and one at infinity.
    const origin = h.zeros.length - finite.length
    return origin === h.poles.length - h.zeros.length ? { poles, zeros } : null
  }
  // A zero in the middle of a band-stop is one at infinity; several there lie as far apart as rounding has moved a multiple root.
  const least = Math.min(...poles.map(abs))
  const several = zeros.filter((z) => abs(z) < NEAR_MIDDLE * least).length
  const apart = Math.max(EXACT, 1e3 * Number.EPSILON ** (1 / Math.max(1, several)))
  return {
    poles: poles.map(inverse),
    zeros: zeros.filter((z) => abs(z) > Math.min(apart, NEAR_MIDDLE) * least).map(inverse),
  }
}

/** Of the nearest pole's distance from the middle: zeros farther away were not meant to lie there. */
const NEAR_MIDDLE = 0.03

/**
 * Roots in pairs whose product is the middle of the band squared: what each pair is the image of, once a pair; null where one is
 * left without its image.
 */
function pairSums(roots: readonly Complex[], center: number): Complex[] | null {
  const left = roots.map((r) => complex(r.re / center, r.im / center)).sort((a, b) => abs(b) - abs(a))
  const sums: Complex[] = []
  while (left.length > 0) {
    const root = left.shift()!
    if (left.length === 0) return null
    const off = left.map((other) => abs(add(multiply(root, other), complex(-1))))
    const k = off.indexOf(Math.min(...off))
    if (off[k] > ASYMMETRY) return null
    sums.push(add(root, left.splice(k, 1)[0]))
  }
  return sums
}

/** Of multiple roots, which are known less well. */
const ASYMMETRY = 1e-3

/** Poles that are so much nearer to a zero than those around are damped do nothing, nor what is so far below the middle of all. */
const IDLE = 1e-5
const FAR_BELOW = 1e-7

/** Around a pole, as a factor of frequency. */
const AROUND = 10

/**
 * The response less pairs of a pole and a zero that do nothing in it, as resistances that let DC through and simulated coils
 * make them.
 */
export function withoutIdle(h: TransferFunction): TransferFunction {
  const zeros = [...h.zeros]
  const middle = h.poles.map(abs).sort((a, b) => a - b)[h.poles.length >> 1]
  const poles = h.poles.filter((p) => {
    const far = zeros.map((z) => abs(add(z, complex(-p.re, -p.im))))
    const k = far.indexOf(Math.min(...far))
    if (k < 0) return true
    const size = abs(p)
    const around = h.poles.filter((q) => abs(q) > size / AROUND && abs(q) < size * AROUND)
    const damping = around.reduce((sum, q) => sum + Math.abs(q.re), 0) / around.length
    const isLow = Math.max(size, abs(zeros[k])) < FAR_BELOW * middle
    // No family has a zero on the real axis, where multiple poles lie, which are known less well.
    const idle = p.im === 0 && zeros[k].im === 0 ? Math.max(IDLE * damping, ASYMMETRY * size) : IDLE * damping
    if (!isLow && far[k] > idle) return true
    zeros.splice(k, 1)
    return false
  })
  return { ...h, poles, zeros: zeros.map((z) => (abs(z) < FAR_BELOW * middle ? complex(0) : z)) }
}

/** Of a pole's distance from the axis: how near to its mirror image a zero lies that was meant to be it. */
const NEAR_IMAGE = 0.5

/** The response less all-pass sections: poles whose mirror image is a zero say nothing of the magnitude. */
export function withoutAllpass(h: TransferFunction): TransferFunction {
  const zeros = [...h.zeros]
  const poles = h.poles.filter((p) => {
    // What lies by the axis is no image of a pole that lies by it, too.
    const near = Math.min(NEAR_AXIS * abs(p), NEAR_IMAGE * Math.abs(p.re))
    const k = zeros.findIndex((z) => z.re > 0 && abs(add(z, complex(p.re, -p.im))) < near)
    if (k >= 0) zeros.splice(k, 1)
    return k < 0
  })
  const sign = evaluate(h, complex(0)).re < 0 ? -1 : 1
  return { ...h, poles, zeros, gain: sign * Math.abs(h.gain) }
}
