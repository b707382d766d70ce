import { IDEAL, netlistOf, type ReadyCircuit } from './ReadyCircuit.js'

export const toneControl: ReadyCircuit = {
  id: 'tone-control',
  name: 'Tone control',
  purpose: 'lifts or cuts bass and treble by two parameters, flat in the middle',
  look: 'bass and treble from 0 to 1 (under Parameters): flat at 0.5, shelves elsewhere',
  netlist: netlistOf(
    'Tone control',
    '.param bass=0.5 treble=0.5',
    IDEAL,
    'V1 in 0 AC 1 PULSE(0 1)',
    'R1 in a 10k',
    'RB1 a bw {100k*(1-bass)+1}',
    'RB2 bw b {100k*bass+1}',
    'C1 a bw 33n',
    'C2 bw b 330n',
    'R2 b 0 1k',
    'R3 bw m 10k',
    'C3 in c 3.3n',
    'RT1 c m {100k*(1-treble)+1}',
    'RT2 m d {100k*treble+1}',
    'C4 d 0 33n',
    'X1 m n out ideal',
    'R4 out n 91k',
    'R5 n 0 10k',
    'C5 out n 47p',
  ),
}
