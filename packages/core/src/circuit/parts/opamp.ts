import { linked, type PartKind } from './PartKind.js'

/** Gain that stands for an ideal operational amplifier. */
export const IDEAL_OPAMP_GAIN = 1e8

/**
 * An operational amplifier: v(out) = gain · v(plus, minus) against ground. In a netlist it is a subcircuit that holds
 * one E source.
 */
export const opamp: PartKind = {
  id: 'opamp',
  name: 'Operational amplifier',
  letter: 'U',
  pins: ['plus', 'minus', 'out'],
  pinPlaces: { plus: [-3, -1], minus: [-3, 1], out: [3, 0] },
  values: [{ id: 'gain', name: 'Open-loop gain', unit: '', default: IDEAL_OPAMP_GAIN, range: 'nonzero' }],
  mainValue: 'gain',
  law: 'linear',
  dcLinks: linked('voltage', ['out', '0']),
  stamp(s, { nodes: [plus, minus, out], values }) {
    const k = s.branch()
    s.entry(out, k, 1)
    s.entry(k, out, 1)
    s.entry(k, plus, -values.gain)
    s.entry(k, minus, values.gain)
    // The output current counts into the pin, as every current does.
    s.current([[k, 1, 0]])
  },
}
