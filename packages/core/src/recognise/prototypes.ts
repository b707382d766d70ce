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

/** Relative distance of a pair of roots from the middle of a band that symmetry allows. */
const ASYMMETRY = 0.35

/** Roots whose image is this much smaller than the least pole may lie at infinity, but for the rounding of parts. */
const AT_INFINITY = 0.15
/** And so much smaller, but for rounding alone. */
const ROUNDING = 1e-7

/**
 * The low-passes that a response may have been made from by a reactance transform; empty where there can be none. There are
 * two where zeros of a band-stop lie so near its middle that parts may have put them there.
 *
 * Source: G. L. Matthaei, L. Young, E. M. T. Jones, "Microwave Filters …", McGraw-Hill 1964, §§ 8.02, 12.02, read backwards.
 */
export function prototypesOf(h: TransferFunction, response: RecognisedResponse): Roots[] {
  switch (response) {
    case 'lowpass':
      return [{ poles: h.poles, zeros: h.zeros }]
    case 'allpass':
      return [{ poles: h.poles, zeros: [] }]
    case 'highpass': {
      const turned = (r: Complex) => divide(complex(1), r)
      return [{ poles: h.poles.map(turned), zeros: h.zeros.filter((z) => abs(z) > 0).map(turned) }]
    }
    case 'bandpass':
    case 'bandstop':
      return fromBand(h, response)
    default:
      return []
  }
}

function fromBand(h: TransferFunction, response: 'bandpass' | 'bandstop'): Roots[] {
  if (h.poles.length % 2 === 1) return []
  const center = Math.exp(h.poles.reduce((sum, p) => sum + Math.log(abs(p)), 0) / h.poles.length)
  const poles = pairSums(h.poles, center)
  const finite = h.zeros.filter((z) => abs(z) > 0)
  const zeros = pairSums(finite, center)
  if (!poles || !zeros) return []
  if (response === 'bandpass') {
    // A zero of the low-pass at infinity is one at DC and one at infinity.
    const origin = h.zeros.length - finite.length
    return origin === h.poles.length - h.zeros.length ? [{ poles, zeros }] : []
  }
  const turned = (r: Complex) => divide(complex(1), r)
  const least = Math.min(...poles.map(abs))
  const beyond = (bound: number) => zeros.filter((z) => abs(z) > bound * least).map(turned)
  const [sure, all] = [beyond(AT_INFINITY), beyond(ROUNDING)]
  const turnedPoles = poles.map(turned)
  // Parts that were rounded leave no band symmetric: in one that is, zeros lie where they were meant.
  const isMeant = sure.length === all.length || isSymmetric([...h.poles, ...finite], center)
  return (isMeant ? [all] : [all, sure]).map((own) => ({ poles: turnedPoles, zeros: own }))
}

/** Whether every root has its image on the other side of the middle, to rounding. */
const isSymmetric = (roots: readonly Complex[], center: number): boolean =>
  roots.every((r) => {
    const image = divide(complex(center * center), r)
    return roots.some((other) => Math.hypot(other.re - image.re, other.im - image.im) < SYMMETRIC * abs(image))
  })

/** Relative distance within which a root is another's image: roots are known so well. */
const SYMMETRIC = 1e-7

/** Roots in pairs whose product is the middle of the band squared: what each pair is the image of, once a pair. */
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

/** The response less all-pass sections: poles whose mirror image is a zero say nothing of the magnitude. */
export function withoutAllpass(h: TransferFunction): TransferFunction {
  const zeros = [...h.zeros]
  const poles = h.poles.filter((p) => {
    const mirror = complex(-p.re, p.im)
    const k = zeros.findIndex((z) => z.re > 0 && abs(add(z, complex(-mirror.re, -mirror.im))) < NEAR_AXIS * abs(p))
    if (k >= 0) zeros.splice(k, 1)
    return k < 0
  })
  const sign = evaluate(h, complex(0)).re < 0 ? -1 : 1
  return { ...h, poles, zeros, gain: sign * Math.abs(h.gain) }
}
