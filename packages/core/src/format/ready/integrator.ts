import { IDEAL, netlistOf, type ReadyCircuit } from './ReadyCircuit.js'

export const integrator: ReadyCircuit = {
  id: 'practical-integrator',
  name: 'Practical integrator',
  purpose: 'sums over time, and forgets slowly, so that no bias fills it',
  look: 'gain 1/(2πfRC) between its corner at 1/(2π·R2·C1) = 1.592 Hz and the amplifier’s end; a square wave becomes a triangle',
  netlist: netlistOf(
    'Practical integrator',
    IDEAL,
    'V1 in 0 AC 1 PULSE(-0.1 0.1 0 1u 1u 5m 10m)',
    'R1 in n 100k',
    'R2 n out 10Meg',
    'C1 n out 10n',
    'X1 0 n out ideal',
  ),
}
