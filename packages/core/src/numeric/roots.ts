import { type Complex, complex } from './complex.js'

/** Roots of s² + width·s + ω², ω ≥ 0; the smaller real one from the product, so that nothing cancels. */
export function quadraticRoots(omega: number, width: number): Complex[] {
  const half = width / 2
  if (half < omega) {
    const im = Math.sqrt((omega - half) * (omega + half))
    return [complex(-half, im), complex(-half, -im)]
  }
  const outer = -(half + Math.sqrt((half - omega) * (half + omega)))
  return [complex(outer), complex(outer === 0 ? 0 : (omega * omega) / outer)]
}

/** Roots on a circle of this radius as a Butterworth response of this order has its poles, conjugates listed. */
export function circleRoots(order: number, radius: number): Complex[] {
  const roots: Complex[] = []
  for (let k = 0; k < Math.floor(order / 2); k++) {
    const angle = (Math.PI * (2 * k + 1)) / (2 * order)
    const [re, im] = [-radius * Math.sin(angle), radius * Math.cos(angle)]
    roots.push(complex(re, im), complex(re, -im))
  }
  if (order % 2 === 1) roots.push(complex(-radius))
  return roots
}
