import type { Circuit, Part, Subcircuit } from '../../circuit/circuit.js'
import { resolveNets } from '../../circuit/flatten.js'
import { partKind } from '../../circuit/parts/index.js'
import { writeNumber } from './number.js'
import type { AnalysisCard } from './readNetlist.js'

/**
 * The circuit as a netlist. Geometry and what the netlist has no words for (values by formula) are left out;
 * the rest reads back to the same circuit.
 */
export function writeNetlist(circuit: Circuit, analyses: readonly AnalysisCard[] = []): string {
  const opamps = new OpampDefinitions(Object.keys(circuit.subcircuits ?? {}))
  const body = elementLines(circuit, opamps)
  const definitions: string[] = []
  for (const [name, definition] of Object.entries(circuit.subcircuits ?? {})) {
    definitions.push(`.subckt ${name} ${definition.pins.join(' ')}`, ...elementLines(definition, opamps), '.ends')
  }
  const title = circuit.title?.replace(/[\r\n]+/g, ' ') || 'Voskel circuit'
  const cards = analyses.map((a) => [`.${a.analysis}`, ...a.words].join(' '))
  return [title, ...body, ...definitions, ...opamps.lines(), ...cards, '.end', ''].join('\n')
}

function elementLines(scope: Circuit | Subcircuit, opamps: OpampDefinitions): string[] {
  const nets = resolveNets(scope)
  const lines: string[] = []
  for (const part of scope.parts) {
    const kind = partKind(part.kind, part.id)
    const node = (pin: string) => netlistNode(nets.get(`${part.id}\u0000${pin}`) ?? `${part.id}_${pin}`)
    if (kind.id === 'subcircuit') {
      const pins: string[] = []
      for (let k = 1; nets.has(`${part.id}\u0000p${k}`); k++) pins.push(node(`p${k}`))
      lines.push([elementName(part, 'X'), ...pins, part.definition].join(' '))
    } else if (kind.id === 'opamp') {
      lines.push([elementName(part, 'X'), ...kind.pins.map(node), opamps.use(part.values.gain)].join(' '))
    } else if (kind.card) {
      lines.push([elementName(part, kind.letter), ...kind.pins.map(node), kind.card.write(part, writeNumber)].join(' '))
    }
  }
  return lines
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
