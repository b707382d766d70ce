import { readdirSync, readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { formulate } from '../analysis/mna.js'
import { checkCircuit } from '../circuit/checks/index.js'
import { VoskelError } from '../errors/VoskelError.js'
import { parseSpec, specIssues } from '../specification/filterSpec.js'
import { readDesign } from './design/readDesign.js'
import { parseJson } from './jsonText.js'
import { readNetlist } from './netlist/readNetlist.js'
import { writeNetlist } from './netlist/writeNetlist.js'

/*
 * What a slip of the hand or of a file makes of an input: cut, doubled, swapped, filled with what does not belong there.
 * Everything is read or refused by an error that says so; nothing breaks, and nothing runs away.
 */
const NETLISTS = [
  'rc\nV1 in 0 AC 1 PULSE(0 1 0 1n 1n 1u 2u)\nR1 in out 1k\nC1 out 0 {100n*2}\n.tran 1u 1m\n.end\n',
  'p\n.param r=1k c={1/(2*pi*r*1e3)}\nV1 in 0 DC 1 AC 1 SIN(0 1 1k)\nR1 in out {r}\nC1 out 0 {c} IC=1\n.ac dec 10 1 1meg\n',
  'c\nL1 a 0 1m\nL2 b 0 2m\nK1 L1 L2 0.5\nV1 a 0 AC 1 PWL(0 0 1m 1 2m 0)\nR1 b 0 50\nE1 c 0 a b 2\nF1 c 0 V1 3\n',
  'd\nVCC cc 0 12\nV1 in 0 AC 1\nQ1 c b 0 q\nRB cc b 1meg\nRC cc c 1k\nD1 c 0 d\nC1 in b 1u\n.model q NPN(BF=100 IS=1e-15)\n.model d D(IS=1e-14)\n',
  'm\nVDD d 0 3\nV1 g 0 DC 1.5 AC 1\nM1 d g 0 0 n W=10u L=1u\n.model n NMOS(KP=100u VTO=0.7)\n.ic v(d)=1\n',
  'x\n.subckt half in out 0 r=1k\nR1 in out {r}\nR2 out 0 {r}\n.ends\nV1 a 0 1\nX1 a b 0 half r=2k\nX2 b c 0 half\n',
]
const PIECES = [
  ...['{', '}', '(', ')', '=', ',', ' ', '\n', '\n+ ', '*', ';', "'", '"', '\0', '\u202e', '\ud800', '\t', '\r'],
  ...['-', '+', '1e400', '1e-400', 'NaN', 'Infinity', '0x10', '1k5', '1e+', '-0', '0', '99999999999999999999'],
  ...['.param', '.model', '.subckt', '.ends', '.end', '.ic', 'K1', 'X9', 'R1', 'V1', '__proto__', 'constructor'],
  ...['{r}', '{1/0}', '{r?1:2}', 'PULSE(', 'PWL(0', 'AC', 'DC', 'IC='],
]

/** An edit of a text: where (as a part of its length), how long, and what comes instead. */
const edit = fc.record({
  at: fc.double({ min: 0, max: 1, noNaN: true }),
  gone: fc.oneof(fc.constant(0), fc.integer({ min: 1, max: 12 })),
  piece: fc.oneof(fc.constant(''), fc.constantFrom(...PIECES), fc.string({ maxLength: 6, unit: 'binary' })),
})
type Edit = typeof edit extends fc.Arbitrary<infer T> ? T : never
const mutated = (text: string, edits: readonly Edit[]) =>
  edits.reduce((t, { at, gone, piece }) => {
    const place = Math.floor(at * t.length)
    return t.slice(0, place) + piece + t.slice(place + gone)
  }, text)

/** True where the step does what it should, false where it refuses in words of its own. */
function readsOrRefuses(step: () => unknown): boolean {
  try {
    step()
    return true
  } catch (error) {
    if (!(error instanceof VoskelError)) throw error
    expect(error.message.length).toBeLessThan(2100)
    expect(error.message).not.toContain('[object')
    // eslint-disable-next-line no-control-regex -- what no terminal may be given
    expect(error.message).not.toMatch(/[\0-\x08\x0e-\x1f\u202e]/)
    return false
  }
}

/** How much of what was made must still be read, and how much refused: a trial of one kind alone proves little. */
function expectBoth(outcomes: readonly boolean[]) {
  const read = outcomes.filter(Boolean).length / outcomes.length
  expect(read).toBeGreaterThan(0.02)
  expect(read).toBeLessThan(0.9)
}

test('mutated netlists are read or refused', { timeout: 120_000 }, () => {
  const outcomes: boolean[] = []
  fc.assert(
    fc.property(fc.constantFrom(...NETLISTS), fc.array(edit, { minLength: 1, maxLength: 4 }), (text, edits) => {
      const read = readsOrRefuses(() => readNetlist(mutated(text, edits)))
      outcomes.push(read)
      if (!read) return
      const { circuit } = readNetlist(mutated(text, edits))
      readsOrRefuses(() => checkCircuit(circuit))
      readsOrRefuses(() => formulate(circuit))
      readsOrRefuses(() => readNetlist(writeNetlist(circuit).text))
    }),
    { numRuns: 12_000 },
  )
  expectBoth(outcomes)
})

const demo = fileURLToPath(new URL('../../../../demo/designs/', import.meta.url))
const DESIGNS = readdirSync(demo).map((file) => readFileSync(demo + file, 'utf8'))

test('designs mutated as text are read or refused', { timeout: 120_000 }, () => {
  const outcomes: boolean[] = []
  fc.assert(
    fc.property(fc.constantFrom(...DESIGNS), fc.array(edit, { minLength: 1, maxLength: 2 }), (text, edits) => {
      outcomes.push(readsOrRefuses(() => readDesign(parseJson(mutated(text, edits)).value)))
    }),
    { numRuns: 3000 },
  )
  expectBoth(outcomes)
})

const SPECS: readonly Record<string, unknown>[] = [
  {
    response: 'lowpass',
    approximation: 'chebyshev',
    order: 5,
    passband: { edges: [1e4], ripple: 0.1 },
    stopband: { edges: [3e4], attenuation: 50 },
    realization: { family: 'lc-ladder', source: 50, load: 50 },
    requirements: [{ kind: 'overshoot', limit: 10 }],
  },
  {
    response: 'bandpass',
    approximation: 'elliptic',
    passband: { edges: [9e3, 2.2e4], ripple: 0.5 },
    stopband: { edges: [5e3, 4e4], attenuation: [40, 60] },
    gain: 6,
    realization: { family: 'lc-ladder', source: 50, load: 50 },
  },
  { response: 'allpass', approximation: 'bessel', order: 3, passband: { edges: [1e3] } },
  { response: 'free', shape: { denominator: [1, 1000, 1e6] } },
]
const odd = fc.constantFrom<unknown>(
  ...[null, 0, -1, 1e-300, 1e300, 1.5, 1e9, '', 'x', 'bessel', true, [], {}, [1], [1, 2], [2, 1], [1, 1], [NaN]],
  ...[undefined, Infinity, '__proto__', { edges: 1 }, 'lowpass', 'bandstop', 40, 20, 100],
)
const FIELDS = [
  'order',
  'gain',
  'pin',
  'passband',
  'stopband',
  'edges',
  'ripple',
  'attenuation',
  'requirements',
  'colour',
]

/** Every object and array inside a value, itself first. */
function insides(value: unknown): Record<string, unknown>[] {
  if (typeof value !== 'object' || value === null) return []
  return [value as Record<string, unknown>, ...Object.values(value).flatMap(insides)]
}

test('specifications with odd values in odd places are read or refused', { timeout: 120_000 }, () => {
  const outcomes: boolean[] = []
  const change = fc.record({
    inside: fc.nat(20),
    key: fc.nat(20),
    field: fc.constantFrom(...FIELDS),
    value: odd,
    own: fc.boolean(),
  })
  fc.assert(
    fc.property(fc.constantFrom(...SPECS), fc.array(change, { minLength: 1, maxLength: 3 }), (spec, changes) => {
      const copy = structuredClone(spec)
      for (const { inside, key, field, value, own } of changes) {
        const all = insides(copy)
        const place = all[inside % all.length]
        const keys = Object.keys(place)
        const at = own && keys.length > 0 ? keys[key % keys.length] : field
        place[at] = value === undefined ? undefined : structuredClone(value)
      }
      const read = readsOrRefuses(() => parseSpec(copy))
      outcomes.push(read)
      // A form that shows what is wrong, and a reader that refuses it, agree.
      if (read) expect(specIssues(copy)).toEqual([])
      else expect(specIssues(copy).length).toBeGreaterThan(0)
    }),
    { numRuns: 8000 },
  )
  expectBoth(outcomes)
})
