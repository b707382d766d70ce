import type { Circuit } from '../circuit.js'

/** What a blank sheet begins with: a source of 1 V AC and a unit step, its net named `in`. */
export const blankCircuit = (): Circuit => ({
  parts: [
    {
      id: 'V1',
      kind: 'voltage-source',
      values: { bias: 0, acMagnitude: 1, acPhase: 0 },
      waveform: { kind: 'pulse', low: 0, high: 1, delay: 0, rise: 0, fall: 0 },
      at: { x: 0, y: 4, rotation: 90 },
    },
    { id: 'GND1', kind: 'ground', values: {}, at: { x: 0, y: 7, rotation: 0 } },
  ],
  wires: [
    {
      id: 'W1',
      ends: [
        { part: 'V1', pin: 'minus' },
        { part: 'GND1', pin: 'g' },
      ],
    },
    {
      id: 'W2',
      ends: [{ part: 'V1', pin: 'plus' }, { junction: 'J1' }],
      bends: [{ x: 0, y: 0 }],
    },
  ],
  junctions: [{ id: 'J1', at: { x: 2, y: 0 } }],
  labels: [{ id: 'N1', name: 'in', end: { junction: 'J1' } }],
})
