import type { FlatElement } from '../circuit/parts/PartKind.js'
import { VoskelError } from '../errors/VoskelError.js'
import { add, type Complex, divide, multiply, scale, subtract } from '../numeric/complex.js'
import { AcAnalysis, delayOf, type ResponsePoint, type Sweep } from './ac.js'
import type { Mna } from './mna.js'
import { element } from './outputs.js'

/** Anything that has a value over frequency. */
export interface FrequencyResponse {
  /** The value and its derivative by ω at ω, rad/s. */
  point(omega: number, check?: boolean): ResponsePoint
  /** At given frequencies, Hz. */
  sweep(frequency: Float64Array): Sweep
}

type Options = NonNullable<ConstructorParameters<typeof AcAnalysis>[1]>

/**
 * The response of an output over frequency. Besides what `parseOutput` reads there are quotients of two such outputs,
 * `out/i(V1)` (a transfer impedance), and powers, `p(R1)`: v·conj(i) of a part with two pins, in watts (re) and reactive
 * (im) for an input of 1 V or 1 A effective.
 *
 * @throws VoskelError as `AcAnalysis`
 */
export function acResponse(mna: Mna, options: Options = {}): FrequencyResponse {
  const text = (options.output ?? 'out').trim()
  const parts = factors(mna, text)
  if (!parts) return new AcAnalysis(mna, options)
  const [first, second] = parts.outputs.map((output) => new AcAnalysis(mna, { ...options, output }))
  return new Composite(first, second, parts.join)
}

/** The two outputs whose product or quotient an output is; null where it is one output. */
function factors(mna: Mna, text: string): { outputs: readonly [string, string]; join: Join } | null {
  const power = powerFactors(mna, text)
  if (power) return { outputs: power, join: product }
  if (mna.circuit.nodes.some((n) => n.toUpperCase() === text.toUpperCase())) return null
  const slash = /^([^/]+)\/([^/]+)$/.exec(text)
  return slash ? { outputs: [slash[1].trim(), slash[2].trim()], join: quotient } : null
}

/**
 * Voltage and current whose product the power `p(R1)` is; null for any other output.
 *
 * @throws VoskelError `ARGUMENT` where the part has no two pins
 */
export function powerFactors(mna: Mna, text: string): readonly [voltage: string, current: string] | null {
  const call = /^p\(\s*([^()]+?)\s*\)$/i.exec(text.trim())
  if (!call) return null
  const found = element(mna, call[1]).element
  if (found.nodes.length !== 2) {
    throw new VoskelError('ARGUMENT', {
      problem: `${found.name} has ${found.nodes.length} pins; a power over frequency or time is that of a part with two.`,
      fix: 'Ask for the power of a part with two pins; `op` shows that of every part.',
    })
  }
  return [voltageAcross(mna, found), `i(${found.name})`]
}

function voltageAcross(mna: Mna, { nodes }: FlatElement): string {
  const [a, b] = nodes.map((n) => (n < 0 ? '0' : mna.circuit.nodes[n]))
  return `v(${a},${b})`
}

type Join = (a: ResponsePoint, b: ResponsePoint) => ResponsePoint

const conjugate = ({ re, im }: Complex): Complex => ({ re, im: -im })

/** v·conj(i); ω is real, so that the derivative goes through the conjugate. */
const product: Join = (v, i) => ({
  value: multiply(v.value, conjugate(i.value)),
  slope: add(multiply(v.slope, conjugate(i.value)), multiply(v.value, conjugate(i.slope))),
})

const quotient: Join = (a, b) => {
  const value = divide(a.value, b.value)
  return { value, slope: divide(subtract(a.slope, multiply(value, b.slope)), b.value) }
}

class Composite implements FrequencyResponse {
  constructor(
    private readonly first: AcAnalysis,
    private readonly second: AcAnalysis,
    private readonly join: Join,
  ) {}

  point(omega: number, check?: boolean): ResponsePoint {
    return this.join(this.first.point(omega, check), this.second.point(omega, check))
  }

  sweep(frequency: Float64Array): Sweep {
    const [a, b] = [this.first.sweep(frequency), this.second.sweep(frequency)]
    const at = (s: Sweep, k: number): ResponsePoint => {
      const value = { re: s.re[k], im: s.im[k] }
      // dφ/dω is known, d ln|H|/dω is not: the phase's slope is all that the delay needs.
      return { value, slope: scale(multiply(value, { re: 0, im: 1 }), -s.delay[k]) }
    }
    const joined = Array.from(frequency, (_, k) => this.join(at(a, k), at(b, k)))
    return {
      frequency,
      re: Float64Array.from(joined, ({ value }) => value.re),
      im: Float64Array.from(joined, ({ value }) => value.im),
      delay: Float64Array.from(joined, ({ value, slope }) => delayOf(value, slope)),
    }
  }
}
