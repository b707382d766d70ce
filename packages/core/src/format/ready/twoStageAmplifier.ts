import { netlistOf, type ReadyCircuit } from './ReadyCircuit.js'

export const twoStageAmplifier: ReadyCircuit = {
  id: 'two-stage-amplifier',
  name: 'Two-stage MOS amplifier',
  purpose: 'much gain from one supply: a pair, its mirror, and a stage to drive the load',
  look: 'the operating point (tail current, gm); unity gain at gm/(2πCC); open the loop at fb for its margins, then take CC away',
  netlist: netlistOf(
    'Two-stage MOS amplifier',
    'VDD vdd 0 3.3',
    'V1 in 0 DC 1.5 AC 1 PULSE(1.5 1.6 1u 10n 10n 5u 10u)',
    'IB vb 0 20u',
    'M8 vb vb vdd vdd p1 W=20u L=1u',
    'M5 tail vb vdd vdd p1 W=40u L=1u',
    'M1 d1 fb tail vdd p1 W=30u L=1u',
    'M2 d2 in tail vdd p1 W=30u L=1u',
    'M3 d1 d1 0 0 n1 W=10u L=1u',
    'M4 d2 d1 0 0 n1 W=10u L=1u',
    'M6 out d2 0 0 n1 W=40u L=1u',
    'M7 out vb vdd vdd p1 W=80u L=1u',
    'CC d2 z 2p',
    'RZ z out 1.5k',
    'CL out 0 5p',
    'RF out fb 10k',
    '.model n1 NMOS(LEVEL=1 VTO=0.7 KP=100u LAMBDA=0.02)',
    '.model p1 PMOS(LEVEL=1 VTO=-0.7 KP=40u LAMBDA=0.03)',
  ),
}
