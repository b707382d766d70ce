import { resistanceField } from '../Line.js'
import { AMPLIFIER_FIELD } from './amplifier.js'
import { PAIRINGS } from './pairing.js'

/** What every active realization may say. */
export const COMMON_FIELDS = [
  {
    id: 'capacitor',
    name: 'Capacitor size',
    kind: 'quantity',
    unit: 'F',
    default: 10e-9,
    above: 0,
    most: 1,
    optional: true,
    empty: 'as resistances need',
  },
  { ...resistanceField('level', 'Resistances around', 10e3), optional: true, empty: '10 kΩ' },
  { ...resistanceField('source', 'Source resistance', 0), above: undefined, least: 0 },
  { ...resistanceField('load', 'Load resistance', 0), optional: true, word: 'open' },
  { id: 'buffer', name: 'Follower before the load', kind: 'switch', default: false },
  {
    id: 'supply',
    name: 'Supply',
    kind: 'choice',
    default: 'split',
    choices: [
      { id: 'split', name: 'Split' },
      { id: 'single', name: 'Single' },
    ],
  },
  AMPLIFIER_FIELD,
  {
    id: 'signal',
    name: 'Signal at the input, peak',
    kind: 'quantity',
    unit: 'V',
    default: 1,
    above: 0,
    optional: true,
    empty: 'not said',
  },
] as const

/** What sections in a chain may say besides. */
export const FIELDS = [
  ...COMMON_FIELDS,
  { id: 'pairing', name: 'Order of sections by', kind: 'choice', default: 'dynamic-range', choices: PAIRINGS },
  { id: 'gains', name: 'Gain of each section', kind: 'numbers', unit: 'dB', optional: true },
] as const
