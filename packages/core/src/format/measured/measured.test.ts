import { describe, expect, test } from 'vitest'
import type { ComplexSamples, CourseSamples, LevelSamples } from '../../fit/Samples.js'
import { refusalOf } from '../../testing/refusals.js'
import { guessColumns } from './columns.js'
import { decodeText } from './decodeText.js'
import { layoutOf } from './layout.js'
import { readMeasured } from './readMeasured.js'

const read = (text: string, leaveOut = false) => {
  const layout = layoutOf(text)
  return readMeasured(text, { layout, columns: guessColumns(layout), leaveOut })
}
const levelsOf = (text: string) => read(text).curves[0].samples as LevelSamples
const meanings = (text: string) => guessColumns(layoutOf(text)).map(({ meaning, unit }) => `${meaning} ${unit}`.trim())
describe('how a table is written', () => {
  // Invented rows of one measurement, written in the ways that instruments and spreadsheets do (common practice, no source).
  const rows = [
    [1000, -3.0103, -45],
    [2000, -6.9897, -63.4349],
    [4000, -12.3045, -75.9638],
  ]
  const written = (delimiter: string, decimal: string, head: string[] = []) =>
    [...head, ...rows.map((r) => r.map((v) => String(v).replace('.', decimal)).join(delimiter)), ''].join('\n')

  test.each([
    ['commas', ',', '.'],
    ['semicolons', ';', '.'],
    ['semicolons and decimal commas', ';', ','],
    ['tabs', '\t', '.'],
    ['tabs and decimal commas', '\t', ','],
    ['bars', '|', '.'],
    ['blanks', '   ', '.'],
    ['blanks and decimal commas', ' ', ','],
  ])('%s', (_, delimiter, decimal) => {
    const { x, db, phase } = levelsOf(written(delimiter, decimal))
    expect([...x]).toEqual(rows.map(([f]) => f))
    expect([...db!]).toEqual(rows.map(([, v]) => v))
    expect([...phase!]).toEqual(rows.map(([, , v]) => v))
  })

  test('quoted numbers with decimal commas between commas', () => {
    const text = 'frequency,magnitude_db\n"1000","-3,01"\n"2000","-6,99"\n"4000","-12,3"\n'
    expect([...levelsOf(text).db!]).toEqual([-3.01, -6.99, -12.3])
  })

  test('points between thousands, where the decimal mark is a comma', () => {
    expect([...levelsOf('f [Hz];dB\n1.000,5;-1,5\n2.000,5;-2,5\n1.000.000,5;-3,5\n').x]).toEqual([
      1000.5, 2000.5, 1000000.5,
    ])
  })

  test('lines of words above, a line of names and a line of units', () => {
    const text = ['Recorder R2', 'Points,3', '', 'Time,A,B', '(ms),(V),(mV)', '0,1,2', '0.5,2,4', '1,3,6', ''].join(
      '\r\n',
    )
    const { curves } = read(text)
    expect(curves.map(({ name, unit }) => [name, unit])).toEqual([
      ['A (V)', 'V'],
      ['B (mV)', 'V'],
    ])
    const second = curves[1].samples as CourseSamples
    expect([...second.x]).toEqual([0, 0.5e-3, 1e-3])
    second.value.forEach((v, k) => expect(v).toBeCloseTo([2e-3, 4e-3, 6e-3][k], 15))
  })

  test('remarks above, a byte-order mark, a delimiter at each line’s end, and no last line feed', () => {
    expect([...levelsOf('\ufeff# kHz, gain\n# f (kHz), gain (dB)\n1,-3,\n2,-7,\n4,-12,').x]).toEqual([1e3, 2e3, 4e3])
  })

  test.each([
    ['UTF-8', new TextEncoder().encode('f (kHz);|H| (dB);φ (°)\n1;-3;-45\n')],
    ['UTF-8 with its mark', new TextEncoder().encode('\ufefff (kHz);|H| (dB);φ (°)\n1;-3;-45\n')],
    [
      'UTF-16',
      Uint8Array.from(
        [...'\ufefff (kHz);|H| (dB);φ (°)\n1;-3;-45\n'].flatMap((c) => [c.charCodeAt(0) & 255, c.charCodeAt(0) >> 8]),
      ),
    ],
    [
      'UTF-16 without its mark',
      Uint8Array.from(
        [...'f (kHz);|H| (dB);phase (°)\n1;-3;-45\n'].flatMap((c) => [c.charCodeAt(0) >> 8, c.charCodeAt(0) & 255]),
      ),
    ],
    ['Windows-1252', Uint8Array.from([...'f (kHz);|H| (dB);phase (°)\n1;-3;-45\n'].map((c) => c.charCodeAt(0)))],
  ] as const)('%s', (name, bytes) => {
    const { text, encoding } = decodeText(bytes)
    expect(name.startsWith(encoding)).toBe(true)
    const { x, db, phase } = levelsOf(text)
    expect([x[0], db![0], phase![0]]).toEqual([1e3, -3, -45])
  })
})

describe('how somebody says that it is written', () => {
  test('goes before what is found, and is refused where it makes no numbers', () => {
    const text = '1;2,5\n2;3,5\n3;4,5\n'
    expect(layoutOf(text)).toMatchObject({ delimiter: ';', decimal: ',' })
    expect(layoutOf('1 2\n2 3\n3 4\n', { decimal: ',' }).decimal).toBe(',')
    expect(refusalOf(() => layoutOf(text, { delimiter: '\t' }))).toContain('no two columns of numbers')
    expect(refusalOf(() => layoutOf(text, { delimiter: ',', decimal: ',' }))).toContain('no two columns of numbers')
  })
})

describe('what columns are taken for', () => {
  test.each([
    [
      'frequency,re,im,magnitude_db,phase_deg,group_delay_s\n1,2,3,4,5,6\n',
      ['frequency Hz', 're 1', 'im 1', 'none', 'none', 'none'],
    ],
    ['frequency,magnitude_db\n1,-2\n', ['frequency Hz', 'magnitude dB']],
    ['phase_deg,frequency,magnitude_db\n1,2,3\n', ['phase °', 'frequency Hz', 'magnitude dB']],
    ['f/kHz;Gain/dB;arg/rad\n1;2;3\n', ['frequency kHz', 'magnitude dB', 'phase rad']],
    ['Freq. (MHz),|Z| (kΩ),θ (deg)\n1,2,3\n', ['frequency MHz', 'magnitude kΩ', 'phase °']],
    ['omega (rad/s),Re,Im\n1,2,3\n', ['frequency rad/s', 're 1', 'im 1']],
    ['Frequency,Attenuation (dB)\n1,3\n2,6\n', ['frequency Hz', 'magnitude dB of loss']],
    ['time,out\n0,1\n', ['time s', 'value V']],
    ['t in µs\tCH1 in V\tCH2 in mV\n0\t1\t2\n', ['time µs', 'value V', 'value mV']],
    ['Time (s),I(L1) (mA)\n0,1\n', ['time s', 'value mA']],
    ['100,-1\n1000,-3\n10000,-20\n', ['frequency Hz', 'magnitude dB']],
    ['100,1\n1000,0.7\n10000,0.1\n', ['frequency Hz', 'magnitude 1']],
    ['100,-1,-20\n1000,-3,-45\n10000,-20,-84\n', ['frequency Hz', 'magnitude dB', 'phase °']],
    ['0,0\n0.001,0.5\n0.002,0.7\n', ['time s', 'value V']],
    ['-0.001,0\n0,0.5\n0.001,0.7\n', ['time s', 'value V']],
  ])('%j', (text, expected) => {
    expect(meanings(text)).toEqual(expected)
  })
})

describe('the curves of a table', () => {
  test('a factor, per cent and a loss are levels', () => {
    expect(levelsOf('f,gain (%)\n1,10\n2,100\n').db![0]).toBeCloseTo(-20, 12)
    expect(levelsOf('f,gain\n1,0.5\n2,2\n').db![1]).toBeCloseTo(20 * Math.log10(2), 12)
    expect([...levelsOf('f,loss (dB)\n1,0\n2,6\n').db!]).toEqual([-0, -6])
    const z = read('f,|Z| (kohm)\n1,2\n2,4\n').curves[0]
    expect(z.unit).toBe('Ω')
    expect((z.samples as LevelSamples).db![0]).toBeCloseTo(20 * Math.log10(2000), 12)
  })

  test('a complex response; a phase before its magnitude; several of each', () => {
    const { re, im } = read('f,re,im\n1,0.5,-0.5\n2,0.2,-0.4\n').curves[0].samples as ComplexSamples
    expect([...re, ...im]).toEqual([0.5, 0.2, -0.5, -0.4])
    expect([...levelsOf('phase (rad),f,dB\n3.141592653589793,1,-1\n1,2,-2\n').phase!]).toEqual([180, 180 / Math.PI])
    const two = read('f,A dB,A phase,B dB,B phase\n1,-1,-10,-2,-20\n2,-3,-30,-4,-40\n').curves
    expect(two.map((c) => [...(c.samples as LevelSamples).phase!])).toEqual([
      [-10, -30],
      [-20, -40],
    ])
  })

  test('rows in another order are sorted, those of one frequency averaged, 0 Hz left out; all is said', () => {
    const { curves, notes, rows } = read('f,dB\n0,0\n100,-1\n300,-5\n200,-2\n200,-4\n')
    const { x, db } = curves[0].samples as LevelSamples
    expect([...x]).toEqual([100, 200, 300])
    expect([...db!]).toEqual([-1, -3, -5])
    expect(rows).toBe(4)
    expect(notes).toEqual([
      'Line 2 is at 0 Hz, which has no place among decades; it is left out.',
      'Line 5 goes back: the rows are sorted.',
      'Line 6 repeats the one before it (1 in all): their mean is taken.',
    ])
  })

  test('numbers with prefixes', () => {
    expect([...levelsOf('f,dB\n100,-1\n200,-1\n400,-1\n1k,-2\n2.2k,-3\n').x]).toEqual([100, 200, 400, 1e3, 2.2e3])
  })
})

describe('what cannot be read', () => {
  const good = 'f,dB\n1,-1\n2,-2\n3,-3\n'
  test.each([
    ['a word', `${good}4,overload\n`, '"overload" in column dB is not a number'],
    ['a missing column', `${good}4\n`, 'row 5: column dB is missing'],
    ['an empty field', `${good},-4\n`, 'row 5: column f is missing'],
    ['another decimal mark', 'f;dB\n1;-1.5\n2;-2.5\n3;-3.5\n4;-4,5\n', 'Choose the comma as decimal mark'],
    ['a negative frequency', `${good}-4,-4\n`, 'a frequency of -4 is negative in column f'],
    ['a negative magnitude', 'f,|H|\n1,0.5\n2,0.4\n3,-0.3\n', 'row 4: a magnitude of -0.3 is negative'],
    ['a hexadecimal number', `${good}4,0x10\n`, '"0x10" in column dB is not a number'],
    ['something infinite', `${good}4,-Infinity\n`, 'is not a number'],
    ['no numbers at all', 'to whom it may concern\nnothing\n', 'no two columns of numbers'],
    ['one column', '1\n2\n3\n', 'no two columns of numbers'],
    ['a word in the first row', 'f,dB\n1,overload\n2,-2\n3,-3\n4,-4\n', 'row 2: "overload" in column dB'],
    ['a word in the second row', 'f,dB\n1,-1\n2,overload\n3,-3\n4,-4\n5,-5\n', 'row 3: "overload" in column dB'],
    [
      'a word in the third row of a table without names',
      '1,-1\n2,-2\n3,overload\n4,-4\n5,-5\n6,-6\n',
      'row 3: "overload"',
    ],
    ['nothing', '', 'no two columns of numbers'],
  ])('%s', (_, text, said) => {
    expect(refusalOf(() => readWith(text))).toContain(said)
  })

  /** A magnitude is taken as one, whatever its numbers look like. */
  const readWith = (text: string) => {
    const layout = layoutOf(text)
    const columns = guessColumns(layout).map((c) => (c.name === '|H|' ? { ...c, unit: '1' } : c))
    return readMeasured(text, { layout, columns })
  }

  test('rows that cannot be read may be left out, and are named', () => {
    const { curves, notes } = read(`${good}4,overload\n5,-5\n6\n`, true)
    expect([...curves[0].samples.x]).toEqual([1, 2, 3, 5])
    expect(notes).toEqual(['Lines 5, 7 could not be read and are left out.'])
  })

  test('columns that make no curve', () => {
    const layout = layoutOf('1,2,3\n2,3,4\n3,4,5\n')
    const of = (...meant: [string, string][]) => {
      const columns = meant.map(([meaning, unit]) => ({ meaning: meaning as 'none', unit, name: '' }))
      return refusalOf(() => readMeasured('1,2,3\n2,3,4\n3,4,5\n', { layout, columns }))
    }
    expect(of(['magnitude', 'dB'], ['phase', '°'], ['none', ''])).toContain('no column is frequency or time')
    expect(of(['frequency', 'Hz'], ['time', 's'], ['none', ''])).toContain('more than one column')
    expect(of(['frequency', 'Hz'], ['none', ''], ['none', ''])).toContain('nothing was measured')
    expect(of(['frequency', 'Hz'], ['re', '1'], ['none', ''])).toContain('no imaginary part')
    expect(of(['frequency', 'Hz'], ['im', '1'], ['re', '1'])).toContain('Put the real part before it')
    expect(of(['time', 's'], ['magnitude', 'dB'], ['none', ''])).toContain('Over time a column is a value')
    expect(of(['frequency', 'Hz'], ['value', 'V'], ['none', ''])).toContain('Over frequency a column is')
  })
})
