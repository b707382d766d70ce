import { operationalAmplifier } from '../devices/opamp.js'
import {
  IDEAL_OPAMP_GAIN,
  idealWord,
  linked,
  modelField,
  type PartKind,
  realField,
  stampConductance,
} from './PartKind.js'

type Values = Readonly<Record<string, number>>

/** What keeps an amplifier from being one ideal source. */
const REAL = [
  'gainBandwidth',
  'secondPole',
  'slewRate',
  'outputHigh',
  'outputLow',
  'offset',
  'resting',
  'biasCurrent',
  'biasOffset',
]
const isIdeal = (v: Values) =>
  [...REAL, 'inputResistance', 'outputResistance', 'noiseVoltage', 'noiseCurrent'].every((id) => v[id] === 0)

/**
 * The inner capacitances, F, of the stages of 1 S: the first, of `gain` Ω, makes the gain-bandwidth product, the second,
 * of 1 Ω, the second pole; 0 for none.
 */
export function stageCapacitances({ gainBandwidth, secondPole }: Values): { first: number; second: number } {
  const of = (frequency: number) => (frequency > 0 ? 1 / (2 * Math.PI * frequency) : 0)
  return { first: of(gainBandwidth), second: of(secondPole) }
}

/**
 * An operational amplifier: v(out) = gain · v(plus, minus) against ground; an ideal one holds v(plus, minus) at nothing, and
 * only a netlist gives it a gain. A real one has a first stage of 1 S into
 * `gain` Ω, whose current is limited (slew rate) and whose voltage is held between the output's limits, a second pole,
 * and an output resistance. In a netlist it is a subcircuit.
 */
export const opamp: PartKind = {
  id: 'opamp',
  name: 'Operational amplifier',
  letter: 'U',
  group: 'amplify',
  words: ['opamp', 'op-amp', 'amplifier'],
  grows: { from: 'plus', to: 'out' },
  // What its output follows passes by: of a follower that is all.
  bridged: ['plus', 'out'],
  flow: { in: ['plus', 'minus'], out: ['out'] },
  pins: ['plus', 'minus', 'out'],
  pinPlaces: { plus: [-3, -1], minus: [-3, 1], out: [3, 0] },
  symbol: {
    strokes: ['M-3 -1H-2M-3 1H-2M2 0H3', 'M-2 -2H2V2H-2Z', 'M-.55 -1.55L.05 -1.2L-.55 -.85Z'],
    texts: [
      { x: -1.6, y: -1, text: '+' },
      { x: -1.6, y: 1, text: '\u2212' },
      { x: 0.85, y: -1.2, text: '∞' },
    ],
    // Feedback goes over the top.
    labelled: 'below',
    half: [3, 2],
  },
  values: [
    { id: 'gain', name: 'Open-loop gain', unit: '', default: IDEAL_OPAMP_GAIN, range: 'nonzero', ofModel: true },
    realField('gainBandwidth', 'Gain-bandwidth product (0: no pole)', 'Hz'),
    realField('secondPole', 'Second pole (0: none)', 'Hz'),
    realField('slewRate', 'Slew rate (0: no limit)', 'V/s'),
    modelField('outputHigh', 'Highest output voltage (both 0: no limits)', 'V', 0),
    modelField('outputLow', 'Lowest output voltage', 'V', 0),
    realField('inputResistance', 'Input resistance (0: infinite)', 'Ω'),
    realField('outputResistance', 'Output resistance', 'Ω'),
    modelField('offset', 'Input offset voltage', 'V', 0),
    modelField('resting', 'Output voltage at rest, inputs alike', 'V', 0),
    modelField('biasCurrent', 'Input bias current', 'A', 0),
    modelField('biasOffset', 'Input offset current', 'A', 0),
    realField('noiseVoltage', 'Input noise voltage density', 'V/√Hz'),
    realField('noiseVoltageCorner', 'Its flicker corner', 'Hz'),
    realField('noiseCurrent', 'Input noise current density', 'A/√Hz'),
    realField('noiseCurrentCorner', 'Its flicker corner', 'Hz'),
  ],
  mainValue: 'gain',
  valueWord: idealWord,
  notInNetlist: [
    'slewRate',
    'outputHigh',
    'outputLow',
    'noiseVoltage',
    'noiseVoltageCorner',
    'noiseCurrent',
    'noiseCurrentCorner',
  ],
  sensitive: true,
  dcLinks: linked('voltage', ['out', '0']),
  check: ({ outputHigh, outputLow, slewRate, gainBandwidth }) =>
    outputHigh < outputLow || (outputHigh === outputLow && outputHigh !== 0)
      ? {
          problem: `its highest output voltage of ${outputHigh} V is not above the lowest of ${outputLow} V`,
          fix: 'Exchange the two, or give 0 for both: no limits.',
        }
      : slewRate > 0 && gainBandwidth === 0
        ? { problem: 'it has a slew rate and no gain-bandwidth product', fix: 'Give the gain-bandwidth product, too.' }
        : null,
  stamp(s, { nodes: [plus, minus, out], values }) {
    const k = s.branch()
    s.entry(out, k, 1)
    // The output current counts into the pin, as every current does.
    s.current([[k, 1, 0]])
    if (isIdeal(values)) {
      if (values.gain < IDEAL_OPAMP_GAIN) s.entry(k, out, 1 / values.gain)
      s.entry(k, plus, -1)
      s.entry(k, minus, 1)
      return
    }
    s.entry(k, out, 1)
    const { first, second } = stageCapacitances(values)
    const stage = s.net('stage')
    s.entry(stage, stage, 1 / values.gain)
    if (first > 0) s.store({ plus: stage, minus: -1 }, { plus: stage, minus: -1 }, first)
    let last = stage
    if (second > 0) {
      last = s.net('second')
      s.entry(last, last, 1)
      s.entry(last, stage, -1)
      s.store({ plus: last, minus: -1 }, { plus: last, minus: -1 }, second)
    }
    s.entry(k, last, -1)
    s.entry(k, k, -values.outputResistance)
    if (values.inputResistance > 0) stampConductance(s, plus, minus, 1 / values.inputResistance)
    const [voltage, current] = [values.noiseVoltage ** 2, values.noiseCurrent ** 2]
    s.noise(stage, -1, voltage, voltage * values.noiseVoltageCorner)
    for (const pin of [plus, minus]) s.noise(pin, -1, current, current * values.noiseCurrentCorner)
    const bends = values.slewRate > 0 || values.outputHigh !== values.outputLow
    if (bends || values.offset !== 0 || values.resting !== 0 || values.biasCurrent !== 0 || values.biasOffset !== 0) {
      s.device(operationalAmplifier(values, plus, minus, stage), null)
    } else {
      s.entry(stage, plus, -1)
      s.entry(stage, minus, 1)
    }
  },
}
