import type { Scattering } from '../../analysis/scattering.js'
import type { Complex } from '../../numeric/complex.js'

/**
 * Scattering parameters of a two-port as a Touchstone text: real and imaginary parts over Hz, in version 1.1 where both ports have
 * one reference, else in version 2.0, which has a reference for each.
 *
 * Source: Touchstone File Format Specification, versions 1.1 and 2.0, IBIS Open Forum.
 *
 * @param frequency Hz, ascending
 */
export function writeTouchstone(frequency: Float64Array, { references, points }: Scattering, title = ''): string {
  const [one, other] = references
  const isOne = one === other
  const comment = title === '' ? [] : title.split(/\r?\n/).map((line) => `! ${line}`)
  const option = `# HZ S RI R ${one}`
  // Of a two-port, and of it alone, S21 stands before S12.
  const data = points.map(({ s11, s21, s12, s22 }, k) =>
    [frequency[k], ...[s11, s21, s12, s22].flatMap(parts)].join(' '),
  )
  if (isOne) return [...comment, option, ...data, ''].join('\n')
  const head = [
    '[Version] 2.0',
    option,
    '[Number of Ports] 2',
    '[Two-Port Data Order] 21_12',
    `[Number of Frequencies] ${frequency.length}`,
    `[Reference] ${one} ${other}`,
    '[Network Data]',
  ]
  return [...comment, ...head, ...data, '[End]', ''].join('\n')
}

const parts = ({ re, im }: Complex): [number, number] => [re, im]
