import fc from 'fast-check'
import type { Circuit, Label, Part } from '../circuit/circuit.js'
import { partKinds, partShape } from '../circuit/parts/index.js'

/** Kinds of a random circuit, those that circuits are mostly made of more often. */
const KINDS = [
  ...['resistor', 'resistor', 'resistor', 'capacitor', 'capacitor', 'inductor', 'opamp', 'nmos', 'pmos', 'npn'],
  ...partKinds.map((k) => k.id).filter((id) => id !== 'ground' && id !== 'coupling'),
]

const parts = fc.array(fc.tuple(fc.nat(1000), fc.array(fc.nat(1000), { minLength: 6, maxLength: 6 })), {
  minLength: 1,
  maxLength: 24,
})

/** Any parts between any nets, with a driving source and sometimes a supply: without any place, every net named. */
export const randomCircuit: fc.Arbitrary<Circuit> = fc
  .tuple(parts, fc.integer({ min: 1, max: 12 }), fc.boolean())
  .map(([drawn, count, hasSupply]) => {
    const nets = ['0', 'in', 'out', ...(hasSupply ? ['vdd'] : []), ...Array.from({ length: count }, (_, k) => `n${k}`)]
    const labels: Label[] = []
    const add = (part: Part, on: readonly string[]): Part => {
      partShape(part).pins.forEach((pin, k) =>
        labels.push({ id: `@${labels.length + 1}`, name: on[k], end: { part: part.id, pin } }),
      )
      return part
    }
    const source = (id: string, net: string, values: Part['values']) =>
      add({ id, kind: 'voltage-source', values }, [net, '0'])
    const made = drawn.map(([what, picks], k): Part => {
      const kind = KINDS[what % KINDS.length]
      const refersTo = kind === 'cccs' || kind === 'ccvs' ? { refs: ['V1'] } : {}
      const block = kind === 'subcircuit' ? { definition: 'block', pins: ['a', 'b', 'out'] } : {}
      const part = { id: `P${k}`, kind, values: {}, ...refersTo, ...block }
      return add(
        part,
        picks.map((p) => nets[p % nets.length]),
      )
    })
    return {
      parts: [
        source('V1', 'in', { acMagnitude: 1 }),
        ...(hasSupply ? [source('V2', 'vdd', { bias: 3 })] : []),
        ...made,
      ],
      wires: [],
      junctions: [],
      labels,
    }
  })
