/**
 * A number in (0, 1) that depends on seed and place alone, the same on every machine: a counter put through an integer
 * hash. Source of the mixing: G. L. Steele, D. Lea, C. H. Flood, "Fast splittable pseudorandom number generators",
 * OOPSLA 2014, 453–472, with 32-bit finaliser constants from memory; tests check its moments.
 *
 * @param seed and @param place integers
 */
export function uniform(seed: number, place: number): number {
  let x = (Math.imul(seed ^ 0x9e3779b9, 0x85ebca6b) + Math.imul(place, 0xc2b2ae35)) | 0
  x = Math.imul(x ^ (x >>> 16), 0x7feb352d)
  x = Math.imul(x ^ (x >>> 15), 0x846ca68b)
  x ^= x >>> 16
  return ((x >>> 0) + 0.5) / 4294967296
}

/** A normally distributed number of mean 0 and deviation 1. Source: G. E. P. Box, M. E. Muller, Ann. Math. Stat. 29, 1958. */
export function gaussian(seed: number, place: number): number {
  const radius = Math.sqrt(-2 * Math.log(uniform(seed, 2 * place)))
  return radius * Math.cos(2 * Math.PI * uniform(seed, 2 * place + 1))
}
