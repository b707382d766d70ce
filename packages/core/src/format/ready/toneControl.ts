import { IDEAL, netlistOf, type ReadyCircuit } from './ReadyCircuit.js'

export const toneControl: ReadyCircuit = {
  id: 'tone-control',
  name: 'Tone control',
  purpose: 'lifts or cuts bass and treble by two parameters',
  look: 'bass and treble from 0 to 1 (under Parameters): at 0.5 it is flat by symmetry; bass at 1 lifts what is low by 110k/10k',
  netlist: netlistOf(
    'Tone control',
    '.param bass=0.5 treble=0.5',
    IDEAL,
    'V1 in 0 AC 1 PULSE(0 1)',
    'R1 in a 10k',
    'RB1 a w {100k*(1-bass)+1}',
    'RB2 w b {100k*bass+1}',
    'R2 b out 10k',
    'C1 a w 47n',
    'C2 w b 47n',
    'R3 w n 10k',
    'C3 in c 4.7n',
    'RT1 c t {100k*(1-treble)+1}',
    'RT2 t d {100k*treble+1}',
    'C4 d out 4.7n',
    'R4 t n 1k',
    'X1 0 n out ideal',
  ),
}
