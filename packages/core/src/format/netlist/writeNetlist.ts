import type { Circuit, Part, Subcircuit } from '../../circuit/circuit.js'
import { resolveNets } from '../../circuit/flatten.js'
import { partKind } from '../../circuit/parts/index.js'
import type { CardWriter, PartKind } from '../../circuit/parts/PartKind.js'
import { writeNumber } from './number.js'
import type { AnalysisCard } from './readNetlist.js'

/**
 * The circuit as a netlist. Geometry and what the netlist has no words for (values by formula) are left out;
 * the rest reads back to the same circuit.
 */
export function writeNetlist(circuit: Circuit, analyses: readonly AnalysisCard[] = []): string {
  const opamps = new OpampDefinitions(Object.keys(circuit.subcircuits ?? {}))
  const body = scopeLines(circuit, opamps)
  const definitions: string[] = []
  for (const [name, definition] of Object.entries(circuit.subcircuits ?? {})) {
    definitions.push(`.subckt ${name} ${definition.pins.join(' ')}`, ...scopeLines(definition, opamps), '.ends')
  }
  const title = circuit.title?.replace(/[\r\n]+/g, ' ') || 'Voskel circuit'
  const initial = Object.entries(circuit.initial ?? {}).map(([net, v]) => `v(${netlistNode(net)})=${writeNumber(v)}`)
  const cards = [
    ...(initial.length > 0 ? [['.ic', ...initial].join(' ')] : []),
    ...analyses.map((a) => [`.${a.analysis}`, ...a.words].join(' ')),
  ]
  return [title, ...body, ...definitions, ...opamps.lines(), ...cards, '.end', ''].join('\n')
}

/** Parameters, models and elements of a circuit or subcircuit. */
function scopeLines(scope: Circuit | Subcircuit, opamps: OpampDefinitions): string[] {
  const parameters = Object.entries(scope.parameters ?? {}).map(
    ([name, value]) => `.param ${name}=${typeof value === 'number' ? writeNumber(value) : `{${value}}`}`,
  )
  const models = Object.entries(scope.models ?? {}).map(([name, model]) => {
    const values = Object.entries(model.values).map(([field, value]) => `${field.toUpperCase()}=${writeNumber(value)}`)
    return `.model ${name} ${partKind(model.kind).modelType} (${values.join(' ')})`
  })
  return [...parameters, ...elementLines(scope, opamps), ...models]
}

function elementLines(scope: Circuit | Subcircuit, opamps: OpampDefinitions): string[] {
  const nets = resolveNets(scope)
  const names = new Map(scope.parts.map((part) => [part.id, elementName(part, partKind(part.kind, part.id).letter)]))
  const lines: string[] = []
  for (const part of scope.parts) {
    const kind = partKind(part.kind, part.id)
    const net = (pin: string) => nets.get(`${part.id}\u0000${pin}`) ?? kind.optionalPins?.[pin] ?? `${part.id}_${pin}`
    const node = (pin: string) => netlistNode(net(pin))
    if (part.aside === 'open') continue
    if (part.aside === 'short') {
      lines.push([elementName(part, 'V'), ...kind.pins.map(node), 'DC 0'].join(' '))
    } else if (kind.id === 'subcircuit') {
      const pins: string[] = []
      for (let k = 1; nets.has(`${part.id}\u0000p${k}`); k++) pins.push(node(`p${k}`))
      lines.push([elementName(part, 'X'), ...pins, part.definition].join(' '))
    } else if (kind.id === 'opamp') {
      lines.push([elementName(part, 'X'), ...kind.pins.map(node), opamps.use(part.values.gain)].join(' '))
    } else if (kind.netlist) {
      const values = { ...Object.fromEntries(kind.values.map((f) => [f.id, f.default])), ...part.values }
      const name = part.id.replace(/[\s(),=;{}]+/g, '_')
      for (const { letter, suffix, pins, senses, value } of kind.netlist({ values })) {
        const words = [
          `${letter}${name}${suffix}`,
          ...pins.map(node),
          ...(senses ? [`${senses}${name}`] : []),
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
  const name = part.id.replace(/[\s(),=;]+/g, '_')
  return name[0].toUpperCase() === letter ? name : letter + name
}

function netlistNode(net: string): string {
  return net.replace(/[\s(),=;:]+/g, '_').toLowerCase()
}

/** One subcircuit for each gain of operational amplifier in use. */
class OpampDefinitions {
  private readonly names = new Map<number, string>()

  constructor(private readonly taken: readonly string[]) {}

  use(gain: number): string {
    let name = this.names.get(gain)
    if (name === undefined) {
      name = `opamp${this.names.size + 1}`
      while (this.taken.includes(name)) name += '_'
      this.names.set(gain, name)
    }
    return name
  }

  lines(): string[] {
    return [...this.names].flatMap(([gain, name]) => [
      `.subckt ${name} plus minus out`,
      `E1 out 0 plus minus ${writeNumber(gain)}`,
      '.ends',
    ])
  }
}
