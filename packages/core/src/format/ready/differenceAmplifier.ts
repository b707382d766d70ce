import { IDEAL, netlistOf, type ReadyCircuit } from './ReadyCircuit.js'

export const differenceAmplifier: ReadyCircuit = {
  id: 'difference-amplifier',
  name: 'Difference amplifier',
  purpose: 'a small difference on a large common voltage',
  look: 'gain R2/R1 = 10 for V1; nothing of V2 while R2/R1 = R4/R3: change R4 by 1 % and look again',
  netlist: netlistOf(
    'Difference amplifier',
    IDEAL,
    'V2 common 0 DC 1 SIN(1 1 50)',
    'V1 in common AC 1 PULSE(0 10m)',
    'R1 common n 10k',
    'R2 n out 100k',
    'R3 in p 10k',
    'R4 p 0 100k',
    'X1 p n out ideal',
  ),
}
