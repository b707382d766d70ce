import { netlistOf, type ReadyCircuit } from './ReadyCircuit.js'

export const twinT: ReadyCircuit = {
  id: 'twin-t',
  name: 'Twin T',
  purpose: 'takes hum out: a notch as deep as its parts are equal',
  look: 'the notch at 1/(2πRC) = 50 Hz, and how one part by 1 % fills it',
  netlist: netlistOf(
    'Twin T',
    'V1 in 0 AC 1 SIN(0 1 50)',
    '.param f=50 c=100n',
    'R1 in a {1/(2*pi*f*c)}',
    'R2 a out {1/(2*pi*f*c)}',
    'C3 a 0 {2*c}',
    'C1 in b {c}',
    'C2 b out {c}',
    'R3 b 0 {1/(4*pi*f*c)}',
    'RL out 0 10Meg',
  ),
}
