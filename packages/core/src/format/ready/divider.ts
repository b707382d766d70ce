import { netlistOf, type ReadyCircuit } from './ReadyCircuit.js'

export const divider: ReadyCircuit = {
  id: 'divider-with-interference',
  name: 'Divider with interference',
  purpose: 'a sensor’s voltage, halved, with hum coupled in on the way',
  look: 'how much of V2 arrives at out, by superposition: switch V1 or V2 off in turn; then a capacitor across R2',
  netlist: netlistOf(
    'Divider with interference',
    'V1 in 0 DC 2 AC 1 PULSE(0 2 1m)',
    'R1 in out 10k',
    'R2 out 0 10k',
    'V2 hum 0 SIN(0 5 50)',
    'C1 hum out 1n',
  ),
}
