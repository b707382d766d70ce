import { approximation } from '../approximation/index.js'
import type { Ideal } from '../approximation/approximate.js'
import { rippleFactor } from '../approximation/Approximation.js'
import type { TransferFunction } from '../numeric/transferFunction.js'
import { formatQuantity } from '../quantity/formatQuantity.js'
import { type ApproximatedSpec, type FilterSpec, isShaped, shapeOf } from '../specification/filterSpec.js'
import type { ResponseId } from '../specification/responses.js'
import { topologies } from './index.js'
import { sectionSteps } from './active/explain.js'
import type { FormulaStep, Realized, Topology } from './Topology.js'

/** Digits of numbers without a unit. */
const DIGITS = 6

/** What the low-pass prototype's s is replaced by. */
const TRANSFORMS: Readonly<Record<ResponseId, string>> = {
  lowpass: 's → s/ω₁',
  highpass: 's → ω₁/s',
  bandpass: 's → (s² + ω₀²)/(B·s), ω₀² = ω₁·ω₂, B = ω₂ − ω₁',
  bandstop: 's → B·s/(s² + ω₀²), ω₀² = ω₁·ω₂, B = ω₂ − ω₁',
  allpass: 'H = D(−s)/D(s) with the poles of the low-pass',
}

/** "−0.5 ± j1.2", one line a pair. */
function rootLines(name: string, roots: TransferFunction['poles']): string[] {
  const upper = roots.filter((r) => r.im >= 0)
  return upper.map(({ re, im }, k) => {
    const real = re === 0 ? '' : re.toPrecision(DIGITS).replace('-', '−')
    return `${name}${k + 1} = ${real}${im === 0 ? (real ? '' : '0') : `${real ? ' ' : ''}± j${im.toPrecision(DIGITS)}`}`
  })
}

function approximationSteps(spec: ApproximatedSpec, ideal: Ideal): FormulaStep[] {
  const family = approximation(spec.approximation)
  const stop = spec.stopband?.attenuation
  const edges = ideal.referenceEdges.map((f, k) => `ω${k + 1} = 2π·${formatQuantity(f, 'Hz')}`)
  return [
    {
      title: `${family.name} prototype`,
      lines: [
        ...family.formulas,
        `n = ${ideal.order}${spec.order === undefined ? ', the least that meets what is asked' : ', as given'}; ε = √(10^(${ideal.rippleDb.toPrecision(DIGITS)}/10) − 1) = ${rippleFactor(ideal.rippleDb).toPrecision(DIGITS)}${stop === undefined ? '' : `; A = ${[stop].flat().join(' and ')} dB`}`,
        ...(spec.evenOrder && ideal.order % 2 === 0 ? [`even order in form ${spec.evenOrder}`] : []),
        ...rootLines('p', ideal.prototype!.poles),
        ...rootLines('z', ideal.prototype!.zeros),
      ],
      source: family.source,
    },
    {
      title: 'Response',
      lines: [TRANSFORMS[spec.response], edges.join(', ')],
      source: 'G. L. Matthaei, L. Young, E. M. T. Jones, McGraw-Hill 1964, §§ 8.02, 12.02',
    },
    ...(ideal.equalizer
      ? [
          {
            title: 'Delay equaliser',
            lines: [
              'all-pass sections whose delay added to the filter’s touches both bounds in turn',
              ...rootLines('p', ideal.equalizer.poles).map((line) => `${line} rad/s`),
              `delay within ${formatQuantity(ideal.equalizer.after, 's')} instead of ${formatQuantity(ideal.equalizer.before, 's')}`,
            ],
            source: 'A. G. Deczky, IEEE Trans. AU-20, 1972, 257–263 (from memory)',
          },
        ]
      : []),
  ]
}

function shapeSteps(spec: FilterSpec & { shape: Record<string, unknown> }, { transfer }: Ideal): FormulaStep[] {
  const shape = shapeOf(spec)
  const inRadians = (name: string, roots: TransferFunction['poles']) => rootLines(name, roots).map((l) => `${l} rad/s`)
  return [
    {
      title: `${shape.name[0].toUpperCase()}${shape.name.slice(1)} response`,
      lines: [...shape.formulas, ...inRadians('p', transfer.poles), ...inRadians('z', transfer.zeros)],
      source: shape.source,
    },
  ]
}

/**
 * How every value was found, step by step, with formulas, numbers and the published source of each.
 *
 * @param circuit with what was said of its parts since; left out, as it was made
 */
export function formulaSheet(
  spec: FilterSpec,
  ideal: Ideal,
  made: Realized | null,
  circuit = made?.circuit,
): FormulaStep[] {
  const response = isShaped(spec) ? shapeSteps(spec, ideal) : approximationSteps(spec, ideal)
  const topology = topologies.find((t) => t.id === spec.realization?.family)
  if (!made || !topology) return response
  const computed = made.circuit.parts.flatMap((part) => {
    const [field] = Object.keys(part.exact ?? {})
    return field
      ? [
          `${part.id}: ${formatQuantity(part.exact![field], UNITS[field] ?? '')} computed, ${formatQuantity(part.values[field], UNITS[field] ?? '')} taken`,
        ]
      : []
  })
  return [
    ...response,
    ...ownStep(topology, made),
    ...(made.steps ?? []),
    ...sectionSteps({ ...made, circuit: circuit ?? made.circuit }),
    ...(computed.length > 0 ? [{ title: 'Preferred values', lines: computed, source: 'IEC 60063:2015' }] : []),
  ]
}

function ownStep({ name, formulas, source }: Topology, { remarks = [] }: Realized): FormulaStep[] {
  const lines = [...formulas, ...remarks]
  return lines.length > 0 ? [{ title: name, lines, source: formulas.length > 0 ? source : '' }] : []
}

const UNITS: Readonly<Record<string, string>> = { resistance: 'Ω', inductance: 'H', capacitance: 'F' }
