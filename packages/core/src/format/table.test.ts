import { describe, expect, test } from 'vitest'
import { writeCsv } from './csv.js'
import { readTable } from './table.js'

describe('tables of numbers', () => {
  test.each([
    ['commas', '0,1\n1e-3,2.5\n'],
    ['a header', 'time,volt\n0,1\n0.001,2.5\n'],
    ['semicolons and decimal commas', 'Zeit;Spannung\r\n0;1\r\n0,001;2,5\r\n'],
    ['tabs, a byte order mark and empty lines', '\ufeff0\t1\n\n1e-3\t2.5\n\n'],
    ['spaces and a remark', '# measured at the cable end\n0 1\n1m 2\n'.replace('1m 2', '1e-3 2.5')],
    ['quotation marks', '"time, s","U"\n"0","1"\n"1e-3","2.5"\n'],
  ])('%s', (_, text) => {
    expect(readTable(text)).toEqual([
      [0, 1],
      [1e-3, 2.5],
    ])
  })

  test('a column by name or number', () => {
    const text = 't,a,b\n0,1,2\n1,3,4\n'
    expect(readTable(text, { column: 'B' })).toEqual([
      [0, 2],
      [1, 4],
    ])
    expect(readTable(text, { column: '2' })).toEqual(readTable(text, { column: 'a' }))
    expect(() => readTable(text, { column: 'c' })).toThrow('no column "c"')
  })

  test.each([
    ['0,1\n1,x\n', '"x" is not a number', 2],
    ['t,u\n0,1\n,2\n', '"" is not a number', 3],
    ['t,u\n0,1\n1\n', 'column 2 is missing', 3],
    ['0\n1\n', 'no two columns', 1],
    ['t,u\n', 'no two columns', 1],
    ['', 'no two columns', 1],
    ['\u0000\u0001\u0002', 'no two columns', 1],
  ])('%j is refused with its row', (text, problem, line) => {
    try {
      readTable(text)
      expect.unreachable()
    } catch (error) {
      expect((error as Error).message).toContain(problem)
      expect((error as { place: { line: number } }).place.line).toBe(line)
    }
  })
})

describe('units above the columns count, as they do for measured data', () => {
  test.each([
    ['time (ms),out [mV]\n0,1000\n1,2500\n'],
    ['t/ms\tu/V\n0\t1\n1\t2.5\n'],
    ['time in µs;current in mA\n0;1000\n1000;2500\n'],
    ['time,volt\n0,1\n1D-3,2.5d0\n'],
    ['time (ms),volt\r0,1\r1,2.5\r'],
  ])('%j', (text) => {
    const [[t0, v0], [t1, v1]] = readTable(text) as [[number, number], [number, number]]
    expect([t0, v0]).toEqual([0, 1])
    expect(t1).toBeCloseTo(1e-3, 15)
    expect(v1).toBeCloseTo(2.5, 14)
  })

  test('what is no waveform is refused', () => {
    expect(() => readTable('frequency (Hz),gain\n1,2\n3,4\n')).toThrow('is a frequency')
    expect(() => readTable('time,level (dB)\n1,-2\n3,-4\n')).toThrow('level in dB')
  })
})

test.each(['=cmd', '+1', '-out', '@sum'])('a column called %s is harmless in a spreadsheet, and read back', (name) => {
  const text = writeCsv({ time: [0, 1, 2], [name]: [3, Number.NaN, 5] })
  expect(text.split('\n').slice(0, 3)).toEqual([`time,'${name}`, '0,3', '1,'])
  const whole = writeCsv({ time: [0, 1], [name]: [3, 5] })
  expect(readTable(whole, { column: name })).toEqual([
    [0, 3],
    [1, 5],
  ])
})
