import { NOMINAL_TEMPERATURE } from '../devices/constants.js'
import {
  modelField,
  type NetlistElement,
  type Stamper,
  stampConductance,
  thermalNoise,
  type ValueField,
} from './PartKind.js'

type Values = Readonly<Record<string, number>>
type Terms = (readonly [column: number, g: number, c: number])[]

/** The temperature coefficients of a part's main value. */
export const TEMPERATURE_FIELDS: readonly ValueField[] = [
  modelField('tc1', 'Temperature coefficient', '1/K', 0),
  modelField('tc2', 'Quadratic temperature coefficient', '1/K²', 0),
]

/** Their names. */
export const TEMPERATURE_COEFFICIENTS = TEMPERATURE_FIELDS.map((f) => f.id)

/** A value at a temperature, K: value·(1 + tc1·ΔT + tc2·ΔT²) from 27 °C on. */
export function atTemperature(value: number, { tc1 = 0, tc2 = 0 }: Values, temperature: number): number {
  const rise = temperature - NOMINAL_TEMPERATURE
  return value * (1 + tc1 * rise + tc2 * rise * rise)
}

/** The reactance's other half at a self-resonance: 1/((2πf)²·value); 0 where there is none. */
export const resonantWith = (value: number, frequency: number): number =>
  frequency > 0 && value !== 0 ? 1 / ((2 * Math.PI * frequency) ** 2 * value) : 0

/** What lies across a real part: a resistance, Ω, and a capacitance, F; 0 for none. */
export interface Across {
  readonly resistance: number
  readonly capacitance: number
}

/** Stamps what lies across two nets and adds its current to the terms. */
export function stampAcross(s: Stamper, a: number, b: number, { resistance, capacitance }: Across, terms: Terms): void {
  const g = resistance > 0 ? 1 / resistance : 0
  if (g > 0) {
    stampConductance(s, a, b, g)
    s.noise(a, b, thermalNoise(g, s.temperature))
  }
  if (capacitance > 0) s.store({ plus: a, minus: b }, { plus: a, minus: b }, capacitance)
  if (g > 0 || capacitance > 0) terms.push([a, g, capacitance], [b, -g, -capacitance])
}

/** A real part as a chain from pin a to pin b, and what lies across it; null for an ideal part. */
export function asNetlist(
  chain: readonly (readonly [letter: 'R' | 'L' | 'C', value: number])[],
  across: Across,
): readonly NetlistElement[] | null {
  const present = chain.filter(([, value], k) => k === 0 || value > 0)
  if (present.length === 1 && across.resistance === 0 && across.capacitance === 0) return null
  const net = (k: number) => (k === 0 ? 'a' : k === present.length ? 'b' : `inner${k}`)
  return [
    ...present.map(([letter, value], k) => ({
      letter,
      suffix: k === 0 ? '' : '_s',
      pins: [net(k), net(k + 1)],
      value,
    })),
    ...(['R', 'C'] as const).flatMap((letter) => {
      const value = letter === 'R' ? across.resistance : across.capacitance
      return value > 0 ? [{ letter, suffix: '_p', pins: ['a', 'b'], value }] : []
    }),
  ]
}

/** A frequency that belongs to a figure: each without the other says nothing. */
export function bothOrNone(values: Values, figure: string, frequency: string): { problem: string; fix: string } | null {
  const given = [figure, frequency].filter((id) => values[id] !== 0)
  if (given.length !== 1) return null
  const missing = given[0] === figure ? frequency : figure
  return { problem: `it has ${given[0]} and no ${missing}`, fix: `Give ${missing}, too, or set ${given[0]} to 0.` }
}
