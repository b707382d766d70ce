import { Parameters } from './parameters.js'
import { VoskelError } from '../errors/VoskelError.js'
import type { Circuit, End, Part, Subcircuit } from './circuit.js'
import { effectiveValues, type Scope, scopeOf } from './effectiveValues.js'
import { partKind, partShape } from './parts/index.js'
import { type FlatElement, GROUND, type PartKind, shortedPins } from './parts/PartKind.js'

/** The circuit as every analysis takes it. */
export interface FlatCircuit {
  /** Names of the nets except ground; a net's index here is its unknown's index. */
  nodes: readonly string[]
  elements: readonly FlatElement[]
  /** Voltages, V, by unknown, from which a transient begins. */
  initial: ReadonlyMap<number, number>
  /** Things that are allowed and yet worth a look. */
  warnings: readonly string[]
  /** The circuit's own parameters. */
  parameters: Parameters
}

/** Deepest nesting of subcircuits; a definition that uses itself would go on for ever. */
const MAX_DEPTH = 50

/** Most elements and uses of subcircuits: nested definitions may multiply beyond any memory. */
const MOST_ELEMENTS = 500_000

/** The netlist's name of the ground net. */
export const GROUND_NAME = '0'

/**
 * Resolves wires and labels into nets, puts subcircuits in their places and checks every value.
 *
 * @throws VoskelError `CIRCUIT_INVALID` (duplicate name, impossible value, a wire's end that does not exist),
 *   `NOT_OFFERED`, `NO_GROUND`
 */
export function flatten(circuit: Circuit): FlatCircuit {
  const flat = new Flattening(circuit.subcircuits ?? {})
  flat.add(circuit, '', new Map(), 0, null)
  flat.checkTogether()
  if (!flat.grounded && flat.elements.length > 0) throw new VoskelError('NO_GROUND', {})
  return {
    nodes: flat.nodes,
    elements: flat.elements,
    initial: flat.initialVoltages(circuit.initial ?? {}),
    warnings: flat.warnings,
    parameters: new Parameters(circuit.parameters),
  }
}

class Flattening {
  readonly nodes: string[] = []
  readonly elements: (FlatElement & { refs: number[] })[] = []
  readonly warnings: string[] = []
  grounded = false
  private count = 0

  constructor(private readonly definitions: Readonly<Record<string, Subcircuit>>) {}

  /**
   * @param prefix `X1.` inside the subcircuit X1
   * @param outer nets handed in from outside by the name they have inside
   */
  add(
    circuit: Circuit | Subcircuit,
    prefix: string,
    outer: ReadonlyMap<string, number>,
    depth: number,
    around: Scope | null,
  ): void {
    const nets = resolveNets(circuit)
    const scope = scopeOf(circuit, around)
    const indexOf = new Map<string, number>()
    const nodeIndex = (net: string): number => {
      if (net === GROUND_NAME) {
        this.grounded = true
        return GROUND
      }
      const known = outer.get(net) ?? indexOf.get(net)
      if (known !== undefined) return known
      const index = this.nodes.push(prefix + net) - 1
      indexOf.set(net, index)
      return index
    }

    this.count += circuit.parts.length
    if (this.count > MOST_ELEMENTS) {
      throw invalid(
        prefix.slice(0, -1) || 'The circuit',
        `The circuit has more than ${MOST_ELEMENTS} elements, subcircuits included.`,
        'Simulate a part of it.',
      )
    }
    const seen = new Set<string>()
    const own = new Map<string, number>()
    const referring: [FlatElement & { refs: number[] }, readonly string[]][] = []
    for (const part of circuit.parts) {
      const key = part.id.toUpperCase()
      if (seen.has(key)) throw invalid(part.id, `Two parts are named "${part.id}".`, 'Give each part its own name.')
      seen.add(key)
      const kind = partKind(part.kind, part.id)
      if (kind.id === 'ground') {
        this.grounded = true
        continue
      }
      const name = prefix + part.id
      if (part.aside === 'open') continue
      if (kind.id === 'subcircuit') {
        this.addInstance(part, name, nets, nodeIndex, depth, scope)
        continue
      }
      const nodeOf = (pin: string) =>
        // A pin that nothing is joined to is a net of its own, or lies where it lies unless said otherwise.
        nodeIndex(nets.get(pinKey(part.id, pin)) ?? kind.optionalPins?.[pin] ?? `${part.id}:${pin}`)
      if (part.aside === 'short') {
        const joined = shortedPins(kind)
        if (!joined)
          throw invalid(name, `${name} has ${kind.pins.length} pins and cannot be shorted.`, 'Set it aside as open.')
        const nodes = joined.map(nodeOf)
        this.elements.push({ name, kind: partKind('voltage-source'), nodes, values: SHORT, refs: [] })
        continue
      }
      const nodes = kind.pins.map(nodeOf)
      const element = {
        name,
        kind,
        nodes,
        values: this.checkedValues(kind, name, part, scope),
        waveform: part.waveform,
        ...(part.acAs && { acAs: part.acAs }),
        refs: [] as number[],
      }
      own.set(key, this.elements.push(element) - 1)
      const named = part.refs?.length ?? 0
      if (named !== (kind.refersToParts ?? 0))
        throw invalid(
          name,
          `${name} names ${named} other parts; a ${kind.name.toLowerCase()} names ${kind.refersToParts ?? 'none'}.`,
          'Correct its list of parts.',
        )
      if (part.refs) referring.push([element, part.refs])
    }
    for (const [element, names] of referring) {
      for (const ref of names) {
        const index = own.get(ref.toUpperCase())
        if (index === undefined)
          throw invalid(
            element.name,
            `${element.name} refers to "${ref}", which does not exist here.`,
            'Add that part, or correct its name.',
          )
        element.refs.push(index)
      }
    }
  }

  /** What parts of one kind must keep together. */
  checkTogether(): void {
    const byKind = new Map<PartKind, FlatElement[]>()
    for (const element of this.elements) {
      if (!element.kind.checkTogether) continue
      if (!byKind.get(element.kind)?.push(element)) byKind.set(element.kind, [element])
    }
    for (const [kind, parts] of byKind) {
      const wrong = kind.checkTogether!(parts, this.elements)
      if (wrong) throw invalid(wrong.part, wrong.problem, wrong.fix)
    }
  }

  /** Initial voltages by unknown; names in any case. */
  initialVoltages(given: Readonly<Record<string, number>>): ReadonlyMap<number, number> {
    const found = new Map<number, number>()
    for (const [name, volts] of Object.entries(given)) {
      const index = this.nodes.findIndex((n) => n.toLowerCase() === name.toLowerCase())
      if (index < 0) {
        throw new VoskelError(
          'CIRCUIT_INVALID',
          {
            problem: `An initial voltage is given for the net "${name}", which does not exist.`,
            fix: 'Name a net of the circuit.',
          },
          { net: name },
        )
      }
      found.set(index, volts)
    }
    return found
  }

  private addInstance(
    part: Part,
    name: string,
    nets: Map<string, string>,
    nodeIndex: (net: string) => number,
    depth: number,
    scope: Scope,
  ): void {
    const definition = Object.hasOwn(this.definitions, part.definition ?? '') && this.definitions[part.definition ?? '']
    if (!definition) {
      throw invalid(name, `The subcircuit "${part.definition}" of ${name} is not defined.`, 'Add its .subckt … .ends.')
    }
    if (depth >= MAX_DEPTH) {
      throw invalid(
        name,
        `Subcircuit "${part.definition}" is nested more than ${MAX_DEPTH} deep: it uses itself.`,
        'Break the circle.',
      )
    }
    const inside = new Map<string, number>()
    definition.pins.forEach((pin, k) => {
      if (inside.has(pin) || pin === GROUND_NAME)
        throw invalid(
          name,
          pin === GROUND_NAME
            ? `Pin ${k + 1} of the subcircuit "${part.definition}" is ground, which every circuit has already.`
            : `Two pins of the subcircuit "${part.definition}" are named "${pin}".`,
          'Give each pin a net of its own inside.',
        )
      // A pin of a drawn use that nothing is joined to is a net of its own, as any other.
      const net = nets.get(pinKey(part.id, `p${k + 1}`)) ?? (part.pins && `${part.id}:${pin}`)
      if (net === undefined) throw invalid(name, `Pin ${k + 1} of ${name} is not connected.`, 'Connect it.')
      inside.set(pin, nodeIndex(net))
    })
    this.add(atThisPlace(definition, part, scope), `${name}.`, inside, depth + 1, scope)
  }

  /** Defaults, over them the model's values, over them the part's own, over them its formulas. */
  private checkedValues(kind: PartKind, name: string, part: Part, scope: Scope): Record<string, number> {
    const effective = atPart(name, () => effectiveValues(part, scope))
    const values: Record<string, number> = {}
    for (const field of kind.values) {
      const { value } = effective[field.id]!
      if (!Number.isFinite(value))
        throw invalid(
          name,
          `The ${field.name.toLowerCase()} of ${name} is not a finite number.`,
          `Give a value in ${field.unit || 'plain numbers'}.`,
        )
      if (field.range === 'nonzero' && value === 0) {
        throw invalid(
          name,
          `The ${field.name.toLowerCase()} of ${name} is 0.`,
          kind.id === 'resistor'
            ? 'Join its two nets instead, or give a small resistance.'
            : 'Give a value other than 0.',
        )
      }
      if (field.range !== 'any' && value < 0)
        this.warnings.push(`The ${field.name.toLowerCase()} of ${name} is negative.`)
      values[field.id] = value
    }
    const wrong = kind.check?.(values)
    if (wrong) throw invalid(name, `${name}: ${wrong.problem}.`, wrong.fix)
    return values
  }
}

/** The values of the source that stands for a shorted part. */
const SHORT = { bias: 0, acMagnitude: 0, acPhase: 0 }

const pinKey = (part: string, pin: string) => `${part}\u0000${pin}`

/** Runs a step whose errors are about this part. */
function atPart<T>(part: string, step: () => T): T {
  try {
    return step()
  } catch (error) {
    if (error instanceof VoskelError) throw error.at({ part })
    throw error
  }
}

function invalid(part: string, problem: string, fix: string): VoskelError {
  return new VoskelError('CIRCUIT_INVALID', { problem, fix }, { part })
}

/** A definition with the parameters that one of its uses gives, worked out where the use stands. */
function atThisPlace(definition: Subcircuit, part: Part, scope: Scope): Subcircuit {
  const given = { ...part.values, ...part.formulas }
  if (Object.keys(given).length === 0) return definition
  const parameters = { ...definition.parameters }
  for (const [name, value] of Object.entries(given)) {
    const own = Object.keys(parameters).find((p) => p.toLowerCase() === name.toLowerCase())
    if (own === undefined)
      throw invalid(
        part.id,
        `The subcircuit "${part.definition}" of ${part.id} has no parameter "${name}".`,
        `Its parameters are: ${Object.keys(parameters).join(', ') || 'none'}.`,
      )
    parameters[own] = typeof value === 'number' ? value : atPart(part.id, () => scope.parameters.evaluate(value))
  }
  return { ...definition, parameters }
}

/**
 * The net name of every pin, keyed `part NUL pin`. A net takes its label's name (the alphabetically first of several),
 * ground's name where a ground part sits on it, else `n1`, `n2`, … in the order of the parts.
 */
export function resolveNets(circuit: Circuit | Subcircuit): Map<string, string> {
  const parent = new Map<string, string>()
  const find = (key: string): string => {
    let root = key
    while (parent.get(root) !== undefined && parent.get(root) !== root) root = parent.get(root)!
    let walk = key
    while (walk !== root) {
      const next = parent.get(walk) ?? root
      parent.set(walk, root)
      walk = next
    }
    return root
  }
  const join = (a: string, b: string) => {
    const ra = find(a)
    const rb = find(b)
    if (ra !== rb) parent.set(ra, rb)
  }
  const pinsOf = new Map(circuit.parts.map((p) => [p.id, p]))
  const junctions = new Set(circuit.junctions.map((j) => j.id))
  const endKey = (end: End, owner: string): string => {
    if ('junction' in end) {
      if (!junctions.has(end.junction))
        throw invalid(
          owner,
          `${owner} ends at the junction "${end.junction}", which does not exist.`,
          'Remove it, or add the junction.',
        )
      return `\u0001${end.junction}`
    }
    const part = pinsOf.get(end.part)
    const kind = part && partKind(part.kind, part.id)
    const known = kind && (kind.id === 'subcircuit' ? /^p\d+$/.test(end.pin) : kind.pins.includes(end.pin))
    if (!known)
      throw invalid(
        owner,
        `${owner} ends at "${end.part}.${end.pin}", which does not exist.`,
        'Remove it, or add the part.',
      )
    return `${end.part}\u0000${end.pin}`
  }

  for (const wire of circuit.wires)
    join(endKey(wire.ends[0], `Wire ${wire.id}`), endKey(wire.ends[1], `Wire ${wire.id}`))
  const nameKey = (name: string) => `\u0002${name}`
  for (const label of circuit.labels) join(endKey(label.end, `Label ${label.id}`), nameKey(label.name))
  for (const part of circuit.parts) if (part.kind === 'ground') join(`${part.id}\u0000g`, nameKey(GROUND_NAME))

  const names = new Map<string, string>()
  names.set(find(nameKey(GROUND_NAME)), GROUND_NAME)
  for (const label of [...circuit.labels].sort((a, b) => (a.name < b.name ? -1 : 1))) {
    const root = find(nameKey(label.name))
    if (!names.has(root)) names.set(root, label.name)
  }

  const taken = new Set(circuit.labels.map((l) => l.name))
  const result = new Map<string, string>()
  let counter = 0
  const connected = new Set<string>()
  for (const wire of circuit.wires) for (const end of wire.ends) connected.add(endKey(end, wire.id))
  for (const label of circuit.labels) connected.add(endKey(label.end, label.id))
  // A symbol of ground is ground before any wire leads to it.
  for (const part of circuit.parts) if (part.kind === 'ground') connected.add(`${part.id}\u0000g`)
  for (const part of circuit.parts) {
    const pins = part.kind === 'subcircuit' ? subcircuitPins(connected, part) : partKind(part.kind, part.id).pins
    for (const pin of pins) {
      const key = `${part.id}\u0000${pin}`
      if (!connected.has(key)) continue
      const root = find(key)
      let name = names.get(root)
      if (name === undefined) {
        do name = `n${++counter}`
        while (taken.has(name))
        names.set(root, name)
      }
      result.set(key, name)
    }
  }
  return result
}

/** The pins of a use: as many as it says, else up to the first that nothing is joined to. */
function subcircuitPins(connected: ReadonlySet<string>, part: Part): readonly string[] {
  if (part.pins) return partShape(part).pins
  const pins: string[] = []
  for (let k = 1; connected.has(`${part.id}\u0000p${k}`); k++) pins.push(`p${k}`)
  return pins
}
