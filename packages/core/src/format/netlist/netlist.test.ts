import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { VoskelError } from '../../errors/VoskelError.js'
import { formulate } from '../../analysis/mna.js'
import { flatten } from '../../circuit/flatten.js'
import { netlistNumber, writeNumber, writeScaled } from './number.js'
import { readNetlist } from './readNetlist.js'
import { writeNetlist } from './writeNetlist.js'

describe('numbers (common practice, no source)', () => {
  test.each([
    ['1k', 1e3],
    ['1M', 1e-3],
    ['1MEG', 1e6],
    ['1meg', 1e6],
    ['2.2uF', 2.2e-6],
    ['10nH', 10e-9],
    ['100', 100],
    ['1e-9', 1e-9],
    ['1.5e3k', 1.5e6],
    ['10ohm', 10],
    ['1F', 1e-15],
    ['-3', -3],
    ['5V', 5],
  ])('%s', (text, value) => expect(netlistNumber(text)).toBe(value))

  test.each(['4k7', 'abc', '', '1..2', '--1'])('%s is no number', (text) => expect(netlistNumber(text)).toBeUndefined())

  test('what is written reads back to the same double', () => {
    fc.assert(
      fc.property(fc.double({ noNaN: true, noDefaultInfinity: true }), (value) => {
        expect(netlistNumber(writeNumber(value))).toBe(value)
        expect(netlistNumber(writeScaled(value))).toBe(value)
      }),
    )
  })
})

describe('reading', () => {
  test('continuations, comments, case and sources', () => {
    const { circuit, analyses } = readNetlist(
      [
        'a title',
        '* comment',
        'v1 IN 0 DC 1',
        '+ AC 2 90 pulse(0 1 1m)',
        'r1 in Out 1K ; note',
        'C1 out 0 1U',
        '.tran 1u 1m',
        '.end',
      ].join('\n'),
    )
    expect(circuit.title).toBe('a title')
    expect(circuit.parts[0]).toEqual({
      id: 'v1',
      kind: 'voltage-source',
      values: { bias: 1, acMagnitude: 2, acPhase: 90 },
      waveform: { kind: 'pulse', low: 0, high: 1, delay: 1e-3, rise: 0, fall: 0 },
    })
    expect(analyses).toEqual([{ analysis: 'tran', words: ['1u', '1m'] }])
    expect(flatten(circuit).nodes).toEqual(['in', 'out'])
  })

  test('subcircuits are flattened with their names in front', () => {
    const { circuit } = readNetlist(
      't\nX1 a b half\nX2 b 0 half\nV1 a 0 1\n.subckt half p q\nR1 p m 1k\nR2 m q 1k\n.ends\n',
    )
    const flat = flatten(circuit)
    expect(flat.elements.map((e) => e.name)).toEqual(['X1.R1', 'X1.R2', 'X2.R1', 'X2.R2', 'V1'])
    expect(flat.nodes).toEqual(['a', 'b', 'X1.m', 'X2.m'])
  })

  test('a subcircuit of one E source to ground is an operational amplifier', () => {
    const { circuit } = readNetlist('t\nXU1 in out out amp\nV1 in 0 1\n.subckt amp p n o\nE1 o 0 p n 1e5\n.ends\n')
    expect(circuit.parts[0]).toEqual({ id: 'U1', kind: 'opamp', values: { gain: 1e5 } })
    expect(circuit.subcircuits).toBeUndefined()
  })

  test.each([
    ['t\nR1 a b\n', 2, 6, 'lacks the resistance'],
    ['t\nR1 a b 4k7\n', 2, 8, 'not a number'],
    ['t\nY1 a b 1\n', 2, 1, 'no element that is read'],
    ['t\nR1 a b 1 extra\n', 2, 10, 'not expected here'],
    ['t\n+ R1 a b 1\n', 2, 1, 'not there'],
    ['t\n\nV1 a 0 PULSE(0 x)\n', 3, 16, 'inside PULSE'],
    ['t\nV1 a 0 SIN(0 1)\n', 2, 8, 'frequency'],
    ['t\nV1 a 0 PWL(0 0 1)\n', 2, 8, 'pairs'],
    ['t\n.option x\n', 2, 1, 'is not read'],
    ['t\n.model d zener (is=1)\n', 2, 10, 'no type of model'],
    ['t\n.model d d (beta=1)\n', 2, 13, 'has no "beta"'],
    ['t\nD1 a 0 dx\n', 2, 8, '"dx" is none'],
    ['t\nR1 a 0 {2*}\n', 2, 8, 'cannot be used'],
    ['t\nR1 a b 1\nr1 a b 2\n', 3, 1, 'already in line 2'],
    ['t\nX1 a b nowhere\n', 2, 8, 'not defined'],
    ['t\n.subckt s a\nR1 a 0 1\n', 2, 1, 'not closed'],
    ['t\nX1 a b s\n.subckt s a\nR1 a 0 1\n.ends', 2, 8, 'brings 2 nodes'],
    ['t\nR1 a b \u0000\u0001\n', 2, 8, 'control character'],
    ['t\nR1 a (b 1\n', 2, 6, 'needs 2 nodes'],
    ['t\nV1 a 0 DC 1,5\n', 2, 13, 'not part of a source'],
    ['t\nV1 a 0 AC 1,5\n', 2, 13, 'he decimal sign is a point'],
    ['t\nV1 a 0 SIN(0 1,5 1k)\n', 2, 8, 'between commas here and blanks there'],
    ['t\nV1 a 0 1 2 3\n', 2, 10, 'not part of a source'],
    ['t\nV1 a 0 DC 1 DC 2\n', 2, 16, 'DC value is given already'],
    ['t\nV1 a 0 SIN(0 1 1) PULSE(0 1)\n', 2, 28, 'waveform is given already'],
    ['t\nV1 a 0 PULSE(0 1 0 0 0 1 2 3)\n', 2, 8, 'at most 7 values'],
    ['t\n.param a=1\n.param A=2\n', 3, 8, 'given twice'],
    ['t\nX1 a 0 constructor\n', 2, 8, 'not defined'],
    ['t\nD1 a 0 constructor\n', 2, 8, '"constructor" is none'],
    ['t\n.model __proto__ D\n', 2, 8, 'cannot be a name'],
  ])('%j is refused at %i:%i', (text, line, column, message) => {
    const read = () => readNetlist(text)
    expect(read).toThrow(message)
    expect(read).toThrow(expect.objectContaining({ place: { line, column } }))
  })

  test('a long or unseen piece of the text is not repeated whole', () => {
    const read = (text: string) => () => readNetlist(text)
    expect(read(`t\nR1 a 0 ${'x'.repeat(5000)}\n`)).toThrow(/^"x{79}…" is not a number/)
    expect(read('t\nR1 a 0 12\u202e3\n')).toThrow('"12\\u{202e}3" is not a number')
  })

  test('what stands after .end and an element in the title line are said, not swallowed', () => {
    expect(readNetlist('R1 a 0 1k\nR2 a 0 1k\n.end\nR3 a 0 1\n').warnings).toHaveLength(2)
  })
})

describe('flattening refuses', () => {
  test.each([
    ['R1 a 0 0', 'resistance of R1 is 0'],
    ['X1 a s\nR1 a 0 1\n.subckt s a\nX2 a s\n.ends', 'uses itself'],
  ])('%s', (lines, message) => expect(() => flatten(readNetlist(`t\n${lines}\n`).circuit)).toThrow(message))

  test('a circuit without ground', () => {
    const { circuit } = readNetlist('t\nR1 a b 1\n')
    expect(() => flatten(circuit)).toThrow(expect.objectContaining({ code: 'NO_GROUND', kind: 'analysis' }))
  })

  test('negative values only warn', () => {
    expect(flatten(readNetlist('t\nR1 a 0 -5\n').circuit).warnings).toEqual(['The resistance of R1 is negative.'])
  })
})

describe('round trip', () => {
  const node = fc.constantFrom('0', 'a', 'b', 'c', 'out')
  const value = fc.double({ min: 1e-15, max: 1e12, noNaN: true })
  const line = fc.oneof(
    fc.tuple(fc.constantFrom('R', 'L', 'C'), node, node, value).map(([l, a, b, v]) => [l, `${a} ${b} ${v}`]),
    fc
      .tuple(fc.constantFrom('V', 'I'), node, node, value, value, value)
      .map(([l, a, b, v, m, t]) => [l, `${a} ${b} DC ${v} AC ${m} PULSE(0 ${v} ${t})`]),
    fc.tuple(node, node, node, value).map(([a, b, c, v]) => ['E', `${a} 0 ${b} ${c} ${v}`]),
    fc.tuple(node, node, node).map(([a, b, c]) => ['XU', `${a} ${b} ${c} amp`]),
    fc.tuple(node, node).map(([a, b]) => ['X', `${a} ${b} pair`]),
  )
  test('an export reads back to the same circuit', () => {
    fc.assert(
      fc.property(fc.array(line, { minLength: 1, maxLength: 30 }), (lines) => {
        const body = lines.map(([letter, rest], k) => `${letter}${k} ${rest}`).join('\n')
        const text = `random\n${body}\n.subckt amp p n o\nE1 o 0 p n 1e8\n.ends\n.subckt pair p q\nR1 p m 10\nC1 m q 1n\n.ends\n.end\n`
        const first = readNetlist(text).circuit
        const again = readNetlist(writeNetlist(first).text).circuit
        expect(again).toEqual(first)
      }),
    )
  })

  test('the error of a refused netlist is a VoskelError', () => {
    expect(() => readNetlist('t\n?')).toThrow(VoskelError)
  })
})

describe('everything that a netlist can say is written back', () => {
  const ALL = [
    'all of it',
    '.param r=1000 k={2*r}',
    'V1 in 0 DC 1 AC 2 45 SIN(0 1 1000 0 0 90)',
    'I1 0 a DC 0.001 PULSE(0 0.001 0.00001 0 0 0.0001 0.001)',
    'R1 in a {k/2 + 1}',
    'C1 a 0 1e-9',
    'L1 a b 0.001',
    'L2 c 0 0.002',
    'K1 L1 L2 0.7',
    'E1 d 0 a b 3',
    'G1 d 0 a 0 0.002',
    'F1 d 0 V1 2',
    'H1 e 0 V1 50',
    'D1 a 0 dx 2',
    'Q1 c b e 0 qn',
    'Q2 c b e sub qp',
    'M1 d c 0 0 mn W=0.00001 L=0.000002',
    'X1 a c pad',
    'R9 sub 0 1',
    '.model dx D (IS=1e-15 N=1.1 CJO=2e-12)',
    '.model qn NPN (BF=150)',
    '.model qp PNP (VAF=40)',
    '.model mn NMOS (VTO=0.6 KP=0.0001)',
    '.subckt pad p q',
    '.param u=10',
    'R1 p q {u*k}',
    'R2 q 0 5',
    '.ends',
    '.ic v(a)=0.5',
    '.tran 1u 1m',
    '.end',
    '',
  ].join('\n')

  test('reading, writing and reading again gives the same circuit', () => {
    const first = readNetlist(ALL)
    const again = readNetlist(writeNetlist(first.circuit, first.analyses).text)
    const parts = (c: typeof first.circuit) => [...c.parts].sort((a, b) => (a.id < b.id ? -1 : 1))
    expect(parts(again.circuit)).toEqual(parts(first.circuit))
    expect(again.circuit.models).toEqual(first.circuit.models)
    expect(again.circuit.parameters).toEqual(first.circuit.parameters)
    expect(again.circuit.subcircuits).toEqual(first.circuit.subcircuits)
    expect(again.circuit.initial).toEqual(first.circuit.initial)
    expect(again.analyses).toEqual(first.analyses)
    const nets = (c: typeof first.circuit) => flatten(c).elements.map((e) => [e.name, e.nodes.length, e.values])
    expect(nets(again.circuit)).toEqual(nets(first.circuit))
  })

  test('values come from the part, then its model, then the kind; expressions rule over numbers', () => {
    const elements = Object.fromEntries(flatten(readNetlist(ALL).circuit).elements.map((e) => [e.name, e]))
    expect(elements.R1.values.resistance).toBe(1001)
    expect(elements['X1.R1'].values.resistance).toBe(20000)
    expect(elements.D1.values).toMatchObject({ is: 1e-15, n: 1.1, area: 2, vj: 1 })
    expect(elements.Q1.kind.id).toBe('npn')
    expect(elements.Q2.kind.id).toBe('pnp')
    expect(elements.M1.values).toMatchObject({ w: 1e-5, l: 2e-6, vto: 0.6, lambda: 0 })
  })

  test.each([
    ['t\nK1 L1 L2 0.5\nL1 a 0 1\n', 'refers to "L2"'],
    ['t\nK1 L1 L2 1.5\nL1 a 0 1\nL2 a 0 1\n', 'above 1'],
    ['t\nF1 a 0 R1 2\nR1 a 0 1\nV1 a 0 1\n', 'R1, which is not'],
    ['t\nM1 a a 0 0 m\n.model m nmos (level=3)\n', 'level 3 is not offered'],
    ['t\nR1 a 0 1\n.param a=1 a2\n', 'name=value'],
    ['t\nR1 a 0 1\n.param sin=1\n', 'stands for something else'],
    ['t\nR1 a 0 1\n.ic a=1\n', 'v(node)=value'],
  ])('%j is refused', (text, message) => {
    expect(() => formulate(readNetlist(text).circuit)).toThrow(message)
  })
})

describe('a unit behind a number where a parameter bears its name', () => {
  const read = (value: string, parameters = 'a=3 k=5') => readNetlist(`t\n.param ${parameters}\nR1 in out {${value}}\n`)

  test.each(['2a', '1+2A', '3.5a*2'])('{%s} is refused where it stands', (value) => {
    expect(() => read(value)).toThrow(
      expect.objectContaining({
        code: 'NETLIST_SYNTAX',
        place: { line: 3, column: 11 },
        remedy: expect.stringContaining('*a'),
      }),
    )
  })

  test.each([
    ['2*a', 'a=3'],
    ['2a', 'b=3'],
    ['2k', 'k=5'],
    ['2ka', 'a=3'],
  ])('{%s} with %s is read', (value, parameters) => {
    expect(() => read(value, parameters)).not.toThrow()
  })
})
