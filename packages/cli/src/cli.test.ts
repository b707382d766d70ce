import { spawnSync } from 'node:child_process'
import { closeSync, mkdtempSync, openSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { beforeAll, describe, expect, test } from 'vitest'
import { type OutputOptions, rolldown } from 'rolldown'
import config from '../rolldown.config.mjs'

const bin = fileURLToPath(new URL('../bin/voskel.js', import.meta.url))

/** Runs the tool as a person does; `input` goes to its standard input. */
function voskel(args: string[], input = '') {
  const { status, stdout, stderr } = spawnSync(process.execPath, [bin, ...args], { input, encoding: 'utf8' })
  return {
    status,
    stdout,
    stderr,
    json: () => JSON.parse(stdout),
    rows: () =>
      stdout
        .trim()
        .split('\n')
        .slice(1)
        .map((l) => l.split(',').map(Number)),
  }
}

const spec = (more: object = {}) =>
  JSON.stringify({
    response: 'lowpass',
    approximation: 'chebyshev',
    order: 5,
    passband: { edges: [480000], ripple: 0.1 },
    stopband: { edges: [1e6], attenuation: 36 },
    realization: { family: 'lc-ladder', source: 75, load: 75 },
    ...more,
  })
/** A chain whose first part is a capacitor does not take up the source resistance. */
const FOLLOWED = { family: 'sallen-key', source: 600 }
const RC = 'rc\nV1 in 0 AC 1 PULSE(0 1)\nR1 in out 1k\nC1 out 0 100n\n.end\n'

beforeAll(async () => {
  const bundle = await rolldown(config)
  await bundle.write(config.output as OutputOptions)
})

describe('design', () => {
  test('a 0.1 dB fifth-order Chebyshev between 75 Ω has the published values, scaled', () => {
    const netlist = voskel(['design', '-', '--format', 'netlist'], spec()).stdout
    const value = (name: string) => Number(new RegExp(`^${name} \\S+ \\S+ (\\S+)$`, 'm').exec(netlist)![1])
    const omega = 2 * Math.PI * 480000
    // Matthaei, Young, Jones 1964, table 4.05-2(a); from memory, four decimals
    const printed: [string, number][] = [
      ['C1', 1.1468],
      ['L2', 1.3712],
      ['C3', 1.975],
      ['L4', 1.3712],
      ['C5', 1.1468],
    ]
    for (const [name, g] of printed) {
      const scaled = name.startsWith('C') ? value(name) * omega * 75 : (value(name) * omega) / 75
      expect(Math.abs(scaled - g)).toBeLessThan(5e-5)
    }
    const m = voskel(['measure', '-'], netlist).json()
    expect(m.ac.rippleDb).toBeCloseTo(0.1, 6)
    // Half-power point of a Chebyshev response: cosh(acosh(1/ε)/5) times the edge
    const epsilon = Math.sqrt(10 ** 0.01 - 1)
    expect(m.ac.cutoffs[0] / (480000 * Math.cosh(Math.acosh(1 / epsilon) / 5))).toBeCloseTo(1, 6)
    const edge = voskel(['ac', '-', '--from', '480k', '--to', '960k', '--points', '2', '--linear'], netlist).rows()[0]!
    expect(edge[3]! - 20 * Math.log10(0.5)).toBeCloseTo(-0.1, 6)
  })

  test('what a realization comes with is told on standard error', () => {
    const made = voskel(['design', '-'], spec({ response: 'highpass', stopband: undefined, realization: FOLLOWED }))
    expect(made.stderr).toMatch(/^-: note: A follower stands before the sections/m)
    expect(made.status).toBe(0)
    expect(JSON.parse(made.stdout)).toMatchObject({ specification: { response: 'highpass' } })
  })

  test('a design without a specification is judged by its requirements', () => {
    const design = JSON.parse(voskel(['convert', '-', '--format', 'json'], RC).stdout) as object
    const judged = voskel(['verify', '-'], JSON.stringify({ ...design, requirements: [{ kind: 'parts', limit: 0 }] }))
    expect(judged.status).toBe(1)
    expect(JSON.parse(judged.stdout)).toMatchObject([{ id: 'parts', limit: 0, met: false }])
    const nothing = voskel(['verify', '-'], JSON.stringify(design))
    expect(nothing.status).toBe(2)
    expect(nothing.stderr).toContain('neither a specification nor requirements')
  })

  test('converts back and forth to the same circuit', () => {
    const design = voskel(['design', '-', '--values', 'E24'], spec()).stdout
    const netlist = voskel(['convert', '-', '--format', 'netlist'], design).stdout
    const again = voskel(['convert', '-', '--format', 'json'], netlist).stdout
    expect(voskel(['convert', '-', '--format', 'netlist'], again).stdout).toBe(netlist)
    expect(voskel(['measure', '-'], again).stdout).toBe(voskel(['measure', '-'], design).stdout)
  })
})

describe('analyses', () => {
  test('ac: columns, grid and unwrapped phase', () => {
    const { stdout } = voskel(['ac', '-', '--from', '10', '--to', '10k', '--points-per-decade', '3'], RC)
    expect(stdout.split('\n')[0]).toBe('frequency,re,im,magnitude_db,phase_deg,group_delay_s')
    expect(stdout.trim().split('\n')).toHaveLength(1 + 10)
    const ladder = voskel(['design', '-', '--format', 'netlist'], spec()).stdout
    const far = voskel(['ac', '-', '--from', '1k', '--to', '1G', '--points-per-decade', '1'], ladder).rows().at(-1)!
    expect(far[4]).toBeCloseTo(-450, 0)
  })

  test('tran: points and columns', () => {
    const { stdout, rows } = voskel(['tran', '-', '--stop', '1m', '--output', 'out,in,i(R1)', '--points', '11'], RC)
    expect(stdout.split('\n')[0]).toBe('time,out,in,i(R1)')
    expect(rows()).toHaveLength(11)
    expect(rows()[1]![1]).toBeCloseTo(1 - Math.exp(-1), 4)
  })

  test('approximate and poles agree on what was designed', () => {
    const ideal = voskel(['approximate', '-'], spec()).json()
    const netlist = voskel(['design', '-', '--format', 'netlist'], spec()).stdout
    const found = voskel(['poles', '-'], netlist).json()
    ideal.poles.forEach(([re, im]: [number, number], k: number) => {
      expect(Math.hypot(found.poles[k][0] - re, found.poles[k][1] - im) / Math.hypot(re, im)).toBeLessThan(1e-11)
    })
    expect(found.zeros).toEqual([])
    expect(found.hidden).toEqual([])
  })

  test('verify --require: any circuit by a list, from files or standard input; of it alone', () => {
    const folder = mkdtempSync(join(tmpdir(), 'voskel-require-'))
    try {
      const [circuit, list] = [join(folder, 'rc.cir'), join(folder, 'list.json')]
      writeFileSync(circuit, 't\nV1 in 0 AC 1\nR1 in out 1k\nC1 out 0 100n\n')
      const corner = { kind: 'value', id: 'corner', of: { measure: 'ac.cutoffs[0]' }, min: 1500, max: 1700 }
      writeFileSync(list, JSON.stringify([corner, { kind: 'overshoot', limit: 5 }]))
      const met = voskel(['verify', circuit, '--require', list])
      expect(met.status).toBe(0)
      // f = 1/(2π·RC)
      const [first] = JSON.parse(met.stdout) as { id: string; achieved: number; margin: number }[]
      expect(first!.id).toBe('corner')
      expect(first!.achieved).toBeCloseTo(1e4 / (2 * Math.PI), 6)
      const other = JSON.stringify([{ ...corner, max: 1550 }])
      expect(voskel(['verify', circuit, '--require', '-'], other).status).toBe(1)
      const wrong = voskel(['verify', circuit, '--require', '-'], '[\n  { "kind": "value", "id": "x", "min": 1 }\n]')
      expect(wrong).toMatchObject({ status: 2, stderr: expect.stringMatching(/-:2:\d+: .*"of"/) })
      expect(voskel(['verify', circuit, '--require', '-'], 'no json')).toMatchObject({ status: 2 })
    } finally {
      rmSync(folder, { recursive: true })
    }
  })

  test('verify: 0 when everything is met, 1 when not, margins on the ledger', () => {
    const good = voskel(['design', '-'], spec()).stdout
    expect(voskel(['verify', '-'], good).status).toBe(0)
    const bad = voskel(['verify', '-'], voskel(['design', '-', '--values', 'E6'], spec()).stdout)
    expect(bad.status).toBe(1)
    const line = bad.json()[0]
    expect(line).toMatchObject({ id: 'passband', limit: 0.1, met: false })
    expect(line.margin).toBeCloseTo(0.1 - line.achieved, 12)
  })
})

describe('devices, sensitivities and noise', () => {
  const STAGE = [
    'stage',
    'V1 in 0 DC 1.2 AC 1',
    'VDD vdd 0 5',
    'RD vdd out 10k',
    'M1 out in 0 0 n W=10u L=1u',
    '.model n nmos (VTO=0.7 KP=100u LAMBDA=0.02)',
    '.end',
    '',
  ].join('\n')

  test('op: nets, currents into first pins, and what a device does', () => {
    const { nodes, currents, devices } = voskel(['op', '-'], STAGE).json()
    // β/2·vov²·(1 + λ·vds) = (5 − vds)/10k with β = 1 mA/V², vov = 0.5 V (Shichman, Hodges 1968), solved by hand.
    const i = (vds: number) => (1e-3 / 2) * 0.25 * (1 + 0.02 * vds)
    const vds = (5 - 1.25) / (1 + 1.25 * 0.02)
    expect(nodes.out).toBeCloseTo(vds, 6)
    expect(currents.RD).toBeCloseTo(i(vds), 9)
    expect(currents.VDD).toBeCloseTo(-i(vds), 9)
    expect(currents.M1).toBeCloseTo(i(vds), 9)
    expect(devices.M1.region).toBe('saturation')
    expect(devices.M1.gm).toBeCloseTo((2 * i(vds)) / 0.5, 8)
  })

  test('ac and measure take the small signals around the operating point', () => {
    const { devices } = voskel(['op', '-'], STAGE).json()
    const gain = -devices.M1.gm / (1e-4 + devices.M1.gds)
    const row = voskel(['ac', '-', '--from', '1', '--to', '10', '--points-per-decade', '1'], STAGE).rows()[0]!
    expect(row[1]).toBeCloseTo(gain, 6)
    expect(voskel(['tran', '-', '--stop', '1m', '--points', '3'], STAGE).rows()[2]![1]).toBeCloseTo(3.658537, 4)
  })

  test('temperature moves a junction by about −2 mV a degree (common practice, no source)', () => {
    const diode = 'd\nI1 0 out 1m\nD1 out 0 d\n.model d d (IS=1e-14)\n'
    const at = (degrees: string) => voskel(['op', '-', '--temperature', degrees], diode).json().nodes.out
    expect(at('28') - at('27')).toBeGreaterThan(-2.5e-3)
    expect(at('28') - at('27')).toBeLessThan(-1.2e-3)
  })

  test('sensitivity: an RC at its cutoff is −1/2 for both parts, in phase −1/2 rad', () => {
    const f = 1 / (2 * Math.PI * 1e3 * 100e-9)
    const { frequency, components } = voskel(['sensitivity', '-', '--frequency', `${f},1`], RC).json()
    expect(frequency).toEqual([f, 1])
    for (const name of ['R1', 'C1']) {
      expect(components[name].magnitude[0]).toBeCloseTo(-0.5, 12)
      expect(components[name].phase[0]).toBeCloseTo(-0.5, 12)
    }
    const inside = 'x\nV1 in 0 AC 1\nX1 in out half\n.subckt half a b\nR1 a b 1k\nR2 b 0 1k\n.ends\n'
    expect(
      voskel(['sensitivity', '-', '--frequency', '1'], inside).json().components['X1.R2'].magnitude[0],
    ).toBeCloseTo(0.5, 12)
  })

  test('noise: 4kTR in the passband, the total on standard error', () => {
    const run = voskel(['noise', '-', '--from', '1', '--to', '1G', '--points-per-decade', '1'], RC)
    expect(run.stdout.split('\n')[0]).toBe('frequency,output_v_per_rthz,input_v_per_rthz')
    // H. Nyquist, Phys. Rev. 32, 1928
    expect(run.rows()[0]![1]! / Math.sqrt(4 * 1.380649e-23 * 300.15 * 1e3)).toBeCloseTo(1, 5)
    const total = Number(/^total output V rms: (\S+)$/m.exec(run.stderr)![1])
    expect(total / Math.sqrt((1.380649e-23 * 300.15) / 100e-9)).toBeCloseTo(1, 3)
  })

  test('scattering: a Touchstone text, each port referred to its own resistor', () => {
    const ladder = 't\nV1 in 0 AC 1\nRS in a 50\nL1 a b 1u\nRL b 0 75\n'
    const run = voskel(
      ['scattering', '-', '--ports', 'RS,RL', '--from', '1Meg', '--to', '10Meg', '--points-per-decade', '2'],
      ladder,
    )
    const lines = run.stdout.trimEnd().split('\n')
    expect(lines).toContain('[Reference] 50 75')
    const rows = lines.filter((l) => /^\d/.test(l)).map((l) => l.split(' ').map(Number))
    expect(rows.map((r) => Math.round(r[0]! / 1e5) / 10)).toEqual([1, 3.2, 10])
    // Z in series: S21 = 2·√(50·75)/(125 + Z)
    const size = Math.hypot(rows[2]![3]!, rows[2]![4]!)
    expect(size * Math.hypot(125, 2 * Math.PI * 10)).toBeCloseTo(2 * Math.sqrt(50 * 75), 9)
    const wrong = voskel(['scattering', '-', '--ports', 'RS', '--from', '1', '--to', '10'], ladder)
    expect([wrong.status, wrong.stderr]).toEqual([2, expect.stringContaining('Give two, as RS,RL')])
  })

  describe('fit', () => {
    const folder = mkdtempSync(join(tmpdir(), 'voskel-fit-'))
    const file = (name: string, text: string) => {
      const path = join(folder, name)
      writeFileSync(path, text)
      return path
    }
    const circuit = (r: string) => `t\nV1 in 0 AC 1 PULSE(0 1)\nR1 in out ${r}\nC1 out 0 100n\n`
    const fit = (data: string, ...words: string[]) =>
      voskel(['fit', '-', '--data', data, '--vary', ...words], circuit('1k'))

    test('finds the values that a curve was made with, whichever columns say it', () => {
      const { stdout } = voskel(
        ['ac', '-', '--from', '10', '--to', '100k', '--points-per-decade', '5'],
        circuit('1.5k'),
      )
      const rows = stdout
        .trimEnd()
        .split('\n')
        .map((l) => l.split(','))
      for (const [name, columns] of [
        ['all.csv', [0, 1, 2, 3, 4, 5]],
        ['level.csv', [0, 3]],
        ['phase.csv', [0, 4]],
        ['both.csv', [4, 0, 3]],
      ] as const) {
        const data = file(name, rows.map((r) => columns.map((c) => r[c]).join(',')).join('\n'))
        const found = fit(data, 'r1').json()
        expect(Object.keys(found)).toEqual(['values', 'confidence95', 'rms', 'samples', 'iterations', 'correlation'])
        expect(found.values.R1 / 1500).toBeCloseTo(1, 9)
        expect(found.confidence95.R1[0]).toBeLessThanOrEqual(found.values.R1)
        expect(found.rms).toBeLessThan(1e-6)
        expect(found.samples).toBe(21)
      }
    })

    test('takes the column of a net over time, and says which rows lie before the begin', () => {
      const { stdout } = voskel(['tran', '-', '--stop', '1m', '--points', '101', '--output', 'in,out'], circuit('1.5k'))
      const data = file('course.csv', stdout.replace('\n', '\n-1e-5,0,0\n'))
      const run = fit(data, 'C1', '--bounds', 'C1=10n:1u')
      expect(run.json().values.C1 / 150e-9).toBeCloseTo(1, 6)
      expect(run.stderr).toContain('1 rows lie before 0 s')
      expect(fit(data, 'C1', '--output', 'nowhere').stderr).toContain('there are in, out')
    })

    test('takes a network’s parameters by the output that is named', () => {
      const ladder = (l: string) => `t\nV1 in 0 AC 1\nRS in a 50\nL1 a b ${l}\nRL b 0 75\n`
      const words = ['--ports', 'RS,RL', '--from', '1Meg', '--to', '100Meg', '--points-per-decade', '5']
      const data = file('coil.s2p', voskel(['scattering', '-', ...words], ladder('1.3u')).stdout)
      const of = (...more: string[]) => voskel(['fit', '-', '--data', data, '--vary', 'L1', ...more], ladder('1u'))
      for (const output of ['s21(RS,RL)', 's11(RS,RL)'])
        expect(of('--output', output).json().values.L1 / 1.3e-6).toBeCloseTo(1, 9)
      expect(of('--output', 'b').stderr).toContain('The file holds S11, S12, S21, S22')
    })

    test('says what is wrong, with its line, and ends with 2, or with 3 where values are not determined', () => {
      const word = fit(file('word.csv', 'frequency,magnitude_db\n1,0\n2,over\n3,0\n4,0\n5,0\n'), 'R1')
      expect([word.status, word.stderr]).toEqual([2, expect.stringMatching(/word\.csv:3:1: .*"over"/)])
      const good = file('good.csv', 'frequency,magnitude_db\n100,-0.1\n1k,-3\n2k,-6\n10k,-20\n')
      expect(fit(good, 'R1', '--bounds', 'R1=1k').status).toBe(2)
      expect(fit(good, 'R9').stderr).toContain('no part or parameter "R9"')
      const both = fit(good, 'R1,C1')
      expect([both.status, both.stderr]).toEqual([3, expect.stringContaining('does not tell R1, C1 apart')])
      expect(voskel(['fit', '-', '--data', '-', '--vary', 'R1'], circuit('1k')).status).toBe(2)
      expect(fit(join(folder, 'none.csv'), 'R1').status).toBe(2)
      const held = fit(good, 'R1', '--bounds', 'R1=10:100')
      expect(held.stderr).toContain('R1 stands at its bound')
    })
  })

  test('what does not converge or cannot be solved ends with status 3 and names the place', () => {
    const loop = voskel(['op', '-'], 'x\nV1 a 0 1\nV2 a 0 2\nR1 a 0 1\n')
    expect(loop.status).toBe(3)
    expect(loop.stderr).toMatch(/V1, V2 form a loop/)
    const floating = voskel(['op', '-'], 'x\nV1 a 0 1\nC1 a b 1n\nC2 b 0 1n\n')
    expect(floating.status).toBe(3)
    expect(floating.stderr).toMatch(/v\(b\)/)
  })
})

test('what a design says of its study counts until an option says otherwise', () => {
  const netlist = 'two\nV1 a 0 AC 1 PULSE(0 1)\nV2 b 0 AC 1\nR1 a m 1k\nC1 m 0 1u\nR2 b m 3k\n.end\n'
  const drawn = voskel(['convert', '-', '--format', 'json'], netlist)
  const design = JSON.stringify({
    ...drawn.json(),
    study: { input: 'V2', output: 'v(m)', temperature: 60, start: 'zero' },
  })
  // Both resistances are parallel for either source: 1/(2π·750 Ω·1 µF) = 212.2 Hz; V2 sees 1 kΩ of 4 kΩ.
  const measured = voskel(['measure', '-'], design).json()
  expect(measured.ac.peakDb).toBeCloseTo(20 * Math.log10(0.25), 9)
  expect(measured.ac.cutoffs[0]).toBeCloseTo(1 / (2 * Math.PI * 750e-6), 6)
  expect(voskel(['measure', '-', '--input', 'V1'], design).json().ac.peakDb).toBeCloseTo(20 * Math.log10(0.75), 9)
  const [first] = voskel(['ac', '-', '--frequencies', '1m'], design).rows()
  expect(first![3]).toBeCloseTo(20 * Math.log10(0.25), 6)
  expect(voskel(['ac', '-', '--frequencies', '1', '--output', 'i(R1)'], design).rows()[0]![3]).toBeLessThan(-60)
  expect(voskel(['poles', '-'], design).json().poles[0][0]).toBeCloseTo(-1 / 750e-6, 6)
  expect(voskel(['tran', '-', '--stop', '1m', '--points', '3'], design).stdout).toMatch(/^time,v\(m\)\n0,0\n/)
  // Noise power of two resistances at 60 °C, against 27 °C: as the absolute temperatures.
  const noiseAt = (...more: string[]) =>
    voskel(['noise', '-', '--from', '1', '--to', '10', ...more], design).rows()[0]![1]! ** 2
  expect(noiseAt() / noiseAt('--temperature', '27')).toBeCloseTo(333.15 / 300.15, 9)
})

describe('what the circuit proposes, tables, residues', () => {
  test('auto takes range and window from the poles and the sources', () => {
    const { rows } = voskel(['ac', '-', '--from', 'auto', '--to', 'auto'], RC)
    const frequencies = rows().map((r) => r[0]!)
    // The pole of the section lies at 1.59 kHz.
    expect(frequencies[0]).toBeLessThan(160)
    expect(frequencies.at(-1)).toBeGreaterThan(15e3)
    const tran = voskel(['tran', '-', '--stop', 'auto', '--points', '11'], RC)
    expect(tran.stderr).toMatch(/runs until/)
    expect(tran.rows().at(-1)![1]).toBeCloseTo(1, 3)
  })

  test('given frequencies, a power and a quotient', () => {
    const at = (output: string) => voskel(['ac', '-', '--frequencies', '2k,1k', '--output', output], RC).rows()
    expect(at('out').map((r) => r[0])).toEqual([1000, 2000])
    const [[, re, im]] = at('out/i(R1)') as [number[]]
    expect(re).toBeCloseTo(0, 9)
    expect(im! * 2 * Math.PI * 1000 * 1e-7).toBeCloseTo(-1, 12)
    const [[, power, , db]] = at('p(R1)') as [number[]]
    expect(db).toBeCloseTo(10 * Math.log10(power!), 9)
  })

  test('a source follows a table', () => {
    const table = join(mkdtempSync(join(tmpdir(), 'voskel-')), 'signal.csv')
    writeFileSync(table, 't;u\n0;0\n1e-3;2\n')
    const run = voskel(
      ['tran', '-', '--stop', '2m', '--points', '3', '--output', 'in,p(R1)', '--table', `v1=${table}:u`],
      RC,
    )
    expect(run.rows().map((r) => r[1])).toEqual([0, 2, 2])
    const wrong = voskel(['tran', '-', '--stop', '2m', '--table', `V1=${table}:w`], RC)
    expect(wrong.status).toBe(2)
    expect(wrong.stderr).toMatch(/signal\.csv:1:1: .*no column "w".*Its columns are: t, u/)
  })

  test('residues, step and impulse of an RC section', () => {
    const { poles, residues, direct } = voskel(['poles', '-', '--residues'], RC).json()
    expect(poles[0][0]).toBeCloseTo(-1e4, 6)
    expect(residues[0][0]).toBeCloseTo(1e4, 6)
    expect(direct).toBe(0)
    const natural = (kind: string) =>
      voskel(['tran', '-', '--stop', '1m', '--points', '11', '--response', kind], RC).rows()
    natural('step').forEach(([t, y]) => expect(y).toBeCloseTo(1 - Math.exp(-1e4 * t!), 12))
    natural('impulse').forEach(([t, y]) => expect(y! / 1e4).toBeCloseTo(Math.exp(-1e4 * t!), 12))
  })

  test('what a circuit is', () => {
    const spec = JSON.stringify({
      response: 'bandpass',
      approximation: 'elliptic',
      order: 3,
      passband: { edges: [9e3, 14e3], ripple: 0.5 },
      stopband: { attenuation: 50 },
      realization: { family: 'lc-ladder' },
    })
    const netlist = voskel(['design', '-', '--format', 'netlist'], spec).stdout
    const found = voskel(['recognise', '-'], netlist).json()
    expect(Object.keys(found)).toEqual(['response', 'order', 'approximation', 'cutoffs', 'q', 'gainDb'])
    expect(found).toMatchObject({ response: 'bandpass', order: 3, approximation: 'elliptic' })
    // Equal resistances halve the voltage.
    expect(found.gainDb).toBeCloseTo(20 * Math.log10(0.5), 6)
    expect(Math.sqrt(found.cutoffs[0] * found.cutoffs[1])).toBeCloseTo(Math.sqrt(9e3 * 14e3), 3)
    const divider = 'd\nV1 in 0 AC 1\nR1 in out 1k\nR2 out 0 1k\n'
    expect(voskel(['recognise', '-'], divider).json()).toMatchObject({ response: null, order: 0, cutoffs: [] })
  })

  test('sensitivities of poles, of measures and to parameters', () => {
    const netlist = 'p\n.param r=1k\nV1 in 0 AC 1\nR1 in out {r}\nC1 out 0 100n\n'
    const found = voskel(['sensitivity', '-', '--frequency', '1k', '--poles', '--measures'], netlist).json()
    expect(found.parameters.r.magnitude[0]).toBeCloseTo(found.components.R1.magnitude[0], 12)
    expect(found.poles[0].components.C1.w0).toBeCloseTo(-1, 9)
    expect(found.measures.R1.cutoff1 / (1e4 / (2 * Math.PI))).toBeCloseTo(-1, 6)
  })
})

describe('drawings', () => {
  test('of a netlist, laid out: numbers by default, or a picture', () => {
    const found = voskel(['draw', '-'], RC).json()
    expect(found.parts.map((p: { id: string }) => p.id)).toEqual(['V1', 'R1', 'C1', 'GND1', 'GND2'])
    expect(found.nets.map((n: { name: string }) => n.name).sort()).toEqual(['in', 'out'])
    const r1 = found.parts.find((p: { id: string }) => p.id === 'R1')
    expect(r1).toMatchObject({ kind: 'resistor', labels: [{ text: expect.stringMatching(/^R1 1\.000\skΩ$/) }] })
    expect(r1.pins.b[0] - r1.pins.a[0]).toBe(4)
    const svg = voskel(['draw', '-', '--format', 'svg'], RC)
    expect([svg.status, svg.stdout.slice(0, 5)]).toEqual([0, '<svg '])
  })

  test('of a design as it lies', () => {
    const design = voskel(['design', '-'], spec()).stdout
    const found = voskel(['draw', '-'], design).json()
    const boxOf = (id: string) => found.parts.find((p: { id: string }) => p.id === id).box as number[]
    // From the source on its left to the load on its right, as the topology draws it.
    const xs = ['V1', 'RS', 'RL'].map((id) => boxOf(id)[0])
    expect(xs).toEqual([...xs].sort((a = 0, b = 0) => a - b))
    expect(found.wires.length).toBeGreaterThan(5)
  })

  test('what cannot be drawn is refused where it stands', () => {
    expect(voskel(['draw', '-'], 'x\nR1 a\n.end\n')).toMatchObject({ status: 2 })
    expect(voskel(['draw', '-', '--format', 'png'], RC).status).toBe(2)
  })
})

describe('nothing wrong in silence', () => {
  test('a measure that jumps close by: the slope on its own side, and it is said', () => {
    const st = 'st\nV1 in 0 AC 1\nR1 in a 1.65\nL1 a out 1\nC1 out 0 1\n'
    const found = voskel(['sensitivity', '-', '--frequency', '0.1', '--measures'], st)
    // R and C stand in 2ζ = R·√(C/L) and ω0 = 1/√(LC): scaling by time and by impedance are the second road.
    const { R1, L1, C1 } = found.json().measures
    const settling = voskel(['measure', '-'], st).json().step.settlingTime
    expect(L1.settlingTime + C1.settlingTime).toBeCloseTo(settling, 4)
    expect(R1.settlingTime + L1.settlingTime - C1.settlingTime).toBeCloseTo(0, 3)
    expect(R1.settlingTime).toBeCloseTo(-69.68, 1)
  })

  test('a gain beyond every double is given by its logarithm', () => {
    // Sixty RC sections apart from each other by followers: gain = ∏ 1/RC = (1e9)^60.
    const sections = Array.from(
      { length: 60 },
      (_, k) => `R${k} b${k} a${k} 1\nC${k} a${k} 0 1n\nE${k} b${k + 1} 0 a${k} 0 1\n`,
    )
    const found = voskel(['poles', '-', '--output', 'b60'], `g\nV1 b0 0 AC 1\n${sections.join('')}`).json()
    expect([found.gain, found.gainSign]).toEqual([null, 1])
    expect(found.gainLog10).toBeCloseTo(540, 9)
  })

  test('what has no number is an empty field', () => {
    const open = voskel(['ac', '-', '--frequencies', '1,10'], 'v\nV1 in 0 AC 0\nR1 in out 1\nR2 out 0 1\nV2 out 0 0\n')
    const zero = voskel(['ac', '-', '--frequencies', '1'], 'z\nV1 in 0 AC 1\nR1 in 0 1\nR2 out 0 1\n')
    for (const { stdout } of [open, zero]) expect(stdout).not.toMatch(/NaN|Infinity/)
    expect(zero.stdout).toMatch(/\n1,0,0,,0,/)
  })

  test('a file that cannot be written whole is left as it was', () => {
    const folder = mkdtempSync(join(tmpdir(), 'voskel-out-'))
    const out = join(folder, 'out.csv')
    writeFileSync(out, 'what was there')
    // Files may have 4 kB: the table breaks off in the middle.
    const limited = `trap '' XFSZ; ulimit -f 4; exec "$0" "$1" tran - --stop 1m --points 5000 --out "$2"`
    const failed = spawnSync('bash', ['-c', limited, process.execPath, bin, out], { input: RC, encoding: 'utf8' })
    expect(failed.stderr).toMatch(/out\.csv cannot be written: EFBIG/)
    expect(failed.status).toBe(2)
    expect(readFileSync(out, 'utf8')).toBe('what was there')
    // A disk that is always full.
    const full = voskel(['ac', '-', '--from', '1', '--to', '10', '--out', '/dev/full'], RC)
    expect(full.status).toBe(2)
    expect(full.stderr).toMatch(/\/dev\/full cannot be written: ENOSPC/)
    const done = voskel(['ac', '-', '--from', '1', '--to', '10', '--out', out], RC)
    expect([done.status, readFileSync(out, 'utf8').slice(0, 9)]).toEqual([0, 'frequency'])
    expect(readdirSync(folder)).toEqual(['out.csv'])
  })

  test('a full disk behind standard output is said', () => {
    const full = openSync('/dev/full', 'w')
    const { status, stderr } = spawnSync(process.execPath, [bin, 'ac', '-', '--from', '1', '--to', '10'], {
      input: RC,
      encoding: 'utf8',
      stdio: ['pipe', full, 'pipe'],
    })
    closeSync(full)
    expect(status).toBe(2)
    expect(stderr).toMatch(/^voskel: Standard output cannot be written: ENOSPC/)
  })
})

describe('bad input: the place, what is wrong, what would be right; never a stack trace', () => {
  test.each([
    [['ac', '-', '--from', '1', '--to', '10'], 't\nV1 in 0 1\nR1 in out 4k7\n', 2, /^-:3:11: "4k7" is not a number/],
    [['ac', '-', '--from', '10', '--to', '1'], RC, 2, /must be above --from/],
    [['ac', '-', '--from', 'x', '--to', '1'], RC, 2, /a number is expected/],
    [['ac', '-', '--to', '1'], RC, 2, /The option --from is missing/],
    [['ac', '-'], RC, 2, /The option --from is missing/],
    [['ac', '-', '--from', '1', '--to', '2', '--frequencies', '3'], RC, 2, /a grid of its own/],
    [['tran', '-'], RC, 2, /required option '--stop/],
    [['tran', '-', '--stop', '1m', '--table', 'V9=/dev/null'], RC, 2, /\/dev\/null|input is empty/],
    [['tran', '-', '--stop', '1m', '--table', 'V1'], RC, 2, /--table V1 is not understood/],
    [['ac', '-', '--from', '1', '--to', '9', '--output', 'nowhere'], RC, 2, /no net "nowhere".*in, out/],
    [['ac', '-', '--from', '1', '--to', '9', '--input', 'R1'], RC, 2, /R1 is no independent source/],
    [['ac', '-', '--from', '1', '--to', '9'], 't\nV1 in a 1\nR1 in out 1\nC1 out a 1u\n', 3, /no ground/],
    [
      ['ac', '-', '--from', '1', '--to', '9'],
      't\nV1 in 0 1\nR1 in 0 1\nC1 out x 1u\n',
      3,
      /^-:4:4: The nets "out", "x"/,
    ],
    [
      ['ac', '-', '--from', '1', '--to', '9'],
      't\nV1 out 0 1\nV2 out 0 1\nR1 out 0 1\n',
      3,
      /V1, V2 form a loop of ideal voltage sources/,
    ],
    [['tran', '-', '--stop', '1m'], 't\nV1 in 0 1\nC1 in out 1u\nC2 out 0 1u\n', 3, /v\(out\) is not determined/],
    [
      ['approximate', '-'],
      spec({ approximation: 'elliptical' }),
      2,
      /^-:1:\d+: The approximation "elliptical" is not offered.*butterworth, chebyshev/,
    ],
    [['approximate', '-'], spec({ response: 'comb' }), 2, /"comb" is not offered/],
    [['approximate', '-'], spec({ order: 21 }), 2, /at most 20/],
    [['approximate', '-'], spec({ passband: { edges: [1e3], ripple: 0 } }), 2, /ripple must be above 0/],
    [['approximate', '-'], spec({ stopband: { edges: [1000], attenuation: 40 } }), 2, /inside the passband/],
    [['approximate', '-'], '{ "response": lowpass }', 2, /^-:1:15: /],
    [['design', '-'], spec({ order: 4 }), 2, /between equal resistors.*order 3 or 5/],
    [
      ['design', '-'],
      spec({ realization: { family: 'gyrator' } }),
      2,
      /gyrator.*lc-ladder, coupled-resonators, constant-resistance, bridged-t, lattice, diplexer, rlc-section, image-sections, sallen-key/,
    ],
    [['design', '-', '--values', 'E13'], spec(), 2, /E13/],
    [['verify', '-'], '{"format":"voskel-design","version":99}', 2, /version 99; this Voskel reads up to version 3/],
    [['verify', '-'], RC, 2, /netlist says nothing/],
    [['measure', '-'], '', 2, /empty/],
    [['measure', '/nowhere.cir'], '', 2, /no such file/],
    [['measure', '-'], spec(), 2, /specification, not a circuit/],
    [['measure', '-'], 'x\u0000y', 2, /^-:1:2: This is not text/],
    [['mesure', '-'], RC, 2, /unknown command 'mesure' \(Did you mean measure\?\)/],
  ])('%j', (args, input, status, message) => {
    const run = voskel(args as string[], input as string)
    expect(run.stderr).toMatch(message as RegExp)
    expect(run.status).toBe(status)
    expect(run.stdout).toBe('')
    expect(run.stderr).not.toMatch(/^\s+at .*:\d+/m)
  })

  test('every command answers --help', () => {
    for (const command of [
      'approximate',
      'design',
      'convert',
      'ac',
      'tran',
      'op',
      'poles',
      'sensitivity',
      'noise',
      'measure',
      'verify',
    ]) {
      const run = voskel([command, '--help'])
      expect(run.status).toBe(0)
      expect(run.stdout).toContain(`Usage: voskel ${command}`)
    }
  })
})

test('an output with a comma is one column with its name in quotation marks', () => {
  const run = voskel(['tran', '-', '--stop', '1m', '--points', '2', '--output', 'v(in,out),out'], RC)
  expect(run.stdout.split('\n')[0]).toBe('time,"v(in,out)",out')
})

test('at a terminal what is computed is said each second; elsewhere nothing is', () => {
  const hold = [
    'sample and hold',
    'V1 in 0 SIN(1 0.5 1meg)',
    'V2 g 0 PULSE(0 3 0 1n 1n 40n 100n)',
    'M1 in g out 0 mm W=10u L=1u',
    'C1 out 0 1p',
    '.model mm NMOS (VTO=0.6 KP=1e-4 TOX=2e-8)',
  ].join('\n')
  const folder = mkdtempSync(join(tmpdir(), 'voskel-at-work-'))
  const file = join(folder, 'hold.cir')
  writeFileSync(file, hold)
  const command = `${process.execPath} ${bin} tran ${file} --stop 1m --points 3`
  // A terminal by `script` (util-linux), as every Debian has it.
  const terminal = spawnSync('script', ['-qec', `timeout -s INT 4 ${command}`, '/dev/null'], { encoding: 'utf8' })
  expect(terminal.stdout).toMatch(/voskel: tran at [\d.]+\s.s of 1\.00\sms, [1-4] s; Ctrl\+C stops it\./)
  const plain = spawnSync('timeout', ['-s', 'INT', '3', process.execPath, bin, 'tran', file, '--stop', '1m'], {
    encoding: 'utf8',
  })
  expect(plain.stderr).toBe('')
  rmSync(folder, { recursive: true })
})
