import { describe, expect, test } from 'vitest'
import { VoskelError } from '../../errors/VoskelError.js'
import { readNetlist } from '../../format/netlist/readNetlist.js'
import { type FilterSpec, parseSpec } from '../../specification/filterSpec.js'
import { realize } from '../../synthesis/realize.js'
import { topologies } from '../../synthesis/index.js'
import type { Circuit } from '../circuit.js'
import { circuitEdit } from '../edit/index.js'
import { checkCircuit } from './index.js'

const findings = (...lines: string[]) => checkCircuit(readNetlist(['test', ...lines, ''].join('\n')).circuit)

describe('each trouble is named with its part or net, and a remedy as data', () => {
  test.each([
    // Where the source returns to: on the other side it would be shorted by what everybody calls ground.
    ['no ground', ['V1 in a 1', 'R1 in a 1k'], 'no-ground', /no ground/, { edit: 'ground-net', args: { net: 'a' } }],
    [
      'a floating net',
      ['V1 in 0 1', 'R1 in 0 1k', 'R2 a b 1k', 'R3 a b 2k'],
      'dc-path',
      /"a", "b" have no connection to ground/,
      { edit: 'ground-net', args: { net: 'a' } },
    ],
    [
      'no DC path',
      ['V1 in 0 1', 'C1 in x 1n', 'C2 x 0 1n'],
      'dc-path',
      /"x" has no DC path/,
      { edit: 'bridge-nets', args: { kind: 'resistor', values: { resistance: 1e9 }, nets: ['x', '0'] } },
    ],
    [
      'fed by current alone',
      ['I1 0 x 1', 'C1 x 0 1n'],
      'dc-path',
      /"x" has no DC path/,
      { edit: 'bridge-nets', args: { kind: 'resistor', values: { resistance: 1e9 }, nets: ['x', '0'] } },
    ],
    [
      'two sources in parallel',
      ['V1 in 0 1', 'V2 in 0 2', 'R1 in 0 1'],
      'voltage-loop',
      /V1, V2 form a loop/,
      { edit: 'put-in-series', args: { part: 'V1', kind: 'resistor', values: { resistance: 1e-3 } } },
    ],
    [
      'an inductor across a source',
      ['V1 in 0 1', 'L1 in x 1m', 'L2 x 0 1m'],
      'voltage-loop',
      /V1.*form a loop/,
      expect.objectContaining({ edit: 'put-in-series' }),
    ],
    [
      'an unknown parameter',
      ['V1 in 0 1', 'R1 in 0 1k', 'X1 in s', '.subckt s a', 'R1 a 0 {q}', '.ends'],
      'circuit-invalid',
      /no parameter "q"/,
      { look: 'X1.R1' },
    ],
    [
      'a slipped prefix',
      ['V1 in 0 1', 'R1 in 0 1k', 'C1 in 0 100'],
      'usual-values',
      /capacitance of C1, 100 F/,
      { look: 'C1' },
    ],
    [
      'one connection',
      ['V1 in 0 1', 'R1 in 0 1k', 'R2 in x 1k'],
      'single-connection',
      /"x" has one connection/,
      undefined,
    ],
  ])('%s', (_, lines, check, message, remedy) => {
    const [first] = findings(...(lines as string[]))
    expect(first.check).toBe(check)
    expect(first.message).toMatch(message as RegExp)
    expect(first.remedy).toEqual(remedy)
    expect(first.fix).not.toBe('')
  })

  const OPAMP = ['.subckt amp p m o', 'E1 o 0 p m 1e8', '.ends']
  test('an amplifier without feedback, and one with its inputs crossed', () => {
    const open = findings('V1 in 0 1', 'X1 in x out amp', 'R1 out 0 1k', 'R2 x 0 1k', ...OPAMP)
    expect(open.map((f) => f.message)).toEqual([expect.stringMatching(/X1 is not fed back to its minus/)])
    const crossed = findings('V1 in 0 1', 'R1 in p 1k', 'R2 p out 10k', 'X1 p 0 out amp', 'R3 out 0 1k', ...OPAMP)
    expect(crossed.map((f) => f.remedy)).toEqual([{ edit: 'swap-pins', args: { part: 'X1', pins: ['plus', 'minus'] } }])
    expect(findings('V1 in 0 1', 'R1 in m 1k', 'R2 m out 10k', 'X1 0 m out amp', ...OPAMP)).toEqual([])
  })

  test('a sound circuit has none', () => {
    expect(findings('V1 in 0 1', 'R1 in out 1k', 'C1 out 0 1n')).toEqual([])
  })
})

test('a loop of inductors is told of a drawn circuit, not of one that synthesis made so', () => {
  const loop = ['V1 in 0 1', 'R1 in a 50', 'L1 a 0 1m', 'L2 a b 1m', 'L3 b 0 1m', 'R2 b 0 50']
  expect(findings(...loop).map((f) => f.message)).toEqual([
    expect.stringMatching(/L1, L2, L3|form a loop of inductors/),
  ])
  const spec = parseSpec({
    response: 'bandpass',
    approximation: 'butterworth',
    order: 3,
    passband: { edges: [9.5e4, 1.05e5] },
    realization: { family: 'coupled-resonators', source: 50, load: 50 },
  })
  const passive = topologies
    .filter((t) => t.family === 'passive')
    .map(({ id }) => ({ family: id, source: 50, load: 50 }))
  const made = [
    ...passive,
    { family: 'coupled-resonators', source: 600, load: 600, coupling: 'inductive', inductor: 2e-4 },
  ].map((realization) => circuitOf({ ...spec, realization } as FilterSpec))
  for (const circuit of made) {
    if (circuit) expect(checkCircuit(circuit, true).filter((f) => f.check === 'voltage-loop')).toEqual([])
  }
  // The last one has such loops.
  expect(made.at(-1)!.parts.filter((p) => p.kind === 'inductor').length).toBeGreaterThan(3)
})

/** The circuit of a specification; null where a family cannot have this one. */
function circuitOf(spec: FilterSpec): Circuit | null {
  try {
    return realize(spec).circuit
  } catch (error) {
    if (error instanceof VoskelError) return null
    throw error
  }
}

test.each([
  ['ground', ['V1 in a 1', 'R1 in a 1k']],
  ['a floating net', ['V1 in 0 1', 'R1 in 0 1k', 'R2 a b 1k', 'R3 a b 2k']],
  ['a DC path', ['V1 in 0 1', 'C1 in x 1n', 'C2 x 0 1n']],
  ['a loop of sources', ['V1 in 0 1', 'V2 in 0 2', 'R1 in 0 1']],
  [
    'crossed inputs',
    [
      'V1 in 0 1',
      'R1 in p 1k',
      'R2 p out 10k',
      'X1 p 0 out amp',
      'R3 out 0 1k',
      '.subckt amp p m o',
      'E1 o 0 p m 1e8',
      '.ends',
    ],
  ],
])('the remedy for %s is an edit that mends it', (_, lines) => {
  const { circuit } = readNetlist(['t', ...lines, ''].join('\n'))
  const [finding] = checkCircuit(circuit)
  const { remedy } = finding
  if (!remedy || !('edit' in remedy)) throw new Error('no edit')
  const { label, apply } = circuitEdit(remedy)
  expect(label).not.toBe('')
  expect(checkCircuit(apply(circuit)).map((f) => f.message)).not.toContain(finding.message)
})
