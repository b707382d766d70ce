/** An ideal amplifier, as netlists write one. */
const IDEAL = `.subckt ideal plus minus out
E1 out 0 plus minus 1e8
.ends`

const SOURCE = 'V1 in 0 AC 1'

const netlist = (title: string, ...lines: string[]) => [title, ...lines, '.end', ''].join('\n')

const section = (k: number, from: string, to: string) => [
  `RA${k} ${from} a${k} 10k`,
  `RB${k} a${k} b${k} 10k`,
  `CA${k} a${k} ${to} 20n`,
  `CB${k} b${k} 0 10n`,
  `X${k} b${k} ${to} ${to} ideal`,
]

/** Sections with a unity-gain amplifier one after the other, with a load. */
export function cascadeOf(sections: number): string {
  const net = (k: number) => (k === 0 ? 'in' : k === sections ? 'out' : `o${k}`)
  const parts = Array.from({ length: sections }, (_, k) => section(k + 1, net(k), net(k + 1)))
  return netlist('Sections in cascade', IDEAL, SOURCE, ...parts.flat(), 'RL out 0 10k')
}

/** Circuits that are drawn often, as netlists without any place, each with the crossings and bends that a drawing of it may have. */
export const usualCircuits: readonly {
  readonly name: string
  readonly netlist: string
  readonly crossings: number
  readonly bends: number
}[] = [
  {
    name: 'ladder of order 7',
    netlist: netlist(
      'Ladder',
      SOURCE,
      'RS in a 50',
      'L1 a b 1u',
      ...[1, 2, 3].flatMap((k) => {
        const [net, next] = [
          ['b', 'c'],
          ['c', 'd'],
          ['d', 'out'],
        ][k - 1]
        return [`L${2 * k} ${net} x${k} 0.3u`, `C${2 * k} x${k} 0 1n`, `L${2 * k + 1} ${net} ${next} 1u`]
      }),
      'RL out 0 50',
    ),
    crossings: 0,
    bends: 0,
  },
  {
    name: 'two-pole section',
    netlist: netlist('Section', IDEAL, SOURCE, ...section(1, 'in', 'out')),
    crossings: 0,
    bends: 3,
  },
  { name: 'four sections', netlist: cascadeOf(4), crossings: 0, bends: 12 },
  {
    name: 'two-integrator loop',
    netlist: netlist(
      'Loop',
      IDEAL,
      SOURCE,
      'R1 in s1 10k',
      'C1 s1 band 1n',
      'R2 s1 band 50k',
      'X1 0 s1 band ideal',
      'R3 band s2 10k',
      'C2 s2 low 1n',
      'X2 0 s2 low ideal',
      'R4 low s3 10k',
      'R5 s3 out 10k',
      'X3 0 s3 out ideal',
      'R6 out s1 10k',
    ),
    crossings: 0,
    bends: 7,
  },
  {
    name: 'differential pair with mirror',
    netlist: netlist(
      'Pair',
      'VDD vdd 0 3',
      'V1 in 0 DC 1 AC 1',
      'VREF ref 0 1',
      'M1 d1 in tail 0 n W=10u L=1u',
      'M2 out ref tail 0 n W=10u L=1u',
      'M3 d1 d1 vdd vdd p W=20u L=1u',
      'M4 out d1 vdd vdd p W=20u L=1u',
      'I1 tail 0 20u',
      'C1 out 0 1p',
      '.model n NMOS(LEVEL=1 VTO=0.7 KP=100u)',
      '.model p PMOS(LEVEL=1 VTO=-0.7 KP=40u)',
    ),
    crossings: 0,
    bends: 1,
  },
  {
    name: 'common emitter',
    netlist: netlist(
      'Stage',
      'VCC vcc 0 12',
      SOURCE,
      'C1 in b 10u',
      'R1 vcc b 47k',
      'R2 b 0 10k',
      'R3 vcc c 4.7k',
      'Q1 c b e q',
      'R4 e 0 1k',
      'C2 e 0 100u',
      'C3 c out 10u',
      'RL out 0 10k',
      '.model q NPN(IS=1e-15 BF=200)',
    ),
    crossings: 0,
    bends: 3,
  },
  {
    name: 'bridged T',
    netlist: netlist(
      'Bridged T',
      SOURCE,
      'RS in a 50',
      'R1 a m 100',
      'R2 m out 100',
      'R3 a out 1k',
      'C1 m 0 1n',
      'RL out 0 50',
    ),
    crossings: 0,
    bends: 2,
  },
  {
    name: 'leapfrog',
    netlist: netlist(
      'Leapfrog',
      IDEAL,
      SOURCE,
      'RI in s1 10k',
      'RQ1 v1 s1 10k',
      'C1 s1 v1 1n',
      'X1 0 s1 v1 ideal',
      'RF1 v1 s2 10k',
      'C2 s2 v2 2n',
      'X2 0 s2 v2 ideal',
      'RA2 v2 j2 10k',
      'RB2 j2 w2 10k',
      'XV2 0 j2 w2 ideal',
      'RF2 w2 s3 10k',
      'RG2 w2 s1 10k',
      'C3 s3 v3 3n',
      'X3 0 s3 v3 ideal',
      'RG3 v3 s2 10k',
      'RF3 v3 s4 10k',
      'C4 s4 v4 2n',
      'X4 0 s4 v4 ideal',
      'RA4 v4 j4 10k',
      'RB4 j4 w4 10k',
      'XV4 0 j4 w4 ideal',
      'RG4 w4 s3 10k',
      'RF4 w4 s5 10k',
      'C5 s5 out 1n',
      'X5 0 s5 out ideal',
      'RQ5 out s5 10k',
      'RG5 out s4 10k',
    ),
    crossings: 3,
    bends: 14,
  },
  { name: 'cascade of 62 parts', netlist: cascadeOf(12), crossings: 4, bends: 37 },
]
