import { VoskelError } from '../errors/VoskelError.js'
import { abs, add, type Complex, complex, divide, subtract } from '../numeric/complex.js'
import { evaluate, type TransferFunction } from '../numeric/transferFunction.js'
import { GROUND } from '../circuit/parts/PartKind.js'
import { ComplexSystem, testFrequencies } from './complexSystem.js'
import { type Mna, placeTerms } from './mna.js'
import type { SignalAnalysis } from './signalAnalysis.js'

/** Roots that miss the equations by more than this part have lost their digits. */
export const PROOF = 1e-6

/** The same of precise ones where next to nothing passes, in turn. */
export const PROOFS_OF_PRECISE = [PROOF, 1e-4, 1e-3]

/** The geometric mean of roots' sizes, rad/s; 1 where there are none. */
export function middleOf(roots: readonly Complex[]): number {
  const sizes = roots.map(abs).filter((v) => v > 0)
  return sizes.length ? Math.exp(sizes.reduce((sum, v) => sum + Math.log(v), 0) / sizes.length) : 1
}

/** Angular frequencies at which roots are proved, ascending: beside each of them, between them, and beyond. */
export function placesOf({ poles, zeros }: TransferFunction, middle: number): number[] {
  const roots = [...poles, ...zeros]
  const sizes = [...new Set(roots.map(abs))].filter((v) => v > 0).sort((a, b) => a - b)
  if (sizes.length === 0) sizes.push(middle)
  const places = sizes.flatMap((w, k) => [...BESIDE.map((b) => b * w), Math.sqrt(w * (sizes[k + 1] ?? 1e3 * w))])
  const isClear = (w: number) =>
    w > 1 / MOST && w < MOST && roots.every((r) => abs(subtract(r, complex(0, w))) > CLEAR * w)
  const clear = [sizes[0] / 30, ...places].filter(isClear).sort((a, b) => a - b)
  if (clear.length === 0) return [1]
  return clear.length > MANY ? thinned(clear) : clear
}

/** Places beyond which one in each tenth of a decade serves. */
const MANY = 400

/** rad/s: nothing is looked at beyond. */
const MOST = 1e150

/** Roots are proved as near as this: at one on the axis itself nothing passes that could be compared. */
const BESIDE = [1 / 1.02, 1 / 1.001, 1.001, 1.02]
const CLEAR = 5e-4

/**
 * Whether the roots say what the equations say wherever anything passes, at frequencies that had no part in finding them: each
 * root where it lies.
 */
export function agrees(
  ac: SignalAnalysis,
  places: readonly number[],
  transfer: TransferFunction,
  whereFaint: number,
): boolean {
  const seen = places.map((w) => ({ s: complex(0, w), value: ac.at(complex(0, w))[0] }))
  const peak = Math.max(...seen.map(({ value }) => abs(value)))
  return seen.every(({ s, value }) => {
    const size = abs(value)
    if (size <= Math.max(NO_TRANSFER, NOTHING * peak)) return true
    const proof = size < FAINT * peak ? whereFaint : PROOF
    return abs(subtract(value, evaluate(transfer, s))) <= proof * size + ROUNDED * levelBeside(transfer, s, size)
  })
}

/** What would pass at s if the zeros near to it were not there. */
const levelBeside = ({ zeros }: TransferFunction, s: Complex, size: number): number =>
  zeros.reduce((level, z) => level * Math.max(1, (NEAR * abs(s)) / abs(subtract(s, z))), size)

const NEAR = 0.03

/** Rounding of the equations' own solution against what passes beside a zero. */
const ROUNDED = 1e-13

/** Below 160 dB under the greatest value the equations' own solution has fewer digits than roots with all of theirs. */
const FAINT = 1e-8

/** 500 dB under the greatest value it may have none. */
const NOTHING = 1e-25

/** A transfer this small is the rounding of a zero. */
const NO_TRANSFER = 1e-150

/**
 * Whether these are all natural frequencies of a circuit: the logarithm of det(G + s·C) has the derivative Σ 1/(s − s_k), which is
 * the trace of (G + s·C)⁻¹·C, beside each of them.
 */
export function areNatural(mna: Mna, roots: readonly Complex[]): boolean {
  if (roots.length === 0) return true
  const places = thinned(placesOf({ poles: roots, zeros: [], gain: 1 }, middleOf(roots)))
  const system = new ComplexSystem(
    mna,
    testFrequencies([places[0], places[places.length - 1]]).map((w) => complex(0, w)),
  )
  const terms = mna.places.map((place) => placeTerms(place).filter(([unknown]) => unknown !== GROUND))
  return places.every((w) => {
    const s = complex(0, w)
    let trace = complex(0)
    try {
      system.factor(s)
      mna.places.forEach((place, j) => {
        const into = 'branch' in place ? -1 : 1
        system.solve(terms[j].map(([unknown, sign]) => [unknown, into * sign] as const))
        for (const { at, of, value } of mna.stores)
          if (at === j) {
            const { re, im } = system.combine(terms[of])
            trace = add(trace, complex(value * re, value * im))
          }
      })
    } catch (error) {
      if (error instanceof VoskelError && error.code === 'SINGULAR') return true
      throw error
    }
    const parts = roots.map((r) => divide(complex(1), subtract(s, r)))
    const wanted = parts.reduce(add, complex(0))
    const size = parts.reduce((sum, part) => sum + abs(part), 0)
    return abs(subtract(trace, wanted)) <= PROOF * size
  })
}

/** One in each tenth of a decade. */
const thinned = (places: readonly number[]): number[] =>
  places.filter((w, k) => k === 0 || Math.floor(10 * Math.log10(w)) > Math.floor(10 * Math.log10(places[k - 1])))
