import { formatQuantity } from '../../quantity/formatQuantity.js'
import type { ResponseId } from '../../specification/responses.js'
import type { FormulaStep } from '../Topology.js'
import type { Arm } from './ladderArms.js'

/** Digits of numbers without a unit. */
const DIGITS = 6

/** How the prototype's parts become those of each response; R the resistance, ω the edge, B the width, ω₀ the centre. */
const SCALING: Readonly<Record<ResponseId, readonly string[]>> = {
  lowpass: ['L = l·R/ω, C = c/(ω·R)'],
  highpass: ['a coil l becomes C = 1/(l·ω·R), a capacitor c becomes L = R/(c·ω)'],
  bandpass: [
    'a coil l in the line becomes L = l·R/B with C = 1/(ω₀²·L) in series',
    'a capacitor c to ground becomes C = c/(B·R) with L = 1/(ω₀²·C) across',
    'a resonant arm becomes two, at ωₐ·ω_b = ω₀² and ω_b − ωₐ = B·Ω of its zero',
  ],
  bandstop: [
    'a coil l in the line becomes L = l·R·B/ω₀² with C = 1/(ω₀²·L) across',
    'a capacitor c to ground becomes C = c·B/(ω₀²·R) with L = 1/(ω₀²·C) in series',
    'a resonant arm becomes two, at ωₐ·ω_b = ω₀² and ω_b − ωₐ = B/Ω of its zero',
  ],
  allpass: [],
}

/** The way from a prototype ladder to the parts, in steps. */
export function ladderSteps(
  normal: readonly Arm[],
  {
    response,
    edges,
    unit,
    load,
    matched,
  }: {
    response: ResponseId
    /** rad/s */
    edges: readonly number[]
    /** Ω */
    unit: number
    load: number | 'open'
    matched?: number
  },
): FormulaStep[] {
  const values = normal.map(({ place, l, c, number }) => {
    const parts = [
      l !== undefined && `l${number} = ${l.toPrecision(DIGITS)}`,
      c !== undefined && `c${number} = ${c.toPrecision(DIGITS)}`,
    ]
    const where = place === 'series' ? 'in the line' : 'to ground'
    return `${parts.filter(Boolean).join(', ')} ${where}${l !== undefined && c !== undefined ? `, resonant at Ω = ${(1 / Math.sqrt(l * c)).toPrecision(DIGITS)}` : ''}`
  })
  const [low, high = low] = edges
  const numbers =
    edges.length === 1
      ? [
          `R = ${formatQuantity(unit, 'Ω')}, ω = 2π·${formatQuantity(low / (2 * Math.PI), 'Hz')} = ${low.toPrecision(DIGITS)} rad/s`,
        ]
      : [
          `R = ${formatQuantity(unit, 'Ω')}, B = ${(high - low).toPrecision(DIGITS)} rad/s, ω₀ = √(ω₁·ω₂) = ${Math.sqrt(low * high).toPrecision(DIGITS)} rad/s`,
        ]
  return [
    {
      title: 'Ladder for 1 Ω and 1 rad/s',
      lines: values,
      source: 'L. Weinberg, "Network Analysis and Synthesis", 1962',
    },
    {
      title: 'Scaling',
      lines: [...SCALING[response], ...numbers],
      source: 'G. L. Matthaei, L. Young, E. M. T. Jones, McGraw-Hill 1964, §§ 4.04, 8.02, 12.02',
    },
    ...(matched === undefined
      ? []
      : [
          {
            title: 'Norton transformations',
            lines: [
              `the load of ${load === 'open' ? 'nothing' : formatQuantity(load, 'Ω')} becomes ${formatQuantity(matched, 'Ω')}`,
              'C₁ in the line and C₂ to ground become (n − 1)/n·C₁ to ground, C₁/n in the line, (C₂ − (n − 1)·C₁)/n² to ground',
            ],
            source: 'E. L. Norton, U.S. patent 1 681 554, 1928 (from memory)',
          },
        ]),
  ]
}
