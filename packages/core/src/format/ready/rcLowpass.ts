import { netlistOf, type ReadyCircuit } from './ReadyCircuit.js'

export const rcLowpass: ReadyCircuit = {
  id: 'rc-lowpass',
  name: 'RC low-pass',
  purpose: 'takes away what is fast: hum stays, hiss goes',
  look: 'the corner at 1/(2πRC) = 1.592 kHz, 45° of lag there, and the step that takes 2.2·RC from 10 to 90 %',
  netlist: netlistOf('RC low-pass', 'V1 in 0 AC 1 PULSE(0 1)', 'R1 in out 10k', 'C1 out 0 10n'),
}
