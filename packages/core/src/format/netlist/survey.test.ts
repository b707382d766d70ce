import { describe, expect, test } from 'vitest'
import { checkCircuit } from '../../circuit/checks/index.js'
import { surveyNetlist } from './readNetlist.js'

const placesOf = (text: string) =>
  surveyNetlist(text).problems.map(({ message, place }) => [place.line, place.column, message])
const partsOf = (text: string) => surveyNetlist(text).circuit.parts.map((p) => p.id)

describe('a netlist with errors is read as far as it reads', () => {
  const text = [
    'Errors',
    'V1 in 0 AC 1',
    'R1 in out',
    'Y1 a b 3',
    'C1 out 0 10n',
    '.probe v(out)',
    'R2 out 0 1,5k',
    'X1 in out missing',
    'Q1 c b 0 nosuch',
    'R3 out 0 1k',
    '.end',
  ].join('\n')

  test('each error at its line and column, the rest kept', () => {
    expect(partsOf(text)).toEqual(['V1', 'C1', 'R3'])
    const lines = placesOf(text).map(([line]) => line)
    expect(lines).toEqual([3, 4, 6, 7, 8, 9])
    expect(placesOf(text)[1]).toEqual([4, 1, expect.stringContaining('"Y1" begins with "Y"')])
    // No name of a net stays behind of what was left out.
    const nets = new Set(surveyNetlist(text).circuit.labels.map((l) => l.name))
    expect([...nets].sort()).toEqual(['0', 'in', 'out'])
  })

  test('a netlist without errors has none', () => {
    const { problems, circuit } = surveyNetlist('x\nV1 in 0 AC 1\nR1 in 0 1k\n.end\n')
    expect(problems).toEqual([])
    expect(circuit.parts).toHaveLength(2)
  })

  test('what is no text at all is one error, and no circuit', () => {
    expect(placesOf('\u0000\u0001PNG')).toEqual([[1, 1, expect.stringContaining('not text')]])
    expect(partsOf('\u0000\u0001PNG')).toEqual([])
    expect(partsOf('Dear all, the meeting is at nine.')).toEqual([])
  })

  test('subcircuits that are not closed, closed twice, or inside each other', () => {
    expect(placesOf('x\n.subckt a p\nR1 p 0 1k\n').map(([line]) => line)).toEqual([2])
    expect(placesOf('x\n.ends\nR1 a 0 1k\n').map(([line]) => line)).toEqual([2])
    expect(placesOf('x\n.subckt a p\n.subckt b q\nR1 p 0 1k\n.ends\n').map(([line]) => line)).toEqual([3])
  })

  test('files that it refers to are asked for by name', () => {
    const { files, problems } = surveyNetlist('x\n.include "diodes of the shop.lib"\n.lib parts.lib typ\nR1 a 0 1k\n')
    expect(files).toEqual([
      { name: 'diodes of the shop.lib', line: 2, column: 1 },
      { name: 'parts.lib typ', line: 3, column: 1 },
    ])
    expect(problems).toHaveLength(2)
  })
})

describe('models of elsewhere', () => {
  // Invented values under the names that published descriptions of the bipolar transistor's model use.
  const bipolar =
    'x\nQ1 c b 0 q\n.model q NPN(IS=2e-15 BF=200 XTF=3 VTF=5 ITF=0.1 RBM=10 MFG=someone ICRATING=100m VCEO=40)\nV1 c 0 5\nR1 c b 1Meg\n'

  test('keep the values that are known, and say which of the others matter', () => {
    const { circuit, problems } = surveyNetlist(bipolar)
    expect(circuit.models!.q).toEqual({
      kind: 'npn',
      values: { is: 2e-15, bf: 200 },
      leftOut: ['xtf', 'vtf', 'itf', 'rbm'],
    })
    expect(circuit.parts.map((p) => p.id)).toContain('Q1')
    expect(problems).toHaveLength(1)
    expect(problems[0].message).toContain('7 values that are not offered')
    for (const name of ['XTF', 'VTF', 'ITF', 'RBM']) expect(problems[0].remedy).toContain(name)
    expect(problems[0].remedy).not.toContain('MFG')
    expect(problems[0].remedy).toContain('3 others')
  })

  test('a hundred unknown parameters are one error of readable length', () => {
    const many = Array.from({ length: 100 }, (_, k) => `Z${k}=1`).join(' ')
    const { problems } = surveyNetlist(`x\n.model d D(IS=1e-14 ${many} IKF=1)\nD1 a 0 d\nV1 a 0 1\n`)
    expect(problems).toHaveLength(1)
    expect(problems[0].remedy).toContain('IKF')
    expect(problems[0].remedy.length).toBeLessThan(300)
  })

  test('one value that is not offered takes no other with it, and the parts stay', () => {
    const { circuit, problems } = surveyNetlist('x\nM1 d g 0 0 m\n.model m NMOS(LEVEL=3 VTO=0.7)\nV1 d 0 1\nV2 g 0 1\n')
    expect(circuit.models!.m).toEqual({ kind: 'nmos', values: { vto: 0.7 }, leftOut: ['level'] })
    expect(problems.map((p) => p.message)).toEqual([expect.stringContaining('level 3 is not offered')])
    expect(checkCircuit(circuit)).toMatchObject([{ check: 'left-out', severity: 'warning', parts: ['M1'] }])
  })

  test('elements of a block that are not offered are named, and whatever uses it is marked', () => {
    const text = [
      'x',
      '.subckt inner a b',
      'R1 a b 1k',
      'Z1 a b what',
      '.ends',
      '.subckt outer a b',
      'X1 a b inner',
      '.ends',
      'X1 in 0 outer',
      'X2 in 0 inner',
      'R1 in 0 1k',
      'V1 in 0 1',
    ].join('\n')
    const { circuit } = surveyNetlist(text)
    expect(circuit.subcircuits!.inner.leftOut).toEqual(['Z1'])
    const found = checkCircuit(circuit)
    expect(found.map((f) => [f.severity, f.parts])).toEqual([
      ['error', ['X1']],
      ['error', ['X2']],
    ])
    for (const { message } of found) expect(message).toContain('Z1')
    // A part of that name in its place, and nothing is missing any more.
    const { inner, outer } = circuit.subcircuits!
    const mended = { ...inner, parts: [...inner.parts, { ...inner.parts[0], id: 'z1' }] }
    expect(checkCircuit({ ...circuit, subcircuits: { inner: mended, outer } }).map((f) => f.check)).not.toContain(
      'left-out',
    )
  })

  test('of a type that is not offered: refused for that model, and at each of its parts', () => {
    const text = 'x\nJ1 d g 0 j\n.model j NJF(VTO=-2)\nR1 d 0 1k\nV1 d 0 1\n'
    expect(placesOf(text).map(([line]) => line)).toEqual([2, 3])
    expect(partsOf(text)).toEqual(['R1', 'V1'])
  })
})
