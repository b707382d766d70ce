/** Exponents of what units are made of. dB and degrees count as units: what is read in them adds to its like alone. */
export interface Dimension {
  readonly V: number
  readonly A: number
  readonly s: number
  readonly dB: number
  readonly deg: number
}

export const PLAIN: Dimension = { V: 0, A: 0, s: 0, dB: 0, deg: 0 }
const BASES = Object.keys(PLAIN) as (keyof Dimension)[]

const of = (some: Partial<Dimension>): Dimension => ({ ...PLAIN, ...some })

/** Units with a name of their own. Source: SI Brochure, 9th edition 2019, tables 2 and 4. */
const NAMED: Readonly<Record<string, Dimension>> = {
  '': PLAIN,
  V: of({ V: 1 }),
  A: of({ A: 1 }),
  Ω: of({ V: 1, A: -1 }),
  S: of({ V: -1, A: 1 }),
  W: of({ V: 1, A: 1 }),
  s: of({ s: 1 }),
  Hz: of({ s: -1 }),
  F: of({ A: 1, s: 1, V: -1 }),
  H: of({ V: 1, s: 1, A: -1 }),
  dB: of({ dB: 1 }),
  '°': of({ deg: 1 }),
}
const SYMBOLS: Readonly<Record<keyof Dimension, string>> = { V: 'V', A: 'A', s: 's', dB: 'dB', deg: '°' }
const SUPERSCRIPTS: Readonly<Record<number, string>> = { 2: '²', 3: '³', 4: '⁴' }

/** The dimension of a unit that has a name; a number without one is plain. */
export const dimensionOf = (unit: string): Dimension => NAMED[unit] ?? PLAIN

export const sameDimension = (a: Dimension, b: Dimension): boolean => BASES.every((base) => a[base] === b[base])

/** The dimension of a·bⁿ. */
export const productOf = (a: Dimension, b: Dimension, n = 1): Dimension =>
  Object.fromEntries(BASES.map((base) => [base, a[base] + n * b[base]])) as unknown as Dimension

/** It grows with the square of the drive, as a power does: 10 dB a decade. */
export const isPowerLike = ({ V, A }: Dimension): boolean => V + A === 2

/** The unit of a dimension: its name, else what it is made of, as `V²/A`; empty for a plain number. */
export function unitOf(dimension: Dimension): string {
  const named = Object.keys(NAMED).find((unit) => sameDimension(NAMED[unit], dimension))
  if (named !== undefined) return named
  const side = (sign: 1 | -1) =>
    BASES.map((base) => {
      const n = sign * dimension[base]
      if (n <= 0) return ''
      return n === 1 ? SYMBOLS[base] : `${SYMBOLS[base]}${SUPERSCRIPTS[n] ?? `^${n}`}`
    }).join('')
  const below = side(-1)
  return below === '' ? side(1) : `${side(1) || '1'}/${below}`
}
