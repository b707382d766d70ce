import { expect, test } from 'vitest'
import { formulate } from '../analysis/mna.js'
import { polesAndZeros } from '../analysis/poles.js'
import { approximations } from '../approximation/index.js'
import { parseSpec } from '../specification/filterSpec.js'
import { topologies } from '../synthesis/index.js'
import { realize } from '../synthesis/realize.js'
import { realizationOf } from '../testing/specified.js'
import { VoskelError } from '../errors/VoskelError.js'
import { recognise } from './recognise.js'
import { roundingOf } from './rounding.js'

const EDGES = { lowpass: [1000], highpass: [1000], bandpass: [900, 1100], bandstop: [900, 1100] }

/** Of order 2 the optimum monotonic response is the maximally flat one, and so is any whose reflection zeros both lie at DC. */
const nameOf = (id: string, order: number, evenOrder?: string) =>
  order === 2 && (id === 'legendre' || evenOrder === 'c') ? 'butterworth' : id

/** Image sections have responses of their own; a multiple pole and the multiple zero upon it are parted by rounding. */
const NOT_RECOGNISED = ['constant-resistance highpass critically-damped']

const orders = [
  [2, undefined],
  [2, 'c'],
  [3, undefined],
  [5, undefined],
] as const

test.each(topologies.map((t) => t.id).filter((id) => id !== 'image-sections'))(
  'whatever %s makes is recognised, its round values beside computed ones',
  { timeout: 60_000 },
  (family) => {
    const wrong = new Set<string>()
    for (const [response, edges] of Object.entries(EDGES))
      for (const { id } of approximations)
        for (const [order, evenOrder] of orders) {
          let equations
          try {
            const spec = parseSpec({
              response,
              approximation: id,
              order,
              passband: { edges, ...((id === 'chebyshev' || id === 'elliptic') && { ripple: 1 }) },
              ...((id === 'elliptic' || id === 'inverse-chebyshev') && { stopband: { attenuation: 45 } }),
              ...(evenOrder && { evenOrder }),
              realization: realizationOf(family),
            })
            equations = formulate(realize(spec).circuit)
          } catch (error) {
            if (error instanceof VoskelError) continue
            throw error
          }
          const found = recognise(polesAndZeros(equations).transfer, roundingOf(equations))
          const isRight =
            found.response === response && found.order === order && found.approximation === nameOf(id, order, evenOrder)
          if (!isRight) wrong.add(`${family} ${response} ${id}`)
        }
    expect([...wrong]).toEqual(NOT_RECOGNISED.filter((name) => name.startsWith(`${family} `)))
  },
)
