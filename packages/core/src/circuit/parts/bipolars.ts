import { bipolar, bipolarModel } from '../devices/bipolar.js'
import {
  FLICKER_FIELDS,
  linked,
  modelCard,
  modelField,
  type PartKind,
  stampSeries,
  type ValueField,
} from './PartKind.js'

const VALUES: readonly ValueField[] = [
  { id: 'area', name: 'Area factor', unit: '', default: 1, range: 'nonzero' },
  modelField('is', 'Transport saturation current', 'A', 1e-16),
  modelField('bf', 'Forward current gain', '', 100),
  modelField('br', 'Reverse current gain', '', 1),
  modelField('nf', 'Forward emission coefficient', '', 1),
  modelField('nr', 'Reverse emission coefficient', '', 1),
  modelField('vaf', 'Forward Early voltage (0: none)', 'V', 0),
  modelField('var', 'Reverse Early voltage (0: none)', 'V', 0),
  modelField('ikf', 'Forward knee current (0: none)', 'A', 0),
  modelField('ikr', 'Reverse knee current (0: none)', 'A', 0),
  modelField('ise', 'Base–emitter leakage', 'A', 0),
  modelField('ne', 'Its emission coefficient', '', 1.5),
  modelField('isc', 'Base–collector leakage', 'A', 0),
  modelField('nc', 'Its emission coefficient', '', 2),
  modelField('rb', 'Base resistance', 'Ω', 0),
  modelField('re', 'Emitter resistance', 'Ω', 0),
  modelField('rc', 'Collector resistance', 'Ω', 0),
  modelField('cje', 'Base–emitter capacitance at 0 V', 'F', 0),
  modelField('vje', 'Base–emitter potential', 'V', 0.75),
  modelField('mje', 'Base–emitter grading', '', 0.33),
  modelField('tf', 'Forward transit time', 's', 0),
  modelField('cjc', 'Base–collector capacitance at 0 V', 'F', 0),
  modelField('vjc', 'Base–collector potential', 'V', 0.75),
  modelField('mjc', 'Base–collector grading', '', 0.33),
  modelField('tr', 'Reverse transit time', 's', 0),
  modelField('cjs', 'Collector–substrate capacitance at 0 V', 'F', 0),
  modelField('vjs', 'Substrate potential', 'V', 0.75),
  modelField('mjs', 'Substrate grading', '', 0),
  modelField('fc', 'Forward capacitance coefficient', '', 0.5),
  modelField('eg', 'Energy gap', 'eV', 1.11),
  modelField('xti', 'Temperature exponent of the current', '', 3),
  modelField('xtb', 'Temperature exponent of the gain', '', 0),
  ...FLICKER_FIELDS,
]

/** Source: I. E. Getreu, Modeling the Bipolar Transistor, 1976; from memory. */
const NOT_OFFERED = {
  irb: 'the base resistance falls with current',
  rbm: 'the least base resistance',
  xtf: 'the transit time grows with current',
  vtf: 'the transit time follows the collector’s voltage',
  itf: 'the transit time grows with current',
  ptf: 'excess phase',
  xcjc: 'part of the collector’s capacitance is at the base’s terminal',
  iss: 'the substrate’s junction',
  ns: 'the substrate’s junction',
  qco: 'quasi-saturation',
  rco: 'quasi-saturation',
  vo: 'quasi-saturation',
  gamma: 'quasi-saturation',
  nk: 'how the gain falls at high currents',
}

function bipolarKind(id: string, name: string, modelType: string, polarity: 1 | -1): PartKind {
  return {
    id,
    name,
    letter: 'Q',
    group: 'amplify',
    words: [id],
    grows: {
      from: 'base',
      to: 'collector',
      across: polarity > 0 ? ['emitter', 'collector'] : ['collector', 'emitter'],
    },
    pins: ['collector', 'base', 'emitter', 'substrate'],
    pinPlaces: { collector: [2, -2], base: [-2, 0], emitter: [2, 2], substrate: [2, 0] },
    symbol: {
      strokes: ['M-2 0H0M0 -1V1', 'M0 -.5L2 -1.5V-2M0 .5L2 1.5V2'],
      // The arrow shows the emitter's current: out of an NPN, into a PNP.
      filled: [polarity > 0 ? 'M1.6 1.3L.75 1.21L1.02 .67Z' : 'M.4 .7L.98 1.33L1.25 .79Z'],
      labelled: 'beside',
      half: [2, 2],
    },
    optionalPins: { substrate: '0' },
    modelType,
    notOffered: NOT_OFFERED,
    dcLinks: linked('resistance', ['collector', 'emitter'], ['base', 'emitter'], ['base', 'collector']),
    values: VALUES,
    stamp(s, { nodes: [collector, base, emitter, substrate], values }) {
      const { area } = values
      const inner = [
        stampSeries(s, collector, values.rc / area, 'collector'),
        stampSeries(s, base, values.rb / area, 'base'),
        stampSeries(s, emitter, values.re / area, 'emitter'),
        substrate,
      ] as const
      // Into the collector: transport, less what the other junctions carry to it.
      s.device(bipolar(bipolarModel(values, s.temperature), polarity, inner, s.temperature), [
        [0, 1],
        [2, -1],
        [3, -1],
      ])
    },
    card: modelCard(['area']),
  }
}

export const npn = bipolarKind('npn', 'NPN transistor', 'NPN', 1)
export const pnp = bipolarKind('pnp', 'PNP transistor', 'PNP', -1)
