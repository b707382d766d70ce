import { designOfSpec, approximations, magnitudeDb, parseSpec, RESPONSES, topologies } from '@voskel/core'
import { describe, expect, test } from 'vitest'
import { computed } from '../testing/computed'

/*
 * Every response, approximation and realization at four orders, through what the interface computes: made and shown, or
 * refused. Which ones are refused is written down here, so that a change of it is seen.
 */

const ORDERS = [2, 3, 5, 8]
/** Refused orders by approximation. */
type Refused = Readonly<Record<string, readonly number[]>>

const all = (orders = ORDERS): Refused => Object.fromEntries(approximations.map((a) => [a.id, orders]))
const but = (given: Refused, ...ids: string[]): Refused =>
  Object.fromEntries(Object.entries(given).filter(([id]) => !ids.includes(id)))

const WITH_ZEROS = { 'inverse-chebyshev': ORDERS, elliptic: ORDERS }
const WITHOUT_ZEROS = but(all(), ...Object.keys(WITH_ZEROS))
/** A chain of notches has something to do only where there are zeros off the origin. */
const NO_NOTCH = WITHOUT_ZEROS
/** Even orders of these need unequal resistances. */
const LADDER = { chebyshev: [2, 8], 'inverse-chebyshev': [2, 8], elliptic: [2, 8] }
/** One pole and its mirror image, without zeros. */
const SECTION = { ...all([3, 5, 8]), ...WITH_ZEROS }
/** Real poles alone, or first orders. */
const CONSTANT = but(all(), 'critically-damped')
/** Published tables of normalised couplings. */
const COUPLED = but(all(), 'butterworth', 'chebyshev')
const DIPLEXER = but(all(), 'butterworth')

/** What bands of every kind have in common. */
const BANDS = {
  'lc-ladder': LADDER,
  'active-allpass': all(),
  'gyrator-ladder': LADDER,
  'fdnr-ladder': LADDER,
  leapfrog: LADDER,
  'active-integrator': all(),
  'active-differentiator': all(),
  'tone-control': all(),
}
/** Low-pass and high-pass. */
const ONE_EDGE = {
  'coupled-resonators': all(),
  'constant-resistance': CONSTANT,
  'bridged-t': all(),
  lattice: all(),
  diplexer: DIPLEXER,
  'rlc-section': SECTION,
  'sallen-key': WITH_ZEROS,
  'multiple-feedback': WITH_ZEROS,
  deliyannis: all(),
  'twin-t': NO_NOTCH,
  'bridged-t-notch': NO_NOTCH,
  bainter: NO_NOTCH,
  boctor: NO_NOTCH,
}

const REFUSED: Readonly<Record<string, Readonly<Record<string, Refused>>>> = {
  lowpass: {
    ...BANDS,
    ...ONE_EDGE,
    'differential-multiple-feedback': WITH_ZEROS,
  },
  highpass: {
    ...BANDS,
    ...ONE_EDGE,
    'differential-multiple-feedback': all(),
  },
  bandpass: {
    ...BANDS,
    'coupled-resonators': COUPLED,
    // A band this narrow has no real poles.
    'constant-resistance': all(),
    'bridged-t': all(),
    lattice: all(),
    diplexer: all(),
    'rlc-section': all(),
    'sallen-key': WITH_ZEROS,
    'multiple-feedback': WITH_ZEROS,
    deliyannis: WITH_ZEROS,
    'twin-t': NO_NOTCH,
    'bridged-t-notch': NO_NOTCH,
    bainter: NO_NOTCH,
    boctor: NO_NOTCH,
    'differential-multiple-feedback': all(),
  },
  bandstop: {
    ...BANDS,
    'coupled-resonators': all(),
    'constant-resistance': all(),
    'bridged-t': all(),
    lattice: all(),
    diplexer: all(),
    'rlc-section': all(),
    'sallen-key': all(),
    'multiple-feedback': all(),
    deliyannis: all(),
    'differential-multiple-feedback': all(),
  },
  allpass: Object.fromEntries(
    [
      'lc-ladder',
      'coupled-resonators',
      'constant-resistance',
      'diplexer',
      'rlc-section',
      'image-sections',
      'sallen-key',
      'multiple-feedback',
      'deliyannis',
      'twin-t',
      'bridged-t-notch',
      'bainter',
      'boctor',
      'gyrator-ladder',
      'fdnr-ladder',
      'leapfrog',
      'active-integrator',
      'active-differentiator',
      'tone-control',
      'differential-multiple-feedback',
    ].map((family) => [family, WITHOUT_ZEROS]),
  ),
}

const EDGES: Readonly<Record<string, readonly number[]>> = { bandpass: [14_000, 14_600], bandstop: [9000, 22_000] }

/** What sections there are follows from the zeros and the number of poles: a few approximations show all of them. */
const SOME = ['butterworth', 'elliptic']
const ofFamily = (family: string) => topologies.find((t) => t.id === family)!.family
const isTried = (family: string, approximation: string) =>
  ofFamily(family) === 'passive' || SOME.includes(approximation)
const triedOrders = (family: string) => (ofFamily(family) === 'passive' ? ORDERS : [2, 5])

function tour(response: string, family: string): Refused {
  const { fields } = topologies.find((t) => t.id === family)!
  const values = fields.flatMap((f) => (f.kind === 'quantity' && !f.optional ? [[f.id, f.default]] : []))
  const refused: Record<string, number[]> = {}
  for (const { id, shapesStopband } of approximations) {
    // An all-pass has no stop band that could be shaped.
    if (shapesStopband && response === 'allpass') continue
    if (!isTried(family, id)) continue
    for (const order of triedOrders(family)) {
      const specification = parseSpec({
        response,
        approximation: id,
        order,
        passband: { edges: EDGES[response] ?? [10_000], ripple: 0.5 },
        ...(response !== 'allpass' && { stopband: { attenuation: 40 } }),
        realization: {
          family,
          ...Object.fromEntries(values),
          ...(family === 'coupled-resonators' && { inductor: 3e-3 }),
        },
      })
      const { answers, failures } = computed(designOfSpec('T', specification, 'exact'))
      const what = `${id} of order ${order}`
      const { circuit: refusal } = failures
      expect(failures.ideal, what).toBeUndefined()
      expect(answers.ideal, what).not.toBeNull()
      if (refusal) {
        expect(refusal.code, `${what}: ${refusal.message}`).toBe('REALIZATION_IMPOSSIBLE')
        ;(refused[id] ??= []).push(order)
        continue
      }
      expect(failures, what).toEqual({})
      expect(answers.time!.curves[0]!.value.every(Number.isFinite), what).toBe(true)
      // The sweep is one road, poles and zeros are another.
      const { transfer, ac } = answers.roots!
      const curve = answers.frequency!.curves[0]!
      const top = ac.peakDb!
      curve.frequency.forEach((f, k) => {
        const [swept, rooted] = [
          10 ** ((curve.db[k]! - top) / 20),
          10 ** ((magnitudeDb(transfer, 2 * Math.PI * f) - top) / 20),
        ]
        expect(Math.abs(swept - rooted), `${what} at ${f} Hz`).toBeLessThan(1e-5)
      })
    }
  }
  return refused
}

/** What is written down, of what is tried. */
function refusedOf(response: string, family: string): Refused {
  const tried = triedOrders(family)
  return Object.fromEntries(
    Object.entries(REFUSED[response]![family] ?? {}).flatMap(([id, orders]) => {
      const some = orders.filter((order) => tried.includes(order))
      return isTried(family, id) && some.length > 0 ? [[id, some]] : []
    }),
  )
}

/** Only there to end what would never end: a tour on a busy machine takes half a minute, ms. */
const NEVER = 180_000

describe.each(RESPONSES.map((r) => r.id))('%s', (response) => {
  test.each(topologies.map((t) => t.id))(
    'as %s',
    (family) => {
      expect(tour(response, family)).toEqual(refusedOf(response, family))
    },
    NEVER,
  )
})
