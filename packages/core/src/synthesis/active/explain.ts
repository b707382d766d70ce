import { effectiveValues, scopeOf } from '../../circuit/effectiveValues.js'
import { formatQuantity } from '../../quantity/formatQuantity.js'
import { SLOT_FIELDS } from '../Sketch.js'
import type { FormulaStep, Realized, RealizedSection } from '../Topology.js'
import { type Biquad, levelOf } from './biquad.js'
import { texOf, valueOf } from './closedForm.js'
import { SECTION_KINDS } from './families.js'
import { type SectionKind, type SectionSensitivity, sectionSensitivities, slotKind } from './SectionKind.js'

/** What one part does in its section. */
export interface ExplainedPart {
  /** The circuit's name of it, and its value in SI units. */
  readonly id: string
  readonly value: number
  readonly unit: string
  readonly role: string
  /** Relative changes for a relative change of it. */
  readonly sensitivity: SectionSensitivity
}

/** A section of an active realisation, explained. */
export interface ExplainedSection {
  readonly name: string
  readonly source: string
  readonly amplifiers: number
  /** Hz */
  readonly frequency: number
  /** Null of first order. */
  readonly q: number | null
  /** Frequency of its zeros, Hz; null without zeros off the origin. */
  readonly zero: number | null
  /** dB, at DC or high frequencies, of a band-pass where it resonates. */
  readonly gainDb: number
  /** TeX: how its values follow, and what they give with the numbers of this circuit. */
  readonly design: readonly string[]
  readonly given: readonly string[]
  readonly parts: readonly ExplainedPart[]
}

/** The parts of the circuit that a part of a section is made of: the first section's entrance may be two. */
const partsOf = (kind: SectionKind, { parts }: RealizedSection): Map<string, readonly string[]> => {
  const { series, shunt, ...own } = parts
  const all = new Map<string, readonly string[]>(Object.entries(own).map(([local, id]) => [local, [id]]))
  if (series !== undefined) all.set(kind.entrance!, shunt === undefined ? [series] : [series, shunt])
  return all
}

/** Every section of a realisation with its formulas, numbers and sensitivities; empty for others. */
export function explainSections(made: Realized): ExplainedSection[] {
  const { circuit, sections = [] } = made
  const scope = scopeOf(circuit)
  const numberOf = (id: string): number => {
    const part = circuit.parts.find((p) => p.id === id)
    return part ? effectiveValues(part, scope)[SLOT_FIELDS[part.kind as keyof typeof SLOT_FIELDS]]!.value : Number.NaN
  }
  const source = circuit.parts.some((p) => p.id === 'RS') ? numberOf('RS') : 0
  return sections.flatMap((section, k) => {
    const kind = SECTION_KINDS.find((s) => s.id === section.kind)
    if (!kind) return []
    const ids = partsOf(kind, section)
    const values = Object.fromEntries(
      [...ids].map(([local, [first, second]]) => {
        const isResistor = slotKind(local) === 'resistor'
        const own = numberOf(first) + (k === 0 && isResistor && local === kind.entrance ? source : 0)
        if (second === undefined) return [local, own]
        const other = numberOf(second)
        return [local, isResistor ? 1 / (1 / own + 1 / other) : own + other]
      }),
    )
    return [explained(kind, section, values, ids)]
  })
}

const UNIT = { resistor: 'Ω', capacitor: 'F', inductor: 'H' } as const

function explained(
  kind: SectionKind,
  { wanted }: RealizedSection,
  values: Readonly<Record<string, number>>,
  ids: ReadonlyMap<string, readonly string[]>,
): ExplainedSection {
  const sensitivities = sectionSensitivities(kind, values, wanted)
  const [n0, , n2] = wanted.n
  const hasZero = wanted.order === 2 && n0 > 0 && n2 > 0
  const { w0, q } = rootsOf(kind, values, wanted)
  const frequency = w0 / (2 * Math.PI)
  return {
    name: kind.name,
    source: kind.source,
    amplifiers: kind.amplifiers,
    frequency,
    q: wanted.order === 1 ? null : q,
    zero: hasZero ? Math.sqrt(n0 / n2) / (2 * Math.PI) : null,
    gainDb: 20 * Math.log10(levelOf(wanted)),
    design: kind.design.map((tex) => renamed(tex, ids)),
    given: givenOf(kind, values, ids, { frequency, q }),
    parts: [...ids].flatMap(([local, parts]) =>
      parts.map((id) => ({
        id,
        value: values[local],
        unit: UNIT[slotKind(local)],
        role: spoken(kind.roles[local] ?? '', ids),
        sensitivity: sensitivities[local],
      })),
    ),
  }
}

/** What a part does, with the circuit's names of the others. */
const spoken = (role: string, ids: ReadonlyMap<string, readonly string[]>): string =>
  role.replace(/\b[RC]\d+\b/g, (local) => ids.get(local)?.[0] ?? local)

/** ω₀ and Q of its values; of a cubic denominator those that were wanted. */
function rootsOf({ denominator }: SectionKind, values: Readonly<Record<string, number>>, { w0, q }: Biquad) {
  const [d0, d1, d2] = denominator.map((text) => valueOf(text, values))
  if (denominator.length === 2) return { w0: d0 / d1, q }
  return denominator.length === 3 ? { w0: Math.sqrt(d0 / d2), q: Math.sqrt(d0 * d2) / d1 } : { w0, q }
}

/** A section's own names as the circuit's. */
const renamed = (tex: string, ids: ReadonlyMap<string, readonly string[]>): string =>
  tex.replace(/([RC])_(?:\{(\d+)\}|(\d))/g, (whole, letter: string, long?: string, short?: string) => {
    const own = ids.get(`${letter}${long ?? short}`)
    return own ? texName(own[0]) : whole
  })

/** ω₀ and Q from the coefficients, with names and with numbers; of a cubic denominator the design equations say more. */
function givenOf(
  { denominator }: SectionKind,
  values: Readonly<Record<string, number>>,
  ids: ReadonlyMap<string, readonly string[]>,
  { frequency, q }: { frequency: number; q: number },
): string[] {
  if (denominator.length > 3) return []
  const has = (part: string) => part in values
  const named = (part: string) => texName(ids.get(part)?.[0] ?? part)
  const numbered = (part: string) => texQuantity(values[part], UNIT[slotKind(part)])
  const both = (text: string) => [
    texOf(text, { symbol: named, times: '\\,', has }),
    texOf(text, { symbol: numbered, times: '\\cdot ', has }),
  ]
  const [low, lowNumbers] = both(denominator[0])
  const found = `2\\pi\\cdot${texQuantity(frequency, 'Hz')}`
  if (denominator.length === 2) return [`\\omega_0 = ${low}`, `= ${lowNumbers} = ${found}`]
  const [middle, middleNumbers] = both(denominator[1])
  return [
    `\\omega_0 = \\sqrt{${low}}`,
    `= \\sqrt{${lowNumbers}} = ${found}`,
    `\\frac{\\omega_0}{Q} = ${middle}`,
    `= ${middleNumbers},\\quad Q = ${q.toPrecision(4)}`,
  ]
}

const texName = (id: string): string => {
  const [, letters, digits] = /^([A-Za-z]+)(\d*)$/.exec(id) ?? [null, id, '']
  return digits ? `${letters}_{${digits}}` : `\\mathrm{${letters}}`
}

const texQuantity = (value: number, unit: string): string => {
  const [number, prefixed] = formatQuantity(value, unit).split('\u00a0')
  return `${number}\\,\\text{${prefixed}}`
}

/** The sections as steps of how values were found. */
export function sectionSteps(made: Realized): FormulaStep[] {
  return explainSections(made).map((section, k) => ({
    title: `Section ${k + 1}: ${section.name}`,
    lines: [
      [
        `f₀ = ${formatQuantity(section.frequency, 'Hz')}`,
        ...(section.q === null ? [] : [`Q = ${section.q.toPrecision(4)}`]),
        ...(section.zero === null ? [] : [`zeros at ${formatQuantity(section.zero, 'Hz')}`]),
        `gain ${section.gainDb.toFixed(2).replace('-', '−')} dB`,
      ].join(', '),
    ],
    tex: [...section.design, ...section.given],
    parts: section.parts,
    source: section.source,
  }))
}
