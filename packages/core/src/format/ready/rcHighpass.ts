import { netlistOf, type ReadyCircuit } from './ReadyCircuit.js'

export const rcHighpass: ReadyCircuit = {
  id: 'rc-highpass',
  name: 'RC high-pass',
  purpose: 'takes away a bias and what drifts',
  look: 'the corner at 1/(2πRC) = 15.92 Hz, and the droop of a long pulse',
  netlist: netlistOf('RC high-pass', 'V1 in 0 AC 1 PULSE(0 1)', 'C1 in out 1u', 'R1 out 0 10k'),
}
