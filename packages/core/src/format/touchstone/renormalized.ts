import { VoskelError } from '../../errors/VoskelError.js'
import { add, type Complex, complex, conjugate, divide, multiply, subtract } from '../../numeric/complex.js'
import { formatQuantity } from '../../quantity/formatQuantity.js'
import type { TouchstoneData } from './readTouchstone.js'

type Matrix = readonly (readonly Complex[])[]

/**
 * Scattering parameters by power waves as they would be with other references: a = (V + Z·I)/(2√Re Z), b = (V − Z*·I)/(2√Re Z)
 * at each port, so that voltages and currents stay what they are.
 *
 * Source: K. Kurokawa, "Power waves and the scattering matrix", IEEE Trans. MTT-13, 1965, 194–202 (from memory).
 *
 * @param s square, one row and column a port
 * @param from and @param to Ω, one a port, with a real part above 0
 * @returns null where the network has no such parameters
 */
export function renormalizedMatrix(s: Matrix, from: readonly Complex[], to: readonly Complex[]): Matrix | null {
  // With a and b of before: a′ ∝ (Z* + Z′)·a + (Z − Z′)·b and b′ ∝ (Z* − Z′*)·a + (Z + Z′*)·b, port by port.
  const wave = (port: number, sign: 1 | -1, column: number): Complex => {
    const [z, other] = [from[port], sign === 1 ? to[port] : conjugate(to[port])]
    const own = sign === 1 ? add(conjugate(z), other) : subtract(conjugate(z), other)
    const back = sign === 1 ? subtract(z, other) : add(z, other)
    const scale = 1 / (2 * Math.sqrt(z.re * to[port].re))
    const sum = add(port === column ? own : complex(0), multiply(back, s[port][column]))
    return { re: sum.re * scale, im: sum.im * scale }
  }
  const ports = [...from.keys()]
  const [incident, reflected] = ([1, -1] as const).map((sign) => ports.map((p) => ports.map((c) => wave(p, sign, c))))
  return divided(reflected, incident)
}

/** B·A⁻¹ of one or two rows; null where A has no inverse. */
function divided(b: Matrix, a: Matrix): Matrix | null {
  if (a.length === 1) return isNothing(a[0][0], 1) ? null : [[divide(b[0][0], a[0][0])]]
  const [[p, q], [r, t]] = a
  const [one, two] = [multiply(p, t), multiply(q, r)]
  const det = subtract(one, two)
  if (isNothing(det, Math.hypot(one.re, one.im) + Math.hypot(two.re, two.im))) return null
  return b.map(([x, y]) => [
    divide(subtract(multiply(x, t), multiply(y, r)), det),
    divide(subtract(multiply(y, p), multiply(x, q)), det),
  ])
}

const isNothing = ({ re, im }: Complex, size: number): boolean => Math.hypot(re, im) <= 4 * Number.EPSILON * size

/**
 * The scattering parameters of a Touchstone text as they are with other references; what is no scattering parameter has none
 * and stays. Its notes say so.
 *
 * @param references Ω, one a port of the data
 * @throws VoskelError `ARGUMENT` where a reference is none for power waves, or the data have no such parameters
 */
export function renormalized(data: TouchstoneData, references: readonly number[]): TouchstoneData {
  if (data.parameter !== 'S' || references.every((r, k) => isSame(r, data.references[k]))) return data
  const told = `${said(data.references)} and those of the circuit to ${said(references)}`
  const refused = (problem: string) =>
    new VoskelError('ARGUMENT', {
      problem: `The data are referred to ${told}: ${problem}.`,
      fix: 'Give the circuit’s ports resistors above 0 Ω, or the data with its references.',
    })
  if (references.some((r) => !(r > 0 && Number.isFinite(r)))) throw refused('only what is above 0 Ω can be a reference')
  const [from, to] = [data.references, references].map((all) => all.map((r) => complex(r)))
  const ports = data.ports === 1 ? ['1'] : ['1', '2']
  const entries = Object.fromEntries(
    Object.entries(data.entries).map(([name, { re }]) => [
      name,
      { re: new Float64Array(re.length), im: new Float64Array(re.length) },
    ]),
  )
  data.frequency.forEach((f, k) => {
    const at = (name: string) => complex(data.entries[name].re[k], data.entries[name].im[k])
    const found = renormalizedMatrix(
      ports.map((row) => ports.map((column) => at(row + column))),
      from,
      to,
    )
    if (!found) throw refused(`at ${formatQuantity(f, 'Hz')} they have no such parameters`)
    ports.forEach((row, i) =>
      ports.forEach((column, j) => {
        entries[row + column].re[k] = found[i][j].re
        entries[row + column].im[k] = found[i][j].im
      }),
    )
  })
  return {
    ...data,
    references,
    entries,
    notes: [`Taken over from ${said(data.references)} to the circuit’s ${said(references)}.`, ...data.notes],
  }
}

/** References that differ by rounding of their text are one. */
const SAME = 1e-9
const isSame = (a: number, b: number): boolean => Math.abs(a - b) <= SAME * Math.abs(b)

const said = (references: readonly number[]): string => {
  const [first, ...others] = references.map((r) => formatQuantity(r, 'Ω'))
  return others.every((text) => text === first) ? first : [first, ...others].join(' and ')
}
