import { GROUND, idealWord, linked, oneRefCard, oneValueCard, type PartKind, stampBranch } from './PartKind.js'

const SENSED = { plus: [2, -2], minus: [2, 2], sensePlus: [-2, -2], senseMinus: [-2, 2] } as const
const PAIR = { plus: [2, -2], minus: [2, 2] } as const

/** The diamond between the right-hand pins: with a line along it a voltage, with one across it a current. */
const DIAMOND = ['M2 -2V-1M2 1V2', 'M2 -1L3 0L2 1L1 0Z']
/** The open ends that sense a voltage. */
const SENSE = ['M-2 -2H-1M-2 2H-1']

/** v(plus, minus) = gain · v(senseplus, senseminus). */
export const voltageControlledVoltage: PartKind = {
  id: 'vcvs',
  name: 'Voltage-controlled voltage source',
  letter: 'E',
  group: 'drive',
  words: ['vcvs'],
  grows: { from: 'sensePlus', to: 'plus' },
  flow: { in: ['sensePlus', 'senseMinus'], out: ['plus', 'minus'] },
  pins: ['plus', 'minus', 'sensePlus', 'senseMinus'],
  pinPlaces: SENSED,
  symbol: { strokes: [...DIAMOND, 'M2 -1V1', ...SENSE], half: [3, 2] },
  values: [{ id: 'gain', name: 'Gain', unit: '', default: 1, range: 'any' }],
  mainValue: 'gain',
  valueWord: idealWord,
  sensitive: true,
  dcLinks: linked('voltage', ['plus', 'minus']),
  stamp(s, { nodes, values }) {
    const k = stampBranch(s, nodes[0], nodes[1])
    s.entry(k, nodes[2], -values.gain)
    s.entry(k, nodes[3], values.gain)
  },
  card: oneValueCard('gain', 'the gain'),
}

/** A current of transconductance · v(senseplus, senseminus) from plus through the source to minus. */
export const voltageControlledCurrent: PartKind = {
  id: 'vccs',
  name: 'Voltage-controlled current source',
  letter: 'G',
  group: 'drive',
  words: ['vccs', 'transconductance'],
  grows: { from: 'sensePlus', to: 'plus' },
  flow: { in: ['sensePlus', 'senseMinus'], out: ['plus', 'minus'] },
  pins: ['plus', 'minus', 'sensePlus', 'senseMinus'],
  pinPlaces: SENSED,
  symbol: { strokes: [...DIAMOND, 'M1 0H3', ...SENSE], half: [3, 2] },
  values: [{ id: 'transconductance', name: 'Transconductance', unit: 'S', default: 1e-3, range: 'any' }],
  mainValue: 'transconductance',
  sensitive: true,
  stamp(s, { nodes: [plus, minus, sensePlus, senseMinus], values }) {
    const g = values.transconductance
    s.entry(plus, sensePlus, g)
    s.entry(plus, senseMinus, -g)
    s.entry(minus, sensePlus, -g)
    s.entry(minus, senseMinus, g)
    s.current([
      [sensePlus, g, 0],
      [senseMinus, -g, 0],
    ])
  },
  card: oneValueCard('transconductance', 'the transconductance'),
}

/** A current of gain · (current of the named source) from plus through this source to minus. */
export const currentControlledCurrent: PartKind = {
  id: 'cccs',
  name: 'Current-controlled current source',
  letter: 'F',
  group: 'drive',
  words: ['cccs'],
  pins: ['plus', 'minus'],
  pinPlaces: PAIR,
  symbol: { strokes: [...DIAMOND, 'M1 0H3'], half: [3, 2] },
  values: [{ id: 'gain', name: 'Gain', unit: '', default: 1, range: 'any' }],
  mainValue: 'gain',
  sensitive: true,
  refersToParts: 1,
  stamp(s, { nodes: [plus, minus], values, refs: [sensed] }) {
    const terms = s.currentOf(sensed).map(([column, g, c]) => [column, values.gain * g, values.gain * c] as const)
    for (const [column, g, c] of terms) {
      s.entry(plus, column, g)
      s.entry(minus, column, -g)
      // What flows into a capacitance of the sensed part.
      s.store({ plus, minus }, { plus: column, minus: GROUND }, c)
    }
    s.current(terms)
  },
  card: oneRefCard('gain', 'the gain'),
}

/** v(plus, minus) = transresistance · (current of the named source). */
export const currentControlledVoltage: PartKind = {
  id: 'ccvs',
  name: 'Current-controlled voltage source',
  letter: 'H',
  group: 'drive',
  words: ['ccvs', 'transresistance'],
  pins: ['plus', 'minus'],
  pinPlaces: PAIR,
  symbol: { strokes: [...DIAMOND, 'M2 -1V1'], half: [3, 2] },
  values: [{ id: 'transresistance', name: 'Transresistance', unit: 'Ω', default: 1e3, range: 'any' }],
  mainValue: 'transresistance',
  sensitive: true,
  dcLinks: linked('voltage', ['plus', 'minus']),
  refersToParts: 1,
  stamp(s, { nodes: [plus, minus], values, refs: [sensed] }) {
    const k = stampBranch(s, plus, minus)
    for (const [column, g, c] of s.currentOf(sensed)) {
      s.entry(k, column, -values.transresistance * g)
      s.store({ branch: k }, { plus: column, minus: GROUND }, values.transresistance * c)
    }
  },
  card: oneRefCard('transresistance', 'the transresistance'),
}
