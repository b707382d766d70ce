import { diode as junctionDiode, diodeModel } from '../devices/diode.js'
import { FLICKER_FIELDS, linked, modelCard, modelField, type PartKind, stampSeries } from './PartKind.js'

/** Source: P. Antognetti, G. Massobrio, Semiconductor Device Modeling, 1988; from memory. */
const NOT_OFFERED = {
  ikf: 'the current bends at high injection',
  isr: 'the recombination current of the junction',
  nr: 'the emission coefficient of that current',
  nbv: 'how sharply it breaks down',
  trs1: 'the series resistance follows temperature',
  trs2: 'the series resistance follows temperature',
  tbv1: 'the breakdown follows temperature',
}

export const diode: PartKind = {
  id: 'diode',
  name: 'Diode',
  letter: 'D',
  group: 'switch',
  pins: ['anode', 'cathode'],
  pinPlaces: { anode: [-2, 0], cathode: [2, 0] },
  symbol: { strokes: ['M-2 0H2', 'M-.7 -.75V.75L.7 0Z', 'M.7 -.75V.75'], half: [2, 0.9] },
  modelType: 'D',
  notOffered: NOT_OFFERED,
  dcLinks: linked('resistance', ['anode', 'cathode']),
  values: [
    { id: 'area', name: 'Area factor', unit: '', default: 1, range: 'nonzero' },
    modelField('is', 'Saturation current', 'A', 1e-14),
    modelField('n', 'Emission coefficient', '', 1),
    modelField('rs', 'Series resistance', 'Ω', 0),
    modelField('tt', 'Transit time', 's', 0),
    modelField('cjo', 'Junction capacitance at 0 V', 'F', 0),
    modelField('vj', 'Junction potential', 'V', 1),
    modelField('m', 'Grading coefficient', '', 0.5),
    modelField('fc', 'Forward capacitance coefficient', '', 0.5),
    modelField('bv', 'Breakdown voltage (0: none)', 'V', 0),
    modelField('ibv', 'Current at breakdown', 'A', 1e-3),
    modelField('eg', 'Energy gap', 'eV', 1.11),
    modelField('xti', 'Temperature exponent', '', 3),
    ...FLICKER_FIELDS,
  ],
  stamp(s, { nodes: [anode, cathode], values }) {
    const inner = stampSeries(s, anode, values.rs / values.area, 'anode')
    s.device(junctionDiode(diodeModel(values, s.temperature), inner, cathode, s.temperature), [[0, 1]])
  },
  card: modelCard(['area']),
}
