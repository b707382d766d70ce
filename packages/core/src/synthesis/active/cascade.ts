import type { Ideal } from '../../approximation/approximate.js'
import type { End } from '../../circuit/circuit.js'
import { nearestPreferred } from '../../quantity/preferredValues.js'
import type { ChoiceField, ValuesOf } from '../../specification/fields.js'
import { DEPTH, impossible, Line } from '../Line.js'
import type { Plan } from '../Plan.js'
import { HALF, type Rotation, Sketch, type Slot, type Values } from '../Sketch.js'
import { type Realized, type Topology, topology } from '../Topology.js'
import { amplifierOf } from './amplifier.js'
import { biquadOf } from './biquad.js'
import { type Factor, omegaOf } from './factors.js'
import type { FamilyForm, SectionFamily } from './families.js'
import { FIELDS } from './fields.js'
import { drawFigure } from './Figure.js'
import { distributed } from './gains.js'
import { drawFollower, front } from './front.js'
import { ordered } from './pairing.js'
import { magnitudeSensitivity, planSection, type SectionKind, type SectionPlan, slotKind } from './SectionKind.js'
import { biased } from './singleSupply.js'
import { chosenKind, goesAlone, notMade, tooMuchGain } from './refusals.js'

type Realization = ValuesOf<typeof FIELDS>

/** A gain this little off is rounding. */
const ROUNDING = 1e-9

/** Resistances lie around this where nothing is said, Ω. */
const LEVEL = 10e3

/** The parts before the first section's entrance: what its part becomes, and what divides the input down. */
const SERIES = 'series'
const SHUNT = 'shunt'

/**
 * The topology of a family of sections: each makes a factor of the response, and they follow each other. The first one's
 * entrance takes up the source resistance, and divides the input down where less gain is asked than the sections have; where
 * it cannot, an amplifier stands before it.
 */
export function cascade(family: SectionFamily): Topology {
  const { id, name, character, forms, companions } = family
  const own = [...new Set(forms.flatMap((f) => f.sections))]
  return topology({
    id,
    name,
    character,
    family: 'active',
    source: [...new Set(own.map((k) => k.source))].join('; '),
    formulas: [],
    fields: forms.length > 1 ? [variantField(forms), ...FIELDS] : FIELDS,
    plan({ spec, ideal, realization }) {
      refuseWithoutPoles(ideal)
      const { variant } = realization as { variant?: string }
      const form = forms.find((f) => f.id === variant) ?? forms[0]
      const kindOf = (factor: Factor): SectionKind => chosenKind(id, form.sections, companions, factor, { spec, ideal })
      const capacitor = capacitorOf(ideal, realization)
      const factors = ordered(ideal.transfer, ideal.passbands, realization.pairing, (factor) =>
        passbandSensitivity(kindOf(factor), factor, capacitor, ideal),
      )
      const kinds = factors.map(kindOf)
      const stranger = kinds.findIndex((k) => !goesAlone(k, form.sections))
      if (stranger >= 0 && !kinds.some((k) => form.sections.includes(k)))
        throw notMade(id, form.sections, factors[stranger], { spec, ideal })
      const refusesGain = form.amplifiesNot === true && spec.gain > 0
      return chained(name, { ideal, realization, factors, kinds, capacitor, refusesGain })
    },
  })
}

const variantField = (forms: readonly FamilyForm[]): ChoiceField => ({
  id: 'variant',
  name: 'Form',
  kind: 'choice',
  default: forms[0].id,
  choices: forms.map(({ id, name }) => ({ id, name })),
})

interface Chosen {
  readonly ideal: Ideal
  readonly realization: Realization
  readonly factors: readonly Factor[]
  readonly kinds: readonly SectionKind[]
  readonly capacitor: number
  readonly refusesGain: boolean
}

/** Sections chosen for the factors of a response, put in a chain. */
export function chained(name: string, chosen: Chosen): Plan<Realized> {
  const { ideal, realization, factors, kinds, capacitor } = chosen
  const { source, load, buffer } = realization
  const amplifier = amplifierOf(realization)
  const { gains, left } = distributed(kinds, factors, ideal, realization.gains)
  if (left > 1 + ROUNDING && chosen.refusesGain) throw tooMuchGain(left, ideal.order)
  const sections = factors.map((factor, k) => planSection(kinds[k], biquadOf(factor, gains[k]), capacitor))
  const lead = front({ first: sections[0], gain: left, source, level: LEVEL })
  const all = [...lead, ...sections]
  const division = Math.min(1, left)
  const chain = chainOf(all, { division, source })
  const sign = kinds.reduce((product, kind) => product * kind.sign, Math.sign(ideal.transfer.gain))
  return {
    ...chain,
    draw(values, computed) {
      const circuit = draw(chain, {
        values,
        computed,
        source,
        load: load === 'open' ? undefined : load,
        buffer,
        title: `${name}, order ${ideal.order}`,
        ...amplifier,
      })
      return {
        circuit: realization.supply === 'single' ? biased(circuit, amplifier.model) : circuit,
        referenceDb: 0,
        inverting: sign < 0,
        remarks: lead.map((stage) => stage.kind.name),
        sections: chain.links.map(({ section: { kind, wanted }, names }) => ({
          kind: kind.id,
          wanted,
          parts: Object.fromEntries(names),
        })),
      }
    },
  }
}

/** @throws VoskelError `REALIZATION_IMPOSSIBLE` where there is nothing for sections to do, or what would oscillate */
export function refuseWithoutPoles({ transfer }: Ideal): void {
  if (transfer.poles.length === 0)
    throw impossible(
      'response',
      'A response without poles is the same at all frequencies: there is nothing for sections to do.',
      'Give it poles.',
    )
  const edge = transfer.poles.find((p) => !(p.re < 0))
  if (edge)
    throw impossible(
      'response',
      'This response has poles on the axis or right of it: sections that made them would oscillate.',
      'Give poles left of the axis.',
    )
}

/** The size of a circuit's parts, which is said one way: F or Ω. */
interface Size {
  readonly capacitor?: number
  readonly level?: number
}

/** @throws VoskelError `REALIZATION_IMPOSSIBLE` where both are given */
export function refuseTwoSizes({ capacitor, level }: Size): void {
  if (capacitor !== undefined && level !== undefined)
    throw impossible(
      'realization.level',
      'The size is said twice: the capacitor and the level of the resistances follow from each other.',
      'Leave one of them out.',
    )
}

/** What capacitors come out around: as given, or so that resistances lie around a level. */
export function capacitorOf(ideal: Ideal, size: Size): number {
  refuseTwoSizes(size)
  const { capacitor, level } = size
  if (capacitor !== undefined) return capacitor
  const { poles } = ideal.transfer
  const w = Math.exp(poles.reduce((sum, p) => sum + Math.log(Math.hypot(p.re, p.im)), 0) / poles.length)
  const exact = 1 / (w * (level ?? LEVEL))
  return level === undefined ? nearestPreferred(exact, 'E6') : exact
}

/** What the parts of a section do to its magnitude in the passband, at the most: the sum over its parts. */
export function passbandSensitivity(kind: SectionKind, factor: Factor, capacitor: number, ideal: Ideal): number {
  const unit = biquadOf(factor, 1)
  const { least, most } = kind.gains(unit)
  const gain = Math.min(Math.max(least, 1), most)
  const values = kind.solve(biquadOf(factor, gain), capacitor, {})
  if (!values) return Infinity
  const edges = ideal.passbands.flat().filter((f) => f > 0 && Number.isFinite(f))
  const at = [omegaOf(factor), ...edges.map((f) => 2 * Math.PI * f)]
  return Math.max(...at.map((w) => magnitudeSensitivity(kind, values, w)))
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

/** R2 before R10. */
const COUNTING = new Intl.Collator('en', { numeric: true }).compare

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
    const own = section.slots.map((s) => s.id).sort(COUNTING)
    const locals = own.flatMap((id) =>
      k === 0 && id === section.kind.entrance ? [SERIES, ...(divides ? [SHUNT] : [])] : [id],
    )
    const letter = (id: string) => (id === SERIES || id === SHUNT ? section.kind.entrance! : id)[0]
    return { section, names: new Map(locals.map((id) => [id, name(letter(id))])) }
  })
  const [first] = links
  const slots = links.flatMap(({ section, names }) =>
    section.slots.flatMap((slot): Slot[] => {
      const id = names.get(slot.id)
      if (id !== undefined) return [{ ...slot, id }]
      return [SERIES, SHUNT].flatMap((part) => (names.has(part) ? [{ id: names.get(part)!, kind: slot.kind }] : []))
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
        const way = section.kind.entrance
        const driven = link === first && way !== null ? entrance(way, values[way], before) : {}
        if (driven[SERIES] <= 0) return null
        const local = { ...values, ...driven, ...Object.fromEntries(held) }
        for (const [own, id] of names) all[id] = local[own]
      }
      return all
    },
  }
}

/** What stands before a section that is driven through a part: together they have its impedance, divided down. */
function entrance(part: string, value: number, { division, source }: { division: number; source: number }): Values {
  if (slotKind(part) === 'capacitor') return { [SERIES]: value * division, [SHUNT]: value * (1 - division) }
  return { [SERIES]: value / division - source, [SHUNT]: value / (1 - division) }
}

interface Drawn {
  readonly values: Values
  readonly computed: Values
  readonly source: number
  readonly load: number | undefined
  readonly buffer: boolean
  readonly title: string
  readonly model: Readonly<Record<string, number>>
}

function draw({ links, slots, divides }: Chain, given: Drawn) {
  const sketch = new Sketch(given.values, given.model)
  const line = new Line(sketch)
  if (given.source > 0) line.resistor('RS', given.source)
  const kindOf = new Map(slots.map((s) => [s.id, s.kind]))
  links.forEach(({ section, names }, k) => {
    const place = (local: string, x: number, y: number, rotation?: Rotation) => {
      const id = names.get(local)!
      return sketch.valued(id, kindOf.get(id)!, given.computed[id], x, y, rotation)
    }
    line.level(0)
    const way = section.kind.entrance
    if (way === null) line.tap(2)
    else {
      line.through(place(k === 0 ? SERIES : way, line.x + 2 + HALF, line.y))
      line.tap(1)
      if (k === 0 && divides) {
        hang(line, place(SHUNT, line.x, line.y + DEPTH, 90))
        line.tap(6)
      }
    }
    const has = new Set([...names.keys()])
    drawFigure(
      line,
      section.kind.figure((part) => has.has(part)),
      place,
    )
  })
  if (given.buffer) drawFollower(line)
  line.finish(given.load)
  return sketch.circuit(given.title)
}

function hang({ sketch, end, x, y }: { sketch: Sketch; end: End; x: number; y: number }, id: string) {
  sketch.wire(end, { part: id, pin: 'a' })
  sketch.ground({ part: id, pin: 'b' }, x, y + DEPTH + HALF + 1)
}
