import { mos, mosModel } from '../devices/mos.js'
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
  { id: 'w', name: 'Channel width', unit: 'm', default: 100e-6, range: 'nonzero' },
  { id: 'l', name: 'Channel length', unit: 'm', default: 100e-6, range: 'nonzero' },
  { id: 'm', name: 'Number in parallel', unit: '', default: 1, range: 'nonzero' },
  { id: 'ad', name: 'Drain area', unit: 'm²', default: 0, range: 'any' },
  { id: 'as', name: 'Source area', unit: 'm²', default: 0, range: 'any' },
  { id: 'pd', name: 'Drain perimeter', unit: 'm', default: 0, range: 'any' },
  { id: 'ps', name: 'Source perimeter', unit: 'm', default: 0, range: 'any' },
  modelField('level', 'Level (1)', '', 1),
  modelField('vto', 'Threshold voltage', 'V', 0),
  modelField('kp', 'Transconductance parameter (0: from UO and TOX)', 'A/V²', 0),
  modelField('gamma', 'Bulk threshold parameter', '√V', 0),
  modelField('phi', 'Surface potential', 'V', 0.6),
  modelField('lambda', 'Channel-length modulation', '1/V', 0),
  modelField('n', 'Slope factor (0: square law)', '', 0),
  modelField('rd', 'Drain resistance', 'Ω', 0),
  modelField('rs', 'Source resistance', 'Ω', 0),
  modelField('cbd', 'Bulk–drain capacitance at 0 V', 'F', 0),
  modelField('cbs', 'Bulk–source capacitance at 0 V', 'F', 0),
  modelField('is', 'Junction saturation current', 'A', 1e-14),
  modelField('pb', 'Junction potential', 'V', 0.8),
  modelField('cgso', 'Gate–source overlap', 'F/m', 0),
  modelField('cgdo', 'Gate–drain overlap', 'F/m', 0),
  modelField('cgbo', 'Gate–bulk overlap', 'F/m', 0),
  modelField('cj', 'Bottom capacitance', 'F/m²', 0),
  modelField('mj', 'Bottom grading', '', 0.5),
  modelField('cjsw', 'Side capacitance', 'F/m', 0),
  modelField('mjsw', 'Side grading', '', 0.33),
  modelField('fc', 'Forward capacitance coefficient', '', 0.5),
  modelField('tox', 'Oxide thickness (0: no oxide charge)', 'm', 0),
  modelField('ld', 'Lateral diffusion', 'm', 0),
  modelField('uo', 'Mobility', 'cm²/Vs', 600),
  ...FLICKER_FIELDS,
]

/** Source: P. Antognetti, G. Massobrio, Semiconductor Device Modeling, 1988; from memory. */
const NOT_OFFERED = {
  level: 'another law of the current',
  rsh: 'resistance of source and drain by their squares',
  js: 'the junctions’ current by their area',
  jssw: 'the junctions’ current by their edge',
  nsub: 'threshold and body effect from the doping',
  nss: 'threshold from the surface charge',
  nfs: 'current below the threshold',
  tpg: 'threshold from the gate’s material',
  xj: 'short channels',
  ucrit: 'mobility at high fields',
  uexp: 'mobility at high fields',
  utra: 'mobility at high fields',
  vmax: 'the carriers’ highest speed',
  neff: 'the channel’s charge',
  delta: 'narrow channels',
  theta: 'mobility falls with the gate’s voltage',
  eta: 'the threshold falls with the drain’s voltage',
  kappa: 'the current’s slope in saturation',
  wd: 'the channel’s width as made',
  tnom: 'the temperature at which it was measured',
}

function mosKind(id: string, name: string, modelType: string, polarity: 1 | -1): PartKind {
  return {
    id,
    name,
    letter: 'M',
    group: 'amplify',
    words: [id],
    grows: { from: 'gate', to: 'drain', across: polarity > 0 ? ['source', 'drain'] : ['drain', 'source'] },
    usuallyJoined: [['bulk', 'source']],
    pins: ['drain', 'gate', 'source', 'bulk'],
    pinPlaces: { drain: [2, -2], gate: [-2, 0], source: [2, 2], bulk: [2, 0] },
    symbol: {
      strokes: ['M-2 0H-.4M-.4 -1V1', 'M0 -1.2V-.6M0 -.3V.3M0 .6V1.2', 'M0 -.9H2V-2M0 .9H2V2M0 0H2'],
      // The arrow on the bulk's line points to an n channel and away from a p channel.
      filled: [polarity > 0 ? 'M.15 0L.85 -.3V.3Z' : 'M1 0L.3 -.3V.3Z'],
      labelled: 'beside',
      half: [2, 2],
    },
    modelType,
    notOffered: NOT_OFFERED,
    dcLinks: linked('resistance', ['drain', 'source'], ['bulk', 'source'], ['bulk', 'drain']),
    values: VALUES,
    check: ({ level, l, ld, n }) =>
      level !== 1
        ? { problem: `level ${level} is not offered`, fix: 'Offered is level 1.' }
        : n !== 0 && !(n >= 1)
          ? {
              problem: `a slope factor of ${n} is less than any gate has`,
              fix: 'Give N from 1 on (1.2 to 1.6 is usual), or leave it out for the square law.',
            }
          : l - 2 * ld > 0
            ? null
            : { problem: 'the channel has no length left after lateral diffusion', fix: 'Give L above 2·LD.' },
    stamp(s, { nodes: [drain, gate, source, bulk], values }) {
      const inner = [
        stampSeries(s, drain, values.rd / values.m, 'drain'),
        gate,
        stampSeries(s, source, values.rs / values.m, 'source'),
        bulk,
      ] as const
      s.device(mos(mosModel(values, polarity, s.temperature), polarity, inner, s.temperature), [
        [0, 1],
        [2, -1],
        [5, -1],
      ])
    },
    card: modelCard(['w', 'l', 'm', 'ad', 'as', 'pd', 'ps']),
  }
}

export const nmos = mosKind('nmos', 'n-channel MOS transistor', 'NMOS', 1)
export const pmos = mosKind('pmos', 'p-channel MOS transistor', 'PMOS', -1)
