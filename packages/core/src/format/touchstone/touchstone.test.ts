import { describe, expect, test } from 'vitest'
import { formulate } from '../../analysis/mna.js'
import { scattering } from '../../analysis/scattering.js'
import { logarithmicGrid } from '../../analysis/sweeps.js'
import { refusalOf } from '../../testing/refusals.js'
import { readNetlist } from '../netlist/readNetlist.js'
import { readTouchstone } from './readTouchstone.js'
import { writeTouchstone } from './writeTouchstone.js'

// Written after the rules of the Touchstone File Format Specification, 1.1 and 2.0: option line, orders, formats, keywords.
describe('reads', () => {
  test('a one-port with defaults: GHz, S, magnitude and angle, 50 Ω', () => {
    const { ports, parameter, references, frequency, entries } = readTouchstone(
      '! made by hand\n#\n1 0.5 90 ! a quarter\n2.5 1 180\n',
    )
    expect([ports, parameter, references]).toEqual([1, 'S', [50]])
    expect([...frequency]).toEqual([1e9, 2.5e9])
    expect(entries['11'].re[0]).toBeCloseTo(0, 15)
    expect(entries['11'].im[0]).toBeCloseTo(0.5, 15)
    expect(entries['11'].re[1]).toBeCloseTo(-1, 15)
  })

  test('a two-port of version 1, whose S21 stands before S12, in dB; options in any order and case', () => {
    const { entries, frequency } = readTouchstone('# r 75 db s mhz\n10 -20 0 -6.0205999132796239 90 -40 0 0 0\n', 2)
    expect(frequency[0]).toBe(10e6)
    expect(entries['11'].re[0]).toBeCloseTo(0.1, 15)
    expect(entries['21'].im[0]).toBeCloseTo(0.5, 15)
    expect(entries['12'].re[0]).toBeCloseTo(0.01, 15)
    expect(entries['22'].re[0]).toBe(1)
  })

  test('impedances of version 1 over their reference, of version 2 as they are', () => {
    expect(readTouchstone('# MHz Z RI R 75\n1 2 -1\n').entries['11'].re[0]).toBe(150)
    const two =
      '[Version] 2.0\n# MHz Z RI R 75\n[Number of Ports] 1\n[Number of Frequencies] 1\n[Network Data]\n1 150 -75\n[End]\n'
    expect(readTouchstone(two).entries['11'].re[0]).toBe(150)
    const h = readTouchstone('# Hz H RI R 50\n1 2 0 3 0 4 0 5 0\n')
    expect(['11', '21', '12', '22'].map((e) => h.entries[e].re[0])).toEqual([100, 3, 4, 0.1])
  })

  test('version 2 with a reference a port on a line of its own, the other order, information and noise', () => {
    const text = [
      '! two references', '[Version] 2.0', '# kHz S RI R 50', '[Number of Ports] 2', '[Two-Port Data Order] 12_21',
      '[Number of Frequencies] 2', '[Number of Noise Frequencies] 1', '[Reference]', '50 75',
      '[Begin Information]', 'anything [at] all', '[End Information]', '[Network Data]',
      '1 .1 0 .2 0 .3 0 .4 0', '2 .5 0 .6 0 .7 0 .8 0', '[Noise Data]', '1 2 3 4 5', '[End]',
    ].join('\r\n') // prettier-ignore
    const { references, entries, notes, frequency } = readTouchstone(text)
    expect(references).toEqual([50, 75])
    expect([...frequency]).toEqual([1e3, 2e3])
    expect([...entries['12'].re, ...entries['21'].re]).toEqual([0.2, 0.6, 0.3, 0.7])
    expect(notes).toEqual(['1 lines of noise parameters are not read.'])
  })

  test('noise parameters of version 1, which begin where the frequency no longer rises', () => {
    const { frequency, notes } = readTouchstone(
      '# MHz\n1 1 0 1 0 1 0 1 0\n2 1 0 1 0 1 0 1 0\n1 0.7 0.6 60 0.4\n2 0.7 0.6 60 0.4\n',
      2,
    )
    expect(frequency.length).toBe(2)
    expect(notes).toEqual(['2 lines of noise parameters are not read.'])
  })

  test.each([50, 75])('what is written of a ladder between 50 Ω and %i Ω, to the last digit', (load) => {
    const mna = formulate(
      readNetlist(`t\nV1 in 0 AC 1\nRS in a 50\nC1 a 0 1n\nL1 a out 3u\nRL out 0 ${load}\n`).circuit,
    )
    const grid = logarithmicGrid(1e4, 1e8, 3)
    const found = scattering(mna, ['RS', 'RL'], grid)
    const { references, frequency, entries } = readTouchstone(writeTouchstone(grid, found))
    expect(references).toEqual([50, load])
    expect(frequency).toEqual(grid)
    found.points.forEach((p, k) => {
      const read = (e: string) => ({ re: entries[e].re[k], im: entries[e].im[k] })
      expect([read('11'), read('21'), read('12'), read('22')]).toEqual([p.s11, p.s21, p.s12, p.s22])
    })
  })
})

describe('refuses, with the line', () => {
  test.each([
    ['too few numbers', '# MHz\n1 1 0 1 0 1 0 1 0\n2 1 0 1 0\n', 2, 'row 3: it has 5 numbers. A two-port has 9 a line'],
    ['too many', '# MHz\n1 1 0 7\n', 1, 'row 2: it has 4 numbers. A one-port has 3 a line'],
    [
      'neither',
      '# MHz\n1 1 0 7\n',
      undefined,
      'it has 4 numbers. A one-port has 3 a line (frequency and one pair), a two-port 9',
    ],
    ['a word', '# MHz\n1 one 0\n', undefined, 'row 2: "one" is not a number'],
    [
      'frequencies that fall',
      '# MHz\n2 1 0\n1 1 0\n',
      undefined,
      'row 3: the frequency 1 does not lie above 2 of line 2',
    ],
    ['a frequency twice', '# MHz\n2 1 0\n2 1 0\n', undefined, 'does not lie above'],
    ['a negative frequency', '# MHz\n-2 1 0\n', undefined, 'is negative'],
    ['an option that is none', '# MHz S XY R 50\n1 1 0\n', undefined, 'row 1: "XY" is none of'],
    ['no reference', '# MHz S MA R\n1 1 0\n', undefined, 'is no resistance'],
    ['no option line', '1 1 0\n', undefined, 'stand before the option line'],
    ['no data', '# MHz\n', undefined, 'holds no data'],
    ['three ports', '[Version] 2.0\n# MHz\n[Number of Ports] 3\n', undefined, 'it has 3 ports'],
    [
      'half a matrix',
      '[Version] 2.0\n# MHz\n[Number of Ports] 2\n[Matrix Format] Lower\n',
      undefined,
      'Write the whole matrix',
    ],
    [
      'mixed modes',
      '[Version] 2.0\n# MHz\n[Number of Ports] 2\n[Mixed-Mode Order] D1,2 C1,2\n',
      undefined,
      'single-ended',
    ],
    ['a keyword that is none', '[Version] 2.0\n# MHz\n[Colour] red\n', undefined, 'no keyword'],
  ] as const)('%s', (_, text, ports, said) => {
    expect(refusalOf(() => readTouchstone(text, ports))).toContain(said)
  })
})
