import type { Circuit, Model, Part, Subcircuit } from '../../circuit/circuit.js'
import { resolveNets } from '../../circuit/flatten.js'
import { Parameters } from '../../circuit/parameters.js'
import { partKind } from '../../circuit/parts/index.js'
import type { CardWriter, PartKind } from '../../circuit/parts/PartKind.js'
import { writeNumber } from './number.js'
import { OpampDefinitions } from './opamps.js'
import type { AnalysisCard } from './readNetlist.js'

/**
 * The circuit as a netlist. Geometry is left out, real parts are written as the ideal ones that they are made of (at
 * 27 °C); the rest reads back to the same circuit.
 */
export function writeNetlist(circuit: Circuit, analyses: readonly AnalysisCard[] = []): string {
  const opamps = new OpampDefinitions(Object.keys(circuit.subcircuits ?? {}))
  const outer: Scope = { parameters: new Parameters(circuit.parameters), models: circuit.models ?? {} }
  const body = scopeLines(circuit, outer, opamps)
  const definitions: string[] = []
  for (const [name, definition] of Object.entries(circuit.subcircuits ?? {})) {
    const scope = {
      parameters: new Parameters(definition.parameters, outer.parameters),
      models: { ...outer.models, ...definition.models },
    }
    definitions.push(`.subckt ${name} ${definition.pins.join(' ')}`, ...scopeLines(definition, scope, opamps), '.ends')
  }
  const title = circuit.title?.replace(/[\r\n]+/g, ' ') || 'Voskel circuit'
  const initial = Object.entries(circuit.initial ?? {}).map(([net, v]) => `v(${netlistNode(net)})=${writeNumber(v)}`)
  const cards = [
    ...(initial.length > 0 ? [['.ic', ...initial].join(' ')] : []),
    ...analyses.map((a) => [`.${a.analysis}`, ...a.words].join(' ')),
  ]
  return [title, ...body, ...definitions, ...opamps.lines(), ...cards, '.end', ''].join('\n')
}

/** What names mean where a part stands. */
interface Scope {
  readonly parameters: Parameters
  readonly models: Readonly<Record<string, Model>>
}

/** Parameters, models and elements of a circuit or subcircuit. */
function scopeLines(circuit: Circuit | Subcircuit, scope: Scope, opamps: OpampDefinitions): string[] {
  const parameters = Object.entries(circuit.parameters ?? {}).map(
    ([name, value]) => `.param ${name}=${typeof value === 'number' ? writeNumber(value) : `{${value}}`}`,
  )
  const models = Object.entries(circuit.models ?? {}).flatMap(([name, model]) => {
    const { modelType } = partKind(model.kind)
    if (!modelType) return []
    const values = Object.entries(model.values).map(([field, value]) => `${field.toUpperCase()}=${writeNumber(value)}`)
    return [`.model ${name} ${modelType} (${values.join(' ')})`]
  })
  return [...parameters, ...elementLines(circuit, scope, opamps), ...models]
}

/** Every value of a part as a number: its kind's defaults, its model's, its own, its formulas. */
function numbersOf(part: Part, kind: PartKind, { parameters, models }: Scope): Record<string, number> {
  const model = Object.entries(models).find(([name]) => name.toLowerCase() === part.model?.toLowerCase())?.[1]
  const formulas = Object.entries(part.formulas ?? {}).map(([id, text]) => [id, parameters.evaluate(text)] as const)
  return {
    ...Object.fromEntries(kind.values.map((f) => [f.id, f.default])),
    ...model?.values,
    ...part.values,
    ...Object.fromEntries(formulas),
  }
}

function elementLines(circuit: Circuit | Subcircuit, scope: Scope, opamps: OpampDefinitions): string[] {
  const nets = resolveNets(circuit)
  const names = new Map(circuit.parts.map((part) => [part.id, elementName(part, partKind(part.kind, part.id).letter)]))
  const lines: string[] = []
  for (const part of circuit.parts) {
    const kind = partKind(part.kind, part.id)
    const net = (pin: string) => nets.get(`${part.id}\u0000${pin}`) ?? kind.optionalPins?.[pin] ?? `${part.id}_${pin}`
    const node = (pin: string) => netlistNode(net(pin))
    if (part.aside === 'open') continue
    if (part.aside === 'short') {
      lines.push([elementName(part, 'V'), ...kind.pins.map(node), 'DC 0'].join(' '))
      continue
    }
    if (kind.id === 'subcircuit') {
      const pins: string[] = []
      for (let k = 1; nets.has(`${part.id}\u0000p${k}`); k++) pins.push(node(`p${k}`))
      lines.push([elementName(part, 'X'), ...pins, part.definition].join(' '))
      continue
    }
    if (kind.id === 'opamp') {
      lines.push([elementName(part, 'X'), ...kind.pins.map(node), opamps.use(numbersOf(part, kind, scope))].join(' '))
      continue
    }
    const elements = kind.netlist?.(numbersOf(part, kind, scope))
    if (elements) {
      for (const { letter, suffix, pins, senses, value } of elements) {
        const words = [
          `${elementName(part, letter)}${suffix}`,
          ...pins.map(node),
          ...(senses ? [elementName(part, senses)] : []),
          writeNumber(value),
        ]
        lines.push(words.join(' '))
      }
    } else if (kind.card) {
      const written = kind.card.write(part, writerOf(part, kind, names))
      lines.push([elementName(part, kind.letter), ...kind.pins.map(node), written].join(' '))
    }
  }
  return lines
}

function writerOf(part: Part, kind: PartKind, names: ReadonlyMap<string, string>): CardWriter {
  return {
    number: writeNumber,
    name: (id) => names.get(id) ?? id,
    value(field) {
      const formula = part.formulas?.[field]
      if (formula !== undefined) return `{${formula}}`
      return writeNumber(part.values[field] ?? kind.values.find((f) => f.id === field)!.default)
    },
  }
}

/** A part's name with the letter that the netlist needs in front. */
function elementName(part: Part, letter: string): string {
  const name = part.id.replace(/[\s(),=;{}]+/g, '_')
  return name[0].toUpperCase() === letter ? name : letter + name
}

function netlistNode(net: string): string {
  return net.replace(/[\s(),=;:]+/g, '_').toLowerCase()
}
