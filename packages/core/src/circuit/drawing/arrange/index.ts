import type { Circuit, GridPoint, Label, Part, Subcircuit } from '../../circuit.js'
import { NetMap } from '../../NetMap.js'
import { Boxes } from '../Boxes.js'
import { type Box, inflated, ring, symbolBox } from '../geometry.js'
import { candidatesOf, labelBox } from '../labels.js'
import { type PlacedPin, placedPins } from '../pins.js'
import { partTexts } from '../texts.js'
import type { Group } from './Group.js'
import { lay } from './lay.js'
import { groupBy } from './order.js'
import { type Ends, Sketch } from './Sketch.js'
import { type Cluster, wired } from './wire.js'

/** How far from where it would best lie a part that belongs to nothing is looked a place for, and the air around it. */
const FARTHEST = 200
const AIR = 1.5

/** Grid units that a wire leaves at both ends of a part's words. */
const BESIDE_WORDS = 0.5

/**
 * The circuit drawn anew, as an engineer would: the signal from left to right, what leads to a rail hanging from its net,
 * feedback over the top; wires where the eye can follow them, names elsewhere. It connects what it connected, under the same
 * names; a name that a wire says is kept without being shown.
 *
 * @param textOf what stands after a part's name; null for nothing
 * @param ends where the signal comes in and goes out, where that is known
 * @throws VoskelError as `resolveNets`
 */
export function arranged(circuit: Circuit, textOf: (part: Part) => string | null, ends: Ends = {}): Circuit {
  const { subcircuits } = circuit
  const drawn = arrangedAlone(circuit, textOf, ends)
  if (!subcircuits) return drawn
  const inside = Object.entries(subcircuits).map(([name, block]) => [name, blockArranged(block, circuit)] as const)
  return { ...drawn, subcircuits: Object.fromEntries(inside) }
}

/** A block's inside drawn anew, where nothing of it has a place. */
function blockArranged(block: Subcircuit, { models, parameters }: Circuit): Subcircuit {
  if (block.parts.some((p) => p.at)) return block
  const { pins, ...own } = block
  const output = pins.find((pin) => /^out/i.test(pin)) ?? pins.at(-1)
  const named = {
    ...own,
    models: { ...models, ...own.models },
    parameters: { ...parameters, ...own.parameters },
  }
  const { parts, wires, junctions, labels } = arrangedAlone(own, partTexts(named), {
    pins,
    ...(output !== undefined && { output }),
  })
  return { ...block, parts, wires, junctions, labels }
}

function arrangedAlone(circuit: Circuit, textOf: (part: Part) => string | null, ends: Ends): Circuit {
  const sketch = new Sketch(circuit, ends)
  const board = lay(sketch, textOf)
  const grounds = groundsOf(circuit, board)
  const parts = [...withPlaces(circuit, board), ...grounds.map((g) => g.part)]
  const names = new Names(sketch)
  for (const { part, pin, net, ground } of board.endings) if (!ground) names.show(net, { part, pin })
  for (const [net, [first]] of groupBy(board.joined, (j) => j.net))
    names.show(net, { part: first.part, pin: first.pin })
  const bare: Circuit = { ...circuit, parts, wires: [], junctions: [], labels: [] }
  const pins = placedPins(bare, new NetMap(bare)).map((p): PlacedPin => {
    const net = grounds.some((g) => g.part.id === p.part) ? '0' : sketch.members.get(p.part)?.nets.get(p.pin)
    return net === undefined ? p : { ...p, net }
  })
  const clusters = clustersOf(sketch, board, pins, grounds)
  const output = names.output(board, pins)
  if (output) clusters.find((c) => c.net === output.net)?.loose.push(output)
  const words = parts.flatMap((part) => wordsOf(part, textOf(part)))
  const { wires, junctions, named } = wired({ ...bare, labels: names.labels }, pins, clusters, board.ways, words)
  for (const { net, end } of named) names.show(net, end)
  if (output) names.show(output.net, { junction: output.id })
  names.rest(board, ends.pins ?? [])
  return { ...bare, wires, junctions, labels: names.labels }
}

/** Where a part's name and value stand by themselves. */
function wordsOf(part: Part, text: string | null): Box[] {
  if (part.kind === 'ground') return []
  const box = labelBox(part, text, candidatesOf(part, text)[0])
  return box ? [{ ...box, left: box.left - BESIDE_WORDS, right: box.right + BESIDE_WORDS }] : []
}

/** Symbols of ground, each with the pin that it stands at. */
function groundsOf(circuit: Circuit, board: Group) {
  const taken = new Set(circuit.parts.flatMap((p) => (p.kind === 'ground' ? [] : [p.id.toUpperCase()])))
  let count = 0
  return board.endings.flatMap(({ part, pin, ground }) => {
    if (!ground) return []
    do count++
    while (taken.has(`GND${count}`))
    const at = { ...ground, rotation: 0 as const }
    return [{ part: { id: `GND${count}`, kind: 'ground', values: {}, at } satisfies Part, of: { part, pin } }]
  })
}

/** All parts but ground in their places; what belongs to nothing, such as a coupling, near to what it refers to. */
function withPlaces(circuit: Circuit, board: Group): Part[] {
  const taken = new Boxes(board.boxes)
  const low = board.boxes.reduce((most, b) => Math.max(most, b.bottom), 0)
  return circuit.parts.flatMap((part): Part[] => {
    if (part.kind === 'ground') return []
    const { label: _moved, ...bare } = part
    const at = board.places.get(part.id)
    if (at) return [{ ...bare, at }]
    const near = board.places.get(part.refs?.[0] ?? '') ?? { x: 0, y: Math.ceil(low) + 2 }
    for (let far = 2; far < FARTHEST; far++)
      for (const { x, y } of ring({ x: near.x, y: near.y }, far)) {
        const lying = { ...bare, at: { x, y, rotation: 0 as const } }
        const box = inflated(symbolBox(lying)!, AIR)
        if (!taken.isFree(box)) continue
        taken.insert(box)
        return [lying]
      }
    return [{ ...bare, at: { ...near, rotation: 0 } }]
  })
}

/** What is to be joined by wires: the pins of each net; of rails and names each pin with its symbol and its neighbours. */
function clustersOf(
  sketch: Sketch,
  board: Group,
  pins: readonly PlacedPin[],
  grounds: ReturnType<typeof groundsOf>,
): Cluster[] {
  const clusters = new Map<string, Cluster>()
  const add = (key: string, net: string, pin: PlacedPin) => {
    const known = clusters.get(key)
    if (known) known.pins.push(pin)
    else clusters.set(key, { net, pins: [pin], loose: [] })
  }
  const pinOf = new Map(pins.map((p) => [`${p.part} ${p.pin}`, p]))
  const ended = new Map<string, string>()
  for (const { part, pin, net } of board.endings) {
    ended.set(`${part} ${pin}`, `${part} ${pin}`)
    if (!ended.has(`${part} net ${net}`)) ended.set(`${part} net ${net}`, `${part} ${pin}`)
  }
  const joined = new Set(board.joined.map(({ part, pin }) => `${part} ${pin}`))
  const groundOf = new Map(grounds.map(({ part, of }) => [`${of.part} ${of.pin}`, part.id]))
  for (const pin of pins) {
    if (!sketch.members.get(pin.part)?.nets.has(pin.pin)) continue
    if (!sketch.isSymbol(pin.net)) {
      add(pin.net, pin.net, pin)
      continue
    }
    if (joined.has(`${pin.part} ${pin.pin}`)) {
      add(pin.net, pin.net, pin)
      continue
    }
    const key = ended.get(`${pin.part} ${pin.pin}`) ?? ended.get(`${pin.part} net ${pin.net}`)!
    add(`\u0000${key}`, pin.net, pin)
    const ground = groundOf.get(`${pin.part} ${pin.pin}`)
    if (ground !== undefined) add(`\u0000${key}`, pin.net, pinOf.get(`${ground} g`)!)
  }
  return [...clusters.values()]
}

/** The names of nets: those of the circuit, each once at least, shown where the eye needs them. */
class Names {
  readonly labels: Label[] = []
  private readonly given: ReadonlySet<string>
  private readonly said = new Set<string>()

  constructor(private readonly sketch: Sketch) {
    this.given = new Set(sketch.circuit.labels.map((l) => l.name))
    const { input } = sketch
    const [pin] = input === null ? [] : sketch.nets.pinsOf(input)
    if (input !== null && this.given.has(input) && pin) {
      const source = sketch.hangingOf(input).find((h) => h.link.part.kind.endsWith('-source'))
      this.show(input, source ? { part: source.link.part.id, pin: source.pin } : { ...pin })
    }
  }

  show(name: string, end: Label['end']): void {
    this.said.add(name)
    this.labels.push({ id: this.nextId(), name, end })
  }

  private readonly nextId = () => `N${this.labels.length + 1}`

  /** Where the output's name stands: at the end of its line, where nothing else is. */
  output(board: Group, pins: readonly PlacedPin[]): { net: string; id: string; at: GridPoint } | null {
    const net = this.sketch.output
    const line = board.lines.find((l) => l.net === net)
    if (net === null || !line || !this.given.has(net) || this.said.has(net)) return null
    const at = { x: line.right, y: line.y }
    return pins.some((p) => p.at.x === at.x && p.at.y === at.y) ? null : { net, id: 'J0', at }
  }

  /** What is not said yet: the output and a block's pins at a pin of a part, other names without being shown. */
  rest(board: Group, shown: readonly string[]): void {
    for (const name of this.given) {
      if (this.said.has(name)) continue
      const end = this.sketch.nets.pinsOf(name).find(({ part }) => board.places.has(part))
      if (!end) continue
      if (name === this.sketch.output || shown.includes(name)) this.show(name, { ...end })
      else this.labels.push({ id: this.nextId(), name, end: { ...end }, shown: false })
    }
  }
}
