import { abs, add, type Complex, complex, divide, multiply, scale, subtract } from './complex.js'
import { evaluate, scaleFrequency, type TransferFunction, withConjugates } from './transferFunction.js'

/*
 * Responses from a low-pass prototype with its edge at ω = 1, by reactance transforms of s. Roots go through closed forms
 * that keep axis and conjugates exact. Source: G. L. Matthaei, L. Young, E. M. T. Jones, McGraw-Hill 1964, §§ 8.02, 12.02.
 */

/** s → ω₀/s */
export function toHighpass(h: TransferFunction, edge: number): TransferFunction {
  const turned = (r: Complex) => divide(complex(edge), r)
  const excess = h.poles.length - h.zeros.length
  return {
    poles: mapRoots(h.poles, (r) => [turned(r)]),
    zeros: [...mapRoots(h.zeros, (r) => [turned(r)]), ...atOrigin(excess)],
    // At infinity the response is what the prototype's was at DC.
    gain: evaluate(h, complex(0)).re,
  }
}

/** s → (s² + ω₀²)/(B·s) */
export function toBandpass(h: TransferFunction, center: number, width: number): TransferFunction {
  const excess = h.poles.length - h.zeros.length
  const pair = (r: Complex) => rootPair(scale(r, width / 2), center)
  return {
    poles: mapRoots(h.poles, pair),
    zeros: [...mapRoots(h.zeros, pair), ...atOrigin(excess)],
    gain: h.gain * width ** excess,
  }
}

/** s → B·s/(s² + ω₀²) */
export function toBandstop(h: TransferFunction, center: number, width: number): TransferFunction {
  const excess = h.poles.length - h.zeros.length
  const pair = (r: Complex) => rootPair(divide(complex(width / 2), r), center)
  const notch = Array.from({ length: excess }, () => complex(0, center))
  return {
    poles: mapRoots(h.poles, pair),
    zeros: [...mapRoots(h.zeros, pair), ...withConjugates(notch)],
    gain: evaluate(h, complex(0)).re,
  }
}

/** The all-pass with the poles of a low-pass: D(−s)/D(s), +1 at DC. */
export function toAllpass(h: TransferFunction, edge: number): TransferFunction {
  return allpassOf(scaleFrequency(h, edge).poles)
}

/** D(−s)/D(s) for the roots of D. */
export function allpassOf(poles: TransferFunction['poles']): TransferFunction {
  return { poles, zeros: poles.map((p) => complex(-p.re, p.im)), gain: (-1) ** poles.length }
}

const atOrigin = (count: number): Complex[] => Array.from({ length: count }, () => complex(0))

/** Maps roots and keeps conjugates exact: what a root of the upper half plane gives has its mirror image. */
function mapRoots(roots: readonly Complex[], map: (root: Complex) => readonly Complex[]): Complex[] {
  const result: Complex[] = []
  for (const root of roots) {
    if (root.im < 0) continue
    const images = map(root)
    if (root.im === 0) result.push(...images)
    else for (const image of images) result.push(image, complex(image.re, -image.im))
  }
  return result
}

/** Roots of s² − 2a·s + ω₀² = 0, the second from the product so that nothing cancels. */
function rootPair(a: Complex, center: number): [Complex, Complex] {
  if (a.im === 0) {
    if (Math.abs(a.re) < center) {
      const im = Math.sqrt((center - a.re) * (center + a.re))
      return [complex(a.re, im), complex(a.re, -im)]
    }
    const outer = a.re + Math.sign(a.re) * Math.sqrt((Math.abs(a.re) - center) * (Math.abs(a.re) + center))
    return [complex(outer), complex((center * center) / outer)]
  }
  if (a.re === 0) {
    const outer = a.im + Math.sign(a.im) * Math.hypot(a.im, center)
    return [complex(0, outer), complex(0, -(center * center) / outer)]
  }
  const root = squareRoot(multiply(subtract(a, complex(center)), add(a, complex(center))))
  const [x, y] = [add(a, root), subtract(a, root)]
  const outer = abs(x) > abs(y) ? x : y
  return [outer, divide(complex(center * center), outer)]
}

function squareRoot({ re, im }: Complex): Complex {
  const size = Math.hypot(re, im)
  const larger = Math.sqrt((size + Math.abs(re)) / 2)
  const other = im / (2 * larger)
  return re >= 0 ? complex(larger, other) : complex(Math.abs(other), im < 0 ? -larger : larger)
}
