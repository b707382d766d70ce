import { describe, expect, test } from 'vitest'
import type { Circuit } from '../circuit.js'
import { blankCircuit } from '../edit/blankCircuit.js'
import type { GrowWay } from '../edit/growPart.js'
import { circuitEdit } from '../edit/index.js'
import type { Spot } from '../edit/spots.js'
import { overlap, symbolBox } from '../drawing/geometry.js'
import { flatten } from '../flatten.js'
import { readingsOf } from './index.js'

const at = (circuit: Circuit = blankCircuit(), tip: Spot = { junction: 'J1' }, way: GrowWay | null = null) => ({
  circuit,
  tip,
  way,
  part: null,
})
const said = (text: string, more = {}) => readingsOf(text, { ...at(), ...more }).map((r) => `${r.text}, ${r.does}`)

/** The circuit after some words, each at the place where the tip then is. */
function drawn(...words: readonly (readonly [text: string, tip: Spot, way?: GrowWay])[]): Circuit {
  return words.reduce((circuit, [text, tip, way]) => {
    const [first] = readingsOf(text, at(circuit, tip, way ?? null))
    return circuitEdit(first.call).apply(circuit)
  }, blankCircuit())
}

describe('what is said at the tip', () => {
  // The letter in the place of the decimal point: IEC 60062:2016, 3.1.
  test.each([
    ['4k7', '4.70\u00a0kΩ resistor, onwards'],
    ['4.7k', '4.70\u00a0kΩ resistor, onwards'],
    ['4k7Ω', '4.70\u00a0kΩ resistor, onwards'],
    ['100nF', '100\u00a0nF capacitor, onwards'],
    ['10uH', '10.0\u00a0µH inductor, onwards'],
    ['100n', '100\u00a0nF capacitor, onwards'],
    ['0..10k', 'potentiometer 0 … 10.0\u00a0kΩ, onwards'],
    ['2k..10k', 'potentiometer 0 … 10.0\u00a0kΩ, turned to 2.00\u00a0kΩ, onwards'],
    ['= tau/r', 'resistor of tau/r, onwards'],
    ['C = tau/r', 'capacitor of tau/r, onwards'],
    ['opamp', 'operational amplifier, onwards'],
    ['npn', 'NPN transistor, its base here, onwards'],
    ['nmos 20u/2u', 'n-channel MOS transistor 20.0\u00a0µm wide, 2.00\u00a0µm long, its gate here, onwards'],
    ['5V', '5.00\u00a0V source, constant, to ground'],
    ['1V step', '1.00\u00a0V step source, to ground'],
    ['2Vpp sine 1kHz', '1.00\u00a0V sine source, 1.00\u00a0kHz, to ground'],
    ['square 2V 50Hz', '2.00\u00a0V square source, 50.0\u00a0Hz, to ground'],
    ['10kHz', '1.00\u00a0V sine source, 10.0\u00a0kHz, to ground'],
    ['gnd', 'ground, named here'],
    ['out', 'net out, named here'],
    ['in', 'net in, joined to it by its name'],
    ['"my net"', 'net my net, named here'],
    ['to in', 'wire to in, joined'],
    ['# Front end', 'Front end, a title on the sheet'],
    ['// to be tried with 5 V', 'to be tried with 5 V, a text on the sheet'],
  ])('%s', (text, first) => {
    expect(said(text)[0]).toBe(first)
  })

  test('other readings follow', () => {
    expect(said('10k')).toEqual([
      '10.0\u00a0kΩ resistor, onwards',
      'potentiometer 0 … 10.0\u00a0kΩ, onwards',
      '1.00\u00a0V sine source, 10.0\u00a0kHz, to ground',
    ])
    expect(said('opamp')).toContain('amplifier as a follower, onwards')
    expect(said('res')[0]).toBe('resistor, onwards')
  })

  test('the way that was turned to rules', () => {
    expect(said('100nF', { way: 'ground' })[0]).toBe('100\u00a0nF capacitor, to ground')
    expect(said('5V', { way: 'supply' })[0]).toBe('5.00\u00a0V source, constant, to the supply')
  })

  test('something is done to a part that is meant', () => {
    const about = (text: string) => readingsOf(text, { ...at(), part: 'V1' })[0]?.call
    expect(about('turn')).toEqual({ edit: 'turn-parts', args: { parts: ['V1'], turn: 90 } })
    expect(about('aside')).toEqual({ edit: 'set-aside', args: { parts: ['V1'], as: 'open' } })
    expect(about('name Drive')).toEqual({ edit: 'rename-part', args: { part: 'V1', to: 'Drive' } })
  })

  test.each(['', '   ', '4,7k', '4k7 foo', '= 2*(', '..', '10..2', '1kHz 2kHz', '§', 'couple L1 L2'])(
    '"%s" says nothing, or no part',
    (text) => {
      expect(readingsOf(text, at()).filter((r) => r.grows)).toEqual([])
    },
  )

  test('a low-pass is three words', () => {
    const circuit = drawn(['4k7', { junction: 'J1' }], ['100nF', { part: 'R1', pin: 'b' }, 'ground'])
    const { nodes, elements } = flatten(circuit)
    const joints = elements.map((e) => [e.name, ...e.nodes.map((n) => (n < 0 ? '0' : nodes[n]))].join(' '))
    expect(joints).toEqual(['V1 in 0', 'R1 in out', 'C1 out 0'])
  })

  test('a title stands above everything, a text where nothing lies, both on empty paper where they are said', () => {
    const circuit = drawn(['4k7', { junction: 'J1' }], ['100nF', { part: 'R1', pin: 'b' }, 'ground'])
    const noteOf = (text: string, tip: Spot) => {
      const [{ call }] = readingsOf(text, at(circuit, tip))
      return circuitEdit(call).apply(circuit).notes![0]
    }
    const tops = circuit.parts.flatMap((p) => symbolBox(p)?.top ?? [])
    expect(noteOf('# Front end', { part: 'R1', pin: 'b' }).at.y).toBeLessThan(Math.min(...tops) - 2)
    const beside = noteOf('// to the converter', { part: 'R1', pin: 'b' })
    const box = { left: beside.at.x, right: beside.at.x + 8, top: beside.at.y, bottom: beside.at.y + 1 }
    for (const part of circuit.parts) expect(overlap(symbolBox(part)!, box)).toBe(0)
    expect(noteOf('// here', { at: { x: 30, y: -9 } }).at).toEqual({ x: 30, y: -9 })
  })

  test('the name of where the signal has come to goes on, until somebody says another', () => {
    const two = drawn(['1k', { junction: 'J1' }], ['2k', { part: 'R1', pin: 'b' }])
    expect(two.labels.find((l) => l.name === 'out')?.end).toEqual({ part: 'R2', pin: 'b' })
    const named = drawn(['1k', { junction: 'J1' }], ['out', { part: 'R1', pin: 'b' }], ['2k', { part: 'R1', pin: 'b' }])
    expect(named.labels.filter((l) => l.name === 'out').map((l) => l.end)).toEqual([{ part: 'R1', pin: 'b' }])
  })

  test('a way to the supply brings its source, once', () => {
    const circuit = drawn(
      ['1k', { junction: 'J1' }],
      ['10k', { part: 'R1', pin: 'b' }, 'supply'],
      ['22k', { part: 'R1', pin: 'b' }, 'supply'],
    )
    const { nodes, elements } = flatten(circuit)
    const supplies = elements.filter((e) => e.values.bias === 5)
    expect(supplies).toHaveLength(1)
    expect(nodes[supplies[0].nodes[0]]).toBe('supply')
    for (const id of ['R2', 'R3']) expect(nodes[elements.find((e) => e.name === id)!.nodes[1]] ?? '0').toBe('supply')
  })

  test('coils are coupled by their names', () => {
    const coils = drawn(['10mH', { junction: 'J1' }], ['10mH', { part: 'L1', pin: 'b' }, 'ground'])
    const [first] = readingsOf('couple L1 L2 0.9', at(coils))
    expect(first.text).toBe('coupling of L1 and L2, 0.9')
    const coupled = circuitEdit(first.call).apply(coils)
    expect(flatten(coupled).elements.find((e) => e.kind.id === 'coupling')?.values.coupling).toBe(0.9)
  })
})
