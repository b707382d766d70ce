import type { Program } from './program.js'

/*
 * Plain replay of a program over typed arrays: the reference for every compiled form. Each function works in the
 * caller's memory; value arrays have `program.slots` entries, vectors `program.size`. Nothing is allocated.
 */

/** Factors real values in place. Returns the index of the first pivot that is zero or not finite, or −1. */
export function factorReal(p: Program, a: Float64Array): number {
  const { lowerStart, lowerSlot, upperStart, upperSlot, target, targetStart, pivotSlot } = p
  for (let k = 0; k < p.size; k++) {
    const inv = 1 / a[pivotSlot[k]]
    if (!Number.isFinite(inv)) return k
    a[pivotSlot[k]] = inv
    let t = targetStart[k]
    const uFrom = upperStart[k]
    const uTo = upperStart[k + 1]
    for (let l = lowerStart[k]; l < lowerStart[k + 1]; l++) {
      const factor = (a[lowerSlot[l]] *= inv)
      for (let u = uFrom; u < uTo; u++) a[target[t++]] -= factor * a[upperSlot[u]]
    }
  }
  return -1
}

/** Solves A·x = b from factored real values; `b` (by row) is overwritten, `x` (by column) is the result. */
export function solveReal(p: Program, a: Float64Array, b: Float64Array, x: Float64Array): void {
  const { lowerStart, lowerSlot, lowerRow, upperStart, upperSlot, upperCol, pivotRow, pivotCol, pivotSlot } = p
  for (let k = 0; k < p.size; k++) {
    const y = b[pivotRow[k]]
    if (y === 0) continue
    for (let l = lowerStart[k]; l < lowerStart[k + 1]; l++) b[lowerRow[l]] -= a[lowerSlot[l]] * y
  }
  for (let k = p.size - 1; k >= 0; k--) {
    let y = b[pivotRow[k]]
    for (let u = upperStart[k]; u < upperStart[k + 1]; u++) y -= a[upperSlot[u]] * x[upperCol[u]]
    x[pivotCol[k]] = y * a[pivotSlot[k]]
  }
}

/** Factors complex values in place. Returns the index of the first pivot that is zero or not finite, or −1. */
export function factorComplex(p: Program, re: Float64Array, im: Float64Array): number {
  const { lowerStart, lowerSlot, upperStart, upperSlot, target, targetStart, pivotSlot } = p
  for (let k = 0; k < p.size; k++) {
    const s = pivotSlot[k]
    const d = 1 / (re[s] * re[s] + im[s] * im[s])
    if (!(d < Infinity)) return k
    const ir = re[s] * d
    const ii = -im[s] * d
    re[s] = ir
    im[s] = ii
    let t = targetStart[k]
    const uFrom = upperStart[k]
    const uTo = upperStart[k + 1]
    for (let l = lowerStart[k]; l < lowerStart[k + 1]; l++) {
      const e = lowerSlot[l]
      const fr = re[e] * ir - im[e] * ii
      const fi = re[e] * ii + im[e] * ir
      re[e] = fr
      im[e] = fi
      for (let u = uFrom; u < uTo; u++) {
        const v = upperSlot[u]
        const hit = target[t++]
        re[hit] -= fr * re[v] - fi * im[v]
        im[hit] -= fr * im[v] + fi * re[v]
      }
    }
  }
  return -1
}

/** Solves A·x = b from factored complex values; `b` (by row) is overwritten, `x` (by column) is the result. */
export function solveComplex(
  p: Program,
  re: Float64Array,
  im: Float64Array,
  bRe: Float64Array,
  bIm: Float64Array,
  xRe: Float64Array,
  xIm: Float64Array,
): void {
  const { lowerStart, lowerSlot, lowerRow, upperStart, upperSlot, upperCol, pivotRow, pivotCol, pivotSlot } = p
  for (let k = 0; k < p.size; k++) {
    const yr = bRe[pivotRow[k]]
    const yi = bIm[pivotRow[k]]
    if (yr === 0 && yi === 0) continue
    for (let l = lowerStart[k]; l < lowerStart[k + 1]; l++) {
      const e = lowerSlot[l]
      const row = lowerRow[l]
      bRe[row] -= re[e] * yr - im[e] * yi
      bIm[row] -= re[e] * yi + im[e] * yr
    }
  }
  for (let k = p.size - 1; k >= 0; k--) {
    let yr = bRe[pivotRow[k]]
    let yi = bIm[pivotRow[k]]
    for (let u = upperStart[k]; u < upperStart[k + 1]; u++) {
      const e = upperSlot[u]
      const col = upperCol[u]
      yr -= re[e] * xRe[col] - im[e] * xIm[col]
      yi -= re[e] * xIm[col] + im[e] * xRe[col]
    }
    const s = pivotSlot[k]
    xRe[pivotCol[k]] = yr * re[s] - yi * im[s]
    xIm[pivotCol[k]] = yr * im[s] + yi * re[s]
  }
}

/** Solves Aᵀ·y = c from factored complex values; `c` (by column) is overwritten, `y` (by row) is the result. */
export function solveTransposed(
  p: Program,
  re: Float64Array,
  im: Float64Array,
  cRe: Float64Array,
  cIm: Float64Array,
  yRe: Float64Array,
  yIm: Float64Array,
): void {
  const { lowerStart, lowerSlot, lowerRow, upperStart, upperSlot, upperCol, pivotRow, pivotCol, pivotSlot } = p
  for (let k = 0; k < p.size; k++) {
    const s = pivotSlot[k]
    const cr = cRe[pivotCol[k]]
    const ci = cIm[pivotCol[k]]
    const wr = cr * re[s] - ci * im[s]
    const wi = cr * im[s] + ci * re[s]
    yRe[pivotRow[k]] = wr
    yIm[pivotRow[k]] = wi
    if (wr === 0 && wi === 0) continue
    for (let u = upperStart[k]; u < upperStart[k + 1]; u++) {
      const e = upperSlot[u]
      const col = upperCol[u]
      cRe[col] -= re[e] * wr - im[e] * wi
      cIm[col] -= re[e] * wi + im[e] * wr
    }
  }
  for (let k = p.size - 1; k >= 0; k--) {
    let wr = yRe[pivotRow[k]]
    let wi = yIm[pivotRow[k]]
    for (let l = lowerStart[k]; l < lowerStart[k + 1]; l++) {
      const e = lowerSlot[l]
      const row = lowerRow[l]
      wr -= re[e] * yRe[row] - im[e] * yIm[row]
      wi -= re[e] * yIm[row] + im[e] * yRe[row]
    }
    yRe[pivotRow[k]] = wr
    yIm[pivotRow[k]] = wi
  }
}
