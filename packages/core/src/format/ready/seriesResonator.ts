import { netlistOf, type ReadyCircuit } from './ReadyCircuit.js'

export const seriesResonator: ReadyCircuit = {
  id: 'series-resonator',
  name: 'Series resonator',
  purpose: 'lets one frequency through to its load',
  look: 'the peak at 1/(2π√(LC)) = 50.33 kHz, and its width R/(2πL): Q = 6.3 with both resistances',
  netlist: netlistOf(
    'Series resonator',
    'V1 in 0 AC 1 PULSE(0 1)',
    'RS in a 20',
    'L1 a b 1m',
    'C1 b out 10n',
    'RL out 0 30',
  ),
}
