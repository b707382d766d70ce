import type { Circuit, Part, Subcircuit } from '../../circuit/circuit.js'
import { effectiveValues, type Scope, scopeOf } from '../../circuit/effectiveValues.js'
import { GROUND_NAME } from '../../circuit/flatten.js'
import { NetMap } from '../../circuit/NetMap.js'
import { partKind } from '../../circuit/parts/index.js'
import { type CardWriter, type PartKind, shortedPins } from '../../circuit/parts/PartKind.js'
import { netlistExpression } from './expression.js'
import { legalWord, Naming } from './naming.js'
import { writeNumber, writeScaled } from './number.js'
import { OpampDefinitions } from './opamps.js'
import type { AnalysisCard } from './readNetlist.js'

/** A netlist, and what of the circuit it has no words for: a sentence each. */
export interface WrittenNetlist {
  readonly text: string
  readonly losses: readonly string[]
}

/**
 * The circuit as a netlist. Geometry is left out, real parts are written as the ideal ones that they are made of (at
 * 27 °C); the rest reads back to the same circuit. Names that a netlist would take for one another, or for something
 * else, are changed.
 *
 * @param look `scaled`: numbers with scales where they have one, as people write them
 * @throws VoskelError `NOT_IN_NETLIST` for a waveform without a word, `CIRCUIT_INVALID`, `EXPRESSION_INVALID`
 */
export function writeNetlist(
  circuit: Circuit,
  analyses: readonly AnalysisCard[] = [],
  look: 'plain' | 'scaled' = 'plain',
): WrittenNetlist {
  const document = new Document(circuit, look === 'scaled' ? writeScaled : writeNumber)
  const outer: Place = { nets: new Naming(), scope: scopeOf(circuit), where: '' }
  const body = document.linesOf(circuit, outer)
  const definitions: string[] = []
  for (const [name, definition] of Object.entries(circuit.subcircuits ?? {})) {
    const place: Place = {
      nets: new Naming(),
      scope: scopeOf(definition, outer.scope),
      where: ` in the subcircuit ${name}`,
    }
    const lines = document.linesOf(definition, place)
    const pins = definition.pins.map((pin) => place.nets.name(pin, netWord(pin)))
    definitions.push(`.subckt ${document.subcircuits.name(name)} ${pins.join(' ')}`, ...lines, '.ends')
  }
  const title = circuit.title?.replace(/[\p{Cc}\p{Zl}\p{Zp}]+/gu, ' ').trim() || 'Voskel circuit'
  const initial = Object.entries(circuit.initial ?? {}).map(
    ([net, v]) => `v(${initialNet(outer, net)})=${document.number(v)}`,
  )
  const cards = [
    ...(initial.length > 0 ? [['.ic', ...initial].join(' ')] : []),
    ...analyses.map((a) => [`.${a.analysis}`, ...a.words.flatMap((w) => w.split(/[\s;]+/))].join(' ').trim()),
  ]
  const text = [title, ...body, ...definitions, ...document.opamps.lines(), ...cards, '.end', ''].join('\n')
  return { text, losses: [...document.losses] }
}

/** Where a part stands: what names mean there, and what the netlist calls its nets. */
interface Place {
  readonly nets: Naming
  readonly scope: Scope
  /** For messages: ` in the subcircuit x`, or nothing. */
  readonly where: string
}

const netWord = (net: string) => legalWord(net).toLowerCase()

/** Initial voltages name nets in any case, and those inside subcircuits by their path. */
function initialNet({ nets }: Place, net: string): string {
  return nets.maybeName(net) ?? netWord(net)
}

/** What is one for the whole netlist: the names of models, subcircuits and amplifiers, and what was lost. */
class Document {
  readonly models = new Naming()
  readonly subcircuits = new Naming()
  readonly opamps: OpampDefinitions
  readonly losses = new Set<string>()

  constructor(
    circuit: Circuit,
    readonly number: (value: number) => string,
  ) {
    const scopes = [circuit, ...Object.values(circuit.subcircuits ?? {})]
    this.models.reserve(scopes.flatMap((scope) => Object.keys(scope.models ?? {}).map((name) => name.toLowerCase())))
    this.subcircuits.reserve(Object.keys(circuit.subcircuits ?? {}))
    this.opamps = new OpampDefinitions(this.subcircuits)
  }

  /** Parameters, elements and models of a circuit or subcircuit. */
  linesOf(circuit: Circuit | Subcircuit, place: Place): string[] {
    const parameters = Object.entries(circuit.parameters ?? {}).map(
      ([name, value]) =>
        `.param ${name}=${typeof value === 'number' ? this.number(value) : `{${netlistExpression(value)}}`}`,
    )
    const models = Object.entries(circuit.models ?? {}).flatMap(([name, { kind, values }]) =>
      this.modelLine(this.models.name(name.toLowerCase()), partKind(kind), values),
    )
    const elements = new Elements(circuit, place, this)
    return [...parameters, ...elements.lines(), ...models, ...elements.models]
  }

  modelLine(name: string, kind: PartKind, values: Readonly<Record<string, number>>): string[] {
    if (!kind.modelType) return []
    const words = Object.entries(values).map(([field, value]) => `${field.toUpperCase()}=${this.number(value)}`)
    return [`.model ${name} ${kind.modelType} (${words.join(' ')})`]
  }
}

/** The elements of one circuit or subcircuit. */
class Elements {
  /** Models of parts that carry their model's values themselves. */
  readonly models: string[] = []
  private readonly joined: NetMap
  private readonly names = new Naming()

  constructor(
    private readonly circuit: Circuit | Subcircuit,
    private readonly place: Place,
    private readonly document: Document,
  ) {
    this.joined = new NetMap(circuit)
    const nets = new Set([GROUND_NAME, ...('pins' in circuit ? circuit.pins : []), ...this.joined.nets])
    place.nets.reserve(nets, netWord)
    const parts = new Map(circuit.parts.map((part) => [part.id.toUpperCase(), part]))
    this.names.reserve(parts.keys(), (key) => {
      const part = parts.get(key)!
      if (isCalledLikeUse(part)) return part.id
      return withLetter(part.id, partKind(part.kind, part.id).letter)
    })
  }

  lines(): string[] {
    return this.circuit.parts.filter((part) => part.aside !== 'open').flatMap((part) => this.partLines(part))
  }

  private partLines(part: Part): string[] {
    const kind = partKind(part.kind, part.id)
    if (part.aside === 'short')
      return [
        [this.element(part, 'V'), ...(shortedPins(kind) ?? []).map((pin) => this.node(part, pin)), 'DC 0'].join(' '),
      ]
    if (kind.id === 'subcircuit') {
      const pins: string[] = part.pins ? part.pins.map((_, k) => this.node(part, `p${k + 1}`)) : []
      for (let k = pins.length + 1; this.joined.netOf(part.id, `p${k}`) !== null; k++)
        pins.push(this.node(part, `p${k}`))
      const given = [
        ...Object.entries(part.values).map(([name, value]) => `${name}=${this.document.number(value)}`),
        ...Object.entries(part.formulas ?? {}).map(([name, formula]) => `${name}={${netlistExpression(formula)}}`),
      ]
      const use = this.document.subcircuits.name(part.definition!)
      return [[this.element(part, 'X'), ...pins, use, ...given].join(' ')]
    }
    const nodes = kind.pins.map((pin) => this.node(part, pin))
    const lost = this.lost(part, kind)
    if (kind.id === 'opamp')
      return [...lost, [this.element(part, 'X'), ...nodes, this.document.opamps.use(this.numbers(part))].join(' ')]
    const elements = kind.netlist?.(this.numbers(part))
    if (elements) {
      const lines = elements.map(({ letter, suffix, pins, senses, value }) =>
        [
          this.element(part, letter, suffix),
          ...pins.map((pin) => this.node(part, pin)),
          ...(senses ? [this.element(part, senses)] : []),
          this.document.number(value),
        ].join(' '),
      )
      return [...lost, ...lines]
    }
    if (!kind.card) return []
    const written = kind.card.write({ ...part, ...this.model(part, kind) }, this.writer(part, kind))
    return [...lost, [this.element(part, kind.letter), ...nodes, written].join(' ')]
  }

  /** The element's name; one part may stand for several elements, told apart by letter and suffix. */
  private element(part: Part, letter: string, suffix = ''): string {
    const key = part.id.toUpperCase()
    const own = partKind(part.kind, part.id).letter
    if (suffix === '' && (letter === own || isCalledLikeUse(part))) return this.names.name(key)
    return this.names.name(`${key}\u0000${letter}${suffix}`, withLetter(this.names.name(key), letter) + suffix)
  }

  private node(part: Part, pin: string): string {
    const kind = partKind(part.kind, part.id)
    const net = this.joined.netOf(part.id, pin) ?? kind.optionalPins?.[pin]
    // A pin that nothing is joined to, or a net inside the part, is a net of its own.
    return net === undefined
      ? this.place.nets.name(`${part.id}\u0000${pin}`, netWord(`${part.id}_${pin}`))
      : this.place.nets.name(net, netWord(net))
  }

  private numbers(part: Part): Record<string, number> {
    const effective = Object.entries(effectiveValues(part, this.place.scope))
    return Object.fromEntries(effective.map(([id, { value }]) => [id, value]))
  }

  /** A device needs a model in a netlist; one whose values are its own, or that has none, gets one of its own. */
  private model(part: Part, kind: PartKind): { model?: string } {
    if (!kind.modelType) return {}
    const fields = kind.values.filter((f) => f.ofModel).map((f) => f.id)
    const own = fields.some((id) => part.values[id] !== undefined || part.formulas?.[id] !== undefined)
    if (part.model !== undefined && !own) return { model: this.document.models.name(part.model.toLowerCase()) }
    const effective = effectiveValues(part, this.place.scope)
    const given = Object.fromEntries(
      fields.filter((id) => effective[id]!.from !== 'default').map((id) => [id, effective[id]!.value]),
    )
    const name = this.document.models.name(`${part.id}\u0000${this.place.where}`, `${legalWord(part.id)}_model`)
    this.models.push(...this.document.modelLine(name, kind, given))
    return { model: name }
  }

  /** A comment line, and a loss, for values that a netlist has no words for. */
  private lost(part: Part, kind: PartKind): string[] {
    const numbers = kind.notInNetlist ? this.numbers(part) : {}
    const fields = kind.values.filter((f) => kind.notInNetlist?.includes(f.id) && numbers[f.id] !== f.default)
    if (fields.length === 0) return []
    const what = fields.map((f) => f.name.replace(/ \(.*\)$/, '').toLowerCase()).join(', ')
    this.document.losses.add(`A netlist has no words for the ${what} of ${part.id}${this.place.where}.`)
    return [`* ${this.element(part, kind.letter)}: a netlist has no words for its ${what}`]
  }

  private writer(part: Part, kind: PartKind): CardWriter {
    const { number } = this.document
    return {
      number,
      name: (id) => this.names.name(id.toUpperCase(), id),
      value(field) {
        const formula = part.formulas?.[field]
        if (formula !== undefined) return `{${netlistExpression(formula)}}`
        return number(part.values[field] ?? kind.values.find((f) => f.id === field)!.default)
      },
    }
  }
}

/** A part's name with the letter that the netlist needs in front. */
function withLetter(id: string, letter: string): string {
  const name = legalWord(id)
  return name[0].toUpperCase() === letter && name.length > 1 ? name : letter + name
}

/** An amplifier is written as a use of a subcircuit, and may be called like one; `XU1` stands for `U1`. */
const isCalledLikeUse = ({ kind, id }: Part) => kind === 'opamp' && /^x[^u]/i.test(id)
