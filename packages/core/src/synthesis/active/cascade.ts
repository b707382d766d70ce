import type { Ideal } from '../../approximation/approximate.js'
import type { End } from '../../circuit/circuit.js'
import { VoskelError } from '../../errors/VoskelError.js'
import { abs, complex } from '../../numeric/complex.js'
import { evaluate, inSeries, type TransferFunction } from '../../numeric/transferFunction.js'
import { formatQuantity } from '../../quantity/formatQuantity.js'
import type { FilterSpec } from '../../specification/filterSpec.js'
import { impossible, Line, resistanceField } from '../Line.js'
import type { Plan } from '../Plan.js'
import { Sketch, type Slot, type Values } from '../Sketch.js'
import { type OwnTopology, type Realized, type Topology, topology } from '../Topology.js'
import { type Factor, factorsOf } from './factors.js'
import type { SectionKind, SectionPlan } from './SectionKind.js'
import { SectionPen } from './SectionPen.js'

const FIELDS = [
  { id: 'capacitor', name: 'Capacitor size', kind: 'quantity', unit: 'F', default: 10e-9, above: 0, most: 1 },
  { ...resistanceField('source', 'Source resistance', 0), above: undefined, least: 0 },
  { ...resistanceField('load', 'Load resistance', 0), optional: true, word: 'open' },
] as const

/** A family of sections that are put in a chain. */
type Family = Omit<OwnTopology<typeof FIELDS>, 'family' | 'fields' | 'plan'> & {
  /** Of those that make a factor the first is taken. */
  readonly sections: readonly SectionKind[]
}

/** A gain this little above 1 is rounding. */
const ROUNDING = 1e-9

/** The parts before the first section's entrance: what its resistor becomes, and what divides the input down. */
const SERIES = 'series'
const SHUNT = 'shunt'

/**
 * The topology of a family of sections: each makes a factor of the response, and they follow each other. The first one's
 * entrance takes up the source resistance, and divides the input down where less gain is asked than the sections have.
 */
export function cascade({ sections: kinds, ...own }: Family): Topology {
  return topology({
    ...own,
    family: 'active',
    fields: FIELDS,
    plan({ spec, ideal, realization }) {
      const { capacitor, source, load } = realization
      if (ideal.transfer.poles.length === 0)
        throw impossible(
          'response',
          'A response without poles is the same at all frequencies: there is nothing for sections to do.',
          'Give it poles.',
        )
      const sections = factorsOf(ideal.transfer).map((factor) => {
        const kind = kinds.find((k) => k.makes(factor))
        if (!kind) throw notMade(kinds, factor, spec, ideal)
        return kind.plan(factor, capacitor)
      })
      const gain = gainLeft(ideal.transfer, sections)
      const division = Math.abs(gain)
      if (division > 1 + ROUNDING) throw tooMuchGain(division, ideal.order)
      const divides = division < 1 - ROUNDING
      if (sections[0].entrance === null && (source > 0 || divides))
        throw notDriven(source > 0 ? 'realization.source' : 'gain')
      const chain = chainOf(sections, { division: Math.min(1, division), source })
      if (chain.solve({}) === null) throw sourceTooLarge(sections[0], { division, source, capacitor })
      return {
        ...chain,
        draw: (values, computed) => ({
          circuit: draw(chain, {
            values,
            computed,
            source,
            load: load === 'open' ? undefined : load,
            title: `${own.name.split(',')[0]} sections, order ${ideal.order}`,
          }),
          referenceDb: 0,
          inverting: gain < 0,
        }),
      } satisfies Plan<Realized>
    },
  })
}

/** What the response has more in gain than the sections have by themselves. */
function gainLeft(wanted: TransferFunction, sections: readonly SectionPlan[]): number {
  const made = sections.map((s) => s.transfer(s.solve({})!)).reduce(inSeries)
  // Level at DC, or where that is none, inside the band.
  const size = wanted.poles.reduce((sum, p) => sum + Math.log(abs(p)), 0) / wanted.poles.length
  const s = complex(wanted.zeros.some((z) => abs(z) === 0) ? Math.exp(size) : 0)
  return evaluate(wanted, s).re / evaluate(made, s).re
}

interface ChainLink {
  readonly section: SectionPlan
  /** The part of the chain that each of the section's own names is; the first section's entrance is two of the chain's. */
  readonly names: ReadonlyMap<string, string>
}

interface Chain extends Omit<Plan<void>, 'draw'> {
  readonly links: readonly ChainLink[]
  readonly divides: boolean
}

/** The slots of all sections under names that count on from section to section, and their values. */
function chainOf(sections: readonly SectionPlan[], before: { division: number; source: number }): Chain {
  const divides = before.division < 1 - ROUNDING
  const counters = new Map<string, number>()
  const name = (letter: string) => {
    const next = (counters.get(letter) ?? 0) + 1
    counters.set(letter, next)
    return `${letter}${next}`
  }
  const links = sections.map((section, k): ChainLink => {
    const own = section.slots.map((s) => s.id).sort((a, b) => a.localeCompare(b, 'en', { numeric: true }))
    const locals = own.flatMap((id) =>
      k === 0 && id === section.entrance ? [SERIES, ...(divides ? [SHUNT] : [])] : [id],
    )
    return { section, names: new Map(locals.map((id) => [id, name(id === SERIES || id === SHUNT ? 'R' : id[0])])) }
  })
  const [first] = links
  const slots = links.flatMap(({ section, names }) =>
    section.slots.flatMap((slot): Slot[] => {
      const id = names.get(slot.id)
      if (id !== undefined) return [{ ...slot, id }]
      return [SERIES, SHUNT].flatMap((part) => (names.has(part) ? [{ id: names.get(part)!, kind: 'resistor' }] : []))
    }),
  )
  return {
    slots,
    links,
    divides,
    solve(chosen) {
      const all: Record<string, number> = {}
      for (const link of links) {
        const { section, names } = link
        const held = [...names].flatMap(([local, id]) =>
          chosen[id] === undefined ? [] : [[local, chosen[id]] as const],
        )
        const values = section.solve(Object.fromEntries(held))
        if (!values) return null
        const driven = link === first && section.entrance !== null ? entrance(values[section.entrance], before) : {}
        if (driven[SERIES] <= 0) return null
        const local = { ...values, ...driven, ...Object.fromEntries(held) }
        for (const [own, id] of names) all[id] = local[own]
      }
      return all
    },
  }
}

/** What stands before a section that is driven through a resistance: together they have it, divided down. */
function entrance(resistance: number, { division, source }: { division: number; source: number }): Values {
  return { [SERIES]: resistance / division - source, [SHUNT]: resistance / (1 - division) }
}

function draw(
  { links, slots, divides }: Chain,
  given: { values: Values; computed: Values; source: number; load: number | undefined; title: string },
) {
  const sketch = new Sketch(given.values)
  const line = new Line(sketch)
  if (given.source > 0) line.resistor('RS', given.source)
  links.forEach(({ section, names }, k) => {
    const place: SectionPen['place'] = (local, x, y, rotation) => {
      const id = names.get(local)!
      return sketch.valued(id, slots.find((s) => s.id === id)!.kind, given.computed[id], x, y, rotation)
    }
    const pen = new SectionPen(line, place, (): End => {
      const reached = pen.across(k === 0 ? SERIES : section.entrance!)
      if (k > 0 || !divides) return reached
      pen.down(SHUNT)
      return line.tap(4)
    })
    line.level(0)
    section.draw(pen)
  })
  line.finish(given.load)
  return sketch.circuit(given.title)
}

function notMade(kinds: readonly SectionKind[], { zeros }: Factor, spec: FilterSpec, ideal: Ideal): VoskelError {
  const shapes = [...new Set(kinds.map((k) => k.shape))].join(' and ')
  if (zeros.length === 0)
    return impossible(
      'response',
      `These sections are ${shapes} ones; this response has poles that none of them makes.`,
      'Choose another response or family.',
    )
  if (spec.response !== 'lowpass')
    return impossible(
      'response',
      `These sections are ${shapes} ones; a ${spec.response} response is not offered with them yet.`,
      'Choose the lowpass response, or the family lc-ladder.',
    )
  return impossible(
    'approximation',
    ideal.equalizer
      ? `These ${shapes} sections cannot be all-pass, as the delay equaliser is.`
      : `These ${shapes} sections have no stop-band zeros.`,
    'Choose an approximation without them, or a family that has them: lc-ladder.',
  )
}

function tooMuchGain(gain: number, order: number): VoskelError {
  const db = 20 * Math.log10(gain)
  return impossible(
    'gain',
    `Unity-gain sections cannot amplify: this response of order ${order} has ${db.toFixed(3)} dB (a gain of ${gain.toPrecision(4)}) more than they have.`,
    `Ask for a gain that is lower by at least ${db.toFixed(3)} dB, and amplify elsewhere.`,
  )
}

const notDriven = (path: string) =>
  impossible(
    path,
    'The first of these sections is not driven through a resistor, which could take up a source resistance or divide the input.',
    'Take a source of 0 Ω and a gain of 0 dB, or buffer the source.',
  )

function sourceTooLarge(
  section: SectionPlan,
  { division, source, capacitor }: { division: number; source: number; capacitor: number },
): VoskelError {
  const driven = section.solve({})![section.entrance!] / division
  return impossible(
    'realization.capacitor',
    `The source resistance of ${formatQuantity(source, 'Ω')} is more than the ${formatQuantity(driven, 'Ω')} through which the first section is driven.`,
    `Choose a capacitor below ${formatQuantity((capacitor * driven) / source, 'F', 3)}, or buffer the source.`,
  )
}
