/** A complex number as plain data. Hot loops use pairs of typed arrays instead. */
export interface Complex {
  readonly re: number
  readonly im: number
}

export const complex = (re: number, im = 0): Complex => ({ re, im })
export const add = (a: Complex, b: Complex): Complex => ({ re: a.re + b.re, im: a.im + b.im })
export const subtract = (a: Complex, b: Complex): Complex => ({ re: a.re - b.re, im: a.im - b.im })
export const multiply = (a: Complex, b: Complex): Complex => ({
  re: a.re * b.re - a.im * b.im,
  im: a.re * b.im + a.im * b.re,
})
export const scale = (a: Complex, k: number): Complex => ({ re: a.re * k, im: a.im * k })
export const abs = (a: Complex): number => Math.hypot(a.re, a.im)
export const conjugate = (a: Complex): Complex => ({ re: a.re, im: -a.im })

/** a / b by Smith's method, which neither overflows nor loses digits when the parts of b differ widely. */
export function divide(a: Complex, b: Complex): Complex {
  if (Math.abs(b.re) >= Math.abs(b.im)) {
    const r = b.im / b.re
    const d = b.re + b.im * r
    return { re: (a.re + a.im * r) / d, im: (a.im - a.re * r) / d }
  }
  const r = b.re / b.im
  const d = b.re * r + b.im
  return { re: (a.re * r + a.im) / d, im: (a.im * r - a.re) / d }
}

/** Order of listing roots: by |imaginary part|, then real part, the conjugate with negative imaginary part first. */
export function compareRoots(a: Complex, b: Complex): number {
  return Math.abs(a.im) - Math.abs(b.im) || a.re - b.re || a.im - b.im
}
