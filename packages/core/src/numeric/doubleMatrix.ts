import type { Algebra } from './algebra.js'
import { cleanDifference, cleanProduct, dense, type Dense, rankFactors, transpose } from './dense.js'
import { eigenvalues } from './eigenvalues.js'

/** Matrices of doubles. */
export const IN_DOUBLES: Algebra<Dense> = {
  zeros: dense,
  put: ({ cols, data }, i, j, value) => {
    data[i * cols + j] += typeof value === 'number' ? value : value.toNumber()
  },
  rounded: (m) => m,
  transpose,
  negative: (m) => ({ ...m, data: m.data.map((v) => -v) }),
  product: cleanProduct,
  difference: cleanDifference,
  rankFactors,
  eigenvalues,
}
