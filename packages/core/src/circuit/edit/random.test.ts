import fc from 'fast-check'
import { expect, test } from 'vitest'
import { VoskelError } from '../../errors/VoskelError.js'
import { parseSpec } from '../../specification/filterSpec.js'
import { realize } from '../../synthesis/realize.js'
import { collisions } from '../../testing/collisions.js'
import { partTexts } from '../drawing/texts.js'
import { documentNets, drawnNets } from '../../testing/drawnNets.js'
import { after, dice } from '../../testing/randomEdits.js'
import { type Circuit, CircuitSchema } from '../circuit.js'
import { drawingOf } from '../drawing/index.js'
import { flatten } from '../flatten.js'
import { blankCircuit } from './blankCircuit.js'

/** Others of them: `RUNS`. */
const RUNS = 1000
const EDITS = 50
/** Sequences that are the same each time; `EDITS_SEED` takes others. */
const SEED = 12

const ladder = realize(
  parseSpec({
    response: 'lowpass',
    approximation: 'elliptic',
    order: 5,
    passband: { edges: [1000], ripple: 0.5 },
    stopband: { attenuation: 40 },
    realization: { family: 'lc-ladder' },
  }),
).circuit

function flattens(circuit: Circuit): void {
  try {
    flatten(circuit)
  } catch (error) {
    expect(error).toBeInstanceOf(VoskelError)
  }
}

test(
  'after any edits a circuit is a circuit, and its drawing connects what the document connects',
  { timeout: 600_000 },
  () => {
    fc.assert(
      fc.property(
        fc.constantFrom(blankCircuit(), ladder),
        fc.array(dice, { minLength: EDITS, maxLength: EDITS }),
        (start, all) => {
          const end = all.reduce(after, start)
          expect(CircuitSchema.safeParse(end).success).toBe(true)
          flattens(end)
          expect(drawnNets(end)).toEqual(documentNets(end))
          const drawing = drawingOf(end, partTexts(end))
          expect(collisions(drawing).filter((c) => !/^[A-Z]+\d+ on (?!wire)/.test(c))).toEqual([])
        },
      ),
      { numRuns: Number(process.env.RUNS ?? RUNS), seed: Number(process.env.EDITS_SEED ?? SEED), endOnFailure: true },
    )
  },
)
