import { netlistOf, type ReadyCircuit } from './ReadyCircuit.js'

export const bridgedT: ReadyCircuit = {
  id: 'bridged-t',
  name: 'Bridged T',
  purpose: 'cuts a band without an amplifier, from any source to any load',
  look: 'the dip at 1/(2πC√(R1·R2)), and how deep the ratio of the resistances makes it',
  netlist: netlistOf(
    'Bridged T',
    'V1 in 0 AC 1 PULSE(0 1)',
    'C1 in m 10n',
    'C2 m out 10n',
    'R1 in out 100k',
    'R2 m 0 1k',
    'RL out 0 1Meg',
  ),
}
