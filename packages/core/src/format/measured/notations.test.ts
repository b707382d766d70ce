import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { bareName, guessColumns } from './columns.js'
import { layoutOf } from './layout.js'
import { readMeasured } from './readMeasured.js'

const curvesOf = (text: string) => {
  const layout = layoutOf(text)
  return readMeasured(text, { layout, columns: guessColumns(layout) }).curves
}

/** How a table may be written. */
const notation = fc.record({
  marks: fc.constantFrom([',', '.'], [';', '.'], [';', ','], ['\t', '.'], ['\t', ','], ['|', '.'], [' ', '.']),
  newline: fc.constantFrom('\n', '\r\n', '\r'),
  exponent: fc.constantFrom('', 'e', 'E', 'd', 'D'),
  mark: fc.constantFrom('', '\ufeff'),
  remark: fc.constantFrom('', '# measured on a cold day', '% 3 rows', '! by hand'),
})
const heads = fc.constantFrom(
  ['Frequency', 'Real', 'Imag'],
  ['freq', 'real', 'imaginary'],
  ['f', 'Re', 'Im'],
  ['Frequency', 're_out', 'im_out'],
  ['frequency', 'gain_real', 'gain_imag'],
  ['f', 'Re(S21)', 'Im(S21)'],
  ['Hz', 'H real', 'H imag'],
)
const rows = fc.array(
  fc.tuple(fc.double({ min: -1, max: 1, noNaN: true }), fc.double({ min: -1, max: 1, noNaN: true })),
  { minLength: 3, maxLength: 20 },
)

describe('measured tables in every notation', () => {
  test('say the same: complex numbers over frequency', () => {
    fc.assert(
      fc.property(notation, heads, rows, ({ marks, newline, exponent, mark, remark }, names, points) => {
        const [delimiter, decimal] = marks as [string, string]
        const said = (x: number) => {
          const digits = x.toExponential(6)
          return (exponent === '' ? String(Number(digits)) : digits.replace('e', exponent)).replace('.', decimal)
        }
        const row = (cells: readonly string[]) => cells.join(delimiter)
        // What divides columns stands in no name.
        const called = names.map((n) => (delimiter === ' ' ? n.replaceAll(' ', '_') : n))
        const lines = points.map(([re, im], k) => row([String(100 * (k + 1)), said(re), said(im)]))
        const text = mark + [...(remark ? [remark] : []), row(called), ...lines, ''].join(newline)
        const [curve, ...others] = curvesOf(text)
        expect(others).toEqual([])
        const { samples } = curve!
        expect('re' in samples && 'im' in samples).toBe(true)
        if (!('re' in samples)) return
        points.forEach(([re, im], k) => {
          expect(samples.re[k]).toBe(Number(re.toExponential(6)))
          expect(samples.im[k]).toBe(Number(im.toExponential(6)))
          expect(samples.x[k]).toBe(100 * (k + 1))
        })
      }),
      { numRuns: 300 },
    )
  })

  test('phases of one frequency are averaged as angles', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -180, max: 180, noNaN: true }),
        fc.double({ min: 0, max: 80, noNaN: true }),
        (at, by) => {
          const wrapped = (x: number) => x - 360 * Math.round(x / 360)
          const text = [
            'frequency,db,phase',
            ...[-by, 0, by].map((d) => `100,-3,${wrapped(at + d)}`),
            '200,-3,0',
            '300,-3,0',
          ]
          const { samples } = curvesOf(text.join('\n'))[0]!
          const [phase] = (samples as { phase: Float64Array }).phase
          expect(Math.abs(wrapped(phase! - at))).toBeLessThan(1e-9)
        },
      ),
    )
  })

  test.each([
    ['out [mV]', 'out'],
    ['v(out)', 'v(out)'],
    ['v(out) (mV)', 'v(out)'],
    ['out / mV', 'out'],
    ['out, V', 'out'],
    ['out in mV', 'out'],
    ['out', 'out'],
    ['net 3', 'net 3'],
  ])('%s is called %s', (head, name) => expect(bareName(head)).toBe(name))
})
