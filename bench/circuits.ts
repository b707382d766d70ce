import { formulate, type Mna, parseSpec, readNetlist, realize } from '@voskel/core'

const read = (lines: readonly string[]): Mna => formulate(readNetlist(['bench', ...lines, ''].join('\n')).circuit)

/** A ladder of coils and capacitors between 50 Ω: two unknowns a section, and three. */
export function ladder(sections: number): Mna {
  const net = (k: number) => (k === sections ? 'out' : `n${k}`)
  const lines = ['V1 in 0 AC 1', `RS in ${net(0)} 50`]
  for (let k = 0; k < sections; k++) lines.push(`L${k} ${net(k)} ${net(k + 1)} 1u`, `C${k} ${net(k + 1)} 0 1n`)
  return read([...lines, `RL ${net(sections)} 0 50`])
}

/** Second-order sections whose amplifiers have one pole: five unknowns a section, and two. */
export function activeSections(sections: number): Mna {
  const lines = ['V1 in 0 AC 1 PULSE(0 1)']
  let from = 'in'
  for (let k = 1; k <= sections; k++) {
    const out = k === sections ? 'out' : `o${k}`
    lines.push(
      `R${k}a ${from} a${k} 10k`,
      `R${k}b a${k} b${k} 12k`,
      `C${k}a a${k} ${out} ${k}n`,
      `C${k}b b${k} 0 ${470 / k}p`,
      `G${k} 0 p${k} b${k} ${out} 1m`,
      `R${k}p p${k} 0 100Meg`,
      `C${k}p p${k} 0 16n`,
      `E${k} ${out} 0 p${k} 0 1`,
    )
    from = out
  }
  return read(lines)
}

/** A Butterworth ladder of an order, cutoff 1 rad/s, between 1 Ω; its step response is twice damped by the terminations. */
export function butterworth(order: number): Mna {
  const spec = parseSpec({
    response: 'lowpass',
    approximation: 'butterworth',
    order,
    passband: { edges: [1 / (2 * Math.PI)] },
    realization: { family: 'lc-ladder', source: 1, load: 1 },
  })
  return formulate(realize(spec).circuit)
}

/**
 * The amplifier that bench/reference.py integrates, with a capacitor at every net.
 *
 * @param law more of its models' parameters
 */
export const twoStage = (law = ''): Mna =>
  read([
    'VDD vdd 0 2.5',
    'VSS vss 0 -2.5',
    'V1 inp 0 SIN(0 0.5m 100k)',
    'IB vdd nb 30u',
    'M8 nb nb vss vss NCH W=30u L=2u',
    'M5 tail nb vss vss NCH W=30u L=2u',
    'M1 d1 0 tail vss NCH W=20u L=2u',
    'M2 d2 inp tail vss NCH W=20u L=2u',
    'M3 d1 d1 vdd vdd PCH W=40u L=2u',
    'M4 d2 d1 vdd vdd PCH W=40u L=2u',
    'M6 out d2 vdd vdd PCH W=160u L=2u',
    'M7 out nb vss vss NCH W=60u L=2u',
    'CC d2 out 2p',
    'CL out 0 5p',
    'C1 nb 0 100f',
    'C2 tail 0 100f',
    'C3 d1 0 100f',
    'C4 d2 0 100f',
    `.model NCH NMOS (VTO=0.7 KP=110u GAMMA=0.4 PHI=0.7 LAMBDA=0.04 IS=1e-40 ${law})`,
    `.model PCH PMOS (VTO=-0.7 KP=50u GAMMA=0.57 PHI=0.8 LAMBDA=0.05 IS=1e-40 ${law})`,
  ])
