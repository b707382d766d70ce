import { VoskelError } from '../../errors/VoskelError.js'
import type { Circuit, Label, Part, Subcircuit } from '../../circuit/circuit.js'
import { partKinds } from '../../circuit/parts/index.js'
import type { CardReader, PartKind } from '../../circuit/parts/PartKind.js'
import { type Waveform, waveformKinds } from '../../circuit/waveforms/index.js'
import { netlistNumber } from './number.js'
import { type Card, type Token, tokenize } from './tokens.js'

/** An analysis that a netlist asks for: `.ac`, `.tran` or `.op` with its words. */
export interface AnalysisCard {
  readonly analysis: 'ac' | 'tran' | 'op'
  readonly words: readonly string[]
}

export interface NetlistContent {
  circuit: Circuit
  analyses: AnalysisCard[]
  warnings: string[]
}

const kindByLetter = new Map<string, PartKind>(partKinds.filter((k) => k.card).map((k) => [k.letter, k]))
const offeredLetters = [...kindByLetter.keys(), 'X'].sort()
const DOT_CARDS = ['.ac', '.end', '.ends', '.op', '.subckt', '.tran']

/**
 * Reads a netlist. Every node becomes a label on the pins that meet there; geometry is absent.
 *
 * @throws VoskelError `NETLIST_SYNTAX` with line and column for whatever is not understood
 */
export function readNetlist(text: string): NetlistContent {
  const { title, cards } = tokenize(text)
  const main = new Scope()
  const subcircuits: Record<string, Subcircuit> = {}
  const analyses: AnalysisCard[] = []
  const warnings: string[] = []
  let open: { name: string; pins: string[]; scope: Scope; token: Token } | null = null
  let ended: Token | null = null

  if (looksLikeElement(title)) {
    warnings.push(`The first line, "${title}", is taken as the title, not as an element.`)
  }
  for (const card of cards) {
    const head = card[0]
    const word = head.text.toLowerCase()
    if (ended) {
      warnings.push(`Line ${head.line} and what follows stands after .end and is not read.`)
      break
    }
    if (!word.startsWith('.')) {
      readElement(card, open?.scope ?? main)
    } else if (word === '.end') {
      ended = head
    } else if (word === '.subckt') {
      if (open) fail(head, `.subckt inside the subcircuit "${open.name}".`, 'Close the first with .ends.')
      const name = card[1]
      if (!name || card.length < 3)
        fail(card.at(-1)!, 'A subcircuit needs a name and at least one node.', '.subckt NAME node …')
      const key = name.text.toLowerCase()
      if (key in subcircuits) fail(name, `The subcircuit "${name.text}" is defined twice.`, 'Rename one of the two.')
      open = { name: key, pins: card.slice(2).map((t) => t.text.toLowerCase()), scope: new Scope(), token: head }
      const repeated = open.pins.find((p, k) => open!.pins.indexOf(p) !== k)
      if (repeated) fail(head, `The subcircuit's node "${repeated}" is named twice.`, 'Give each pin its own node.')
    } else if (word === '.ends') {
      if (!open) fail(head, '.ends without .subckt.', 'Remove it, or open the subcircuit with .subckt.')
      subcircuits[open.name] = { pins: open.pins, ...open.scope.content() }
      open = null
    } else if (word === '.ac' || word === '.tran' || word === '.op') {
      const analysis = word.slice(1) as AnalysisCard['analysis']
      analyses.push({ analysis, words: card.slice(1).map((t) => t.text) })
    } else {
      fail(head, `"${head.text}" is not read.`, `Read are: ${DOT_CARDS.join(', ')}.`)
    }
  }
  if (open) fail(open.token, `The subcircuit "${open.name}" is not closed.`, 'Add .ends after its last element.')

  const circuit: Circuit = { ...(title && { title }), ...main.content() }
  if (Object.keys(subcircuits).length > 0) circuit.subcircuits = subcircuits
  checkUses(circuit, main.uses, Object.values(subcircuits))
  return { circuit: withOpamps(circuit), analyses, warnings }
}

/** Parts and labels as they are read. */
class Scope {
  private readonly parts: Part[] = []
  private readonly labels: Label[] = []
  private readonly places = new Map<string, Token>()
  readonly uses: { part: Part; token: Token; nodes: number }[] = []

  addPart(part: Part, token: Token): void {
    const key = part.id.toUpperCase()
    const first = this.places.get(key)
    if (first) fail(token, `"${part.id}" is already in line ${first.line}.`, 'Give each element its own name.')
    this.places.set(key, token)
    this.parts.push(part)
  }

  connect(part: string, pin: string, node: string): void {
    this.labels.push({ id: `@${this.labels.length + 1}`, name: node.toLowerCase(), end: { part, pin } })
  }

  content() {
    return { parts: this.parts, wires: [], junctions: [], labels: this.labels }
  }
}

function readElement(card: Card, scope: Scope): void {
  const head = card[0]
  const letter = head.text[0].toUpperCase()
  if (letter === 'X') return readSubcircuitUse(card, scope)
  const kind = kindByLetter.get(letter)
  if (!kind?.card) {
    fail(
      head,
      `"${head.text}" begins with "${head.text[0]}", which is no element that is read.`,
      `Elements read are ${offeredLetters.join(', ')}.`,
    )
  }
  if (head.text.length < 2)
    fail(head, `The element "${head.text}" has no name after its letter.`, `Write ${letter}1, for example.`)
  const count = kind.pins.length
  const nodes = card.slice(1, 1 + count)
  if (nodes.length < count || nodes.some((t) => '()='.includes(t.text))) {
    const at = nodes.find((t) => '()='.includes(t.text)) ?? card.at(-1)!
    fail(at, `${head.text} needs ${count} nodes.`, `${letter}name ${kind.pins.join(' ')} value`)
  }
  const reader = new Reader(card, 1 + count)
  const { values, waveform } = kind.card.read(reader)
  reader.expectEnd()
  scope.addPart({ id: head.text, kind: kind.id, values, ...(waveform && { waveform }) }, head)
  kind.pins.forEach((pin, k) => scope.connect(head.text, pin, nodes[k].text))
}

function readSubcircuitUse(card: Card, scope: Scope): void {
  const head = card[0]
  const definition = card.at(-1)!
  if (card.length < 3) fail(definition, `${head.text} needs nodes and the name of a subcircuit.`, 'Xname node … NAME')
  const odd = card.slice(1).find((t) => '()='.includes(t.text))
  if (odd) fail(odd, `"${odd.text}" is not expected here; parameters of subcircuits are not read.`, 'Xname node … NAME')
  const part: Part = { id: head.text, kind: 'subcircuit', values: {}, definition: definition.text.toLowerCase() }
  scope.addPart(part, head)
  const nodes = card.slice(1, -1)
  nodes.forEach((t, k) => scope.connect(head.text, `p${k + 1}`, t.text))
  scope.uses.push({ part, token: definition, nodes: nodes.length })
}

/** Every use names a definition and brings as many nodes as it has pins. Uses inside definitions are checked by flattening. */
function checkUses(circuit: Circuit, uses: Scope['uses'], definitions: readonly Subcircuit[]): void {
  for (const { part, token, nodes } of uses) {
    const definition = circuit.subcircuits?.[part.definition!]
    if (!definition) {
      fail(
        token,
        `The subcircuit "${token.text}" is not defined.`,
        definitions.length
          ? `Defined are: ${Object.keys(circuit.subcircuits!).join(', ')}.`
          : 'Add its .subckt … .ends.',
      )
    }
    if (definition.pins.length !== nodes) {
      fail(
        token,
        `${part.id} brings ${nodes} nodes; "${token.text}" has ${definition.pins.length}.`,
        `Its nodes are: ${definition.pins.join(' ')}.`,
      )
    }
  }
}

/** A subcircuit that is one E source from (out, 0) sensed at (plus, minus) is an operational amplifier. */
function opampGain(definition: Subcircuit): number | undefined {
  const only = definition.parts[0]
  if (definition.parts.length !== 1 || only.kind !== 'vcvs' || definition.pins.length !== 3) return undefined
  const nets = new Map(definition.labels.map((l) => ['part' in l.end ? l.end.pin : '', l.name]))
  const [plus, minus, out] = definition.pins
  const fits =
    nets.get('plus') === out &&
    nets.get('minus') === '0' &&
    nets.get('sensePlus') === plus &&
    nets.get('senseMinus') === minus
  return fits ? only.values.gain : undefined
}

const OPAMP_PINS: Readonly<Record<string, string>> = { p1: 'plus', p2: 'minus', p3: 'out' }

function withOpamps(circuit: Circuit): Circuit {
  const gains = new Map<string, number>()
  for (const [key, definition] of Object.entries(circuit.subcircuits ?? {})) {
    const gain = opampGain(definition)
    if (gain !== undefined && gain !== 0) gains.set(key, gain)
  }
  if (gains.size === 0) return circuit
  const replace = <T extends Circuit | Subcircuit>(scope: T): T => {
    const renamed = new Map<string, string>()
    const parts = scope.parts.map((part): Part => {
      const gain = part.kind === 'subcircuit' ? gains.get(part.definition!) : undefined
      if (gain === undefined) return part
      // The writer puts the X in front of a name that has none.
      const id = /^xu/i.test(part.id) ? part.id.slice(1) : part.id
      renamed.set(part.id, id)
      return { id, kind: 'opamp', values: { gain } }
    })
    const labels = scope.labels.map((label): Label => {
      const end = label.end
      const id = 'part' in end ? renamed.get(end.part) : undefined
      return id !== undefined && 'part' in end ? { ...label, end: { part: id, pin: OPAMP_PINS[end.pin] } } : label
    })
    return { ...scope, parts, labels }
  }
  const { subcircuits = {}, ...rest } = circuit
  const kept = Object.entries(subcircuits).filter(([key]) => !gains.has(key))
  const result: Circuit = replace(rest)
  if (kept.length > 0) result.subcircuits = Object.fromEntries(kept.map(([key, s]) => [key, replace(s)]))
  return result
}

/** Reads what follows the nodes of an element. */
class Reader implements CardReader {
  constructor(
    private readonly card: Card,
    private at: number,
  ) {}

  get done(): boolean {
    return this.at >= this.card.length
  }

  number(what: string): number {
    if (this.done) return this.fail(`${this.card[0].text} lacks ${what}.`, 'Write a number after the nodes.')
    const value = this.maybeNumber()
    if (value === undefined) {
      return this.fail(
        `"${this.card[this.at].text}" is not a number, where ${what} is expected.`,
        'Write 4.7k, 100n, 1e-9 …',
      )
    }
    return value
  }

  maybeNumber(): number | undefined {
    if (this.done) return undefined
    const value = netlistNumber(this.card[this.at].text)
    if (value === undefined) return undefined
    if (!Number.isFinite(value)) this.fail(`"${this.card[this.at].text}" is too large.`, 'Give a value below 1.8e308.')
    this.at++
    return value
  }

  take(word: string): boolean {
    if (this.done || this.card[this.at].text.toUpperCase() !== word) return false
    this.at++
    return true
  }

  maybeWaveform(): Waveform | undefined {
    if (this.done) return undefined
    const head = this.card[this.at]
    const kind = waveformKinds.find((k) => k.card.name === head.text.toUpperCase())
    if (!kind) return undefined
    this.at++
    const bracket = this.take('(')
    const values: number[] = []
    for (let v = this.maybeNumber(); v !== undefined; v = this.maybeNumber()) values.push(v)
    if (bracket && !this.take(')')) {
      if (this.done) fail(this.card.at(-1)!, `The bracket of ${head.text} is not closed.`, 'Add ")".')
      this.fail(`"${this.card[this.at].text}" is not a number, inside ${head.text}(…).`, 'Write numbers up to ")".')
    }
    if (kind.card.name === 'PWL' && values.length % 2 === 1) {
      fail(head, 'PWL takes pairs of time and value.', 'PWL(t1 v1 t2 v2 …)')
    }
    const checked = kind.schema.safeParse(kind.card.read(values))
    if (!checked.success) {
      const issue = checked.error.issues[0]
      fail(
        head,
        `${head.text}: ${issue.path.join('.')} does not fit: ${issue.message}.`,
        'See the waveforms in docs/guide/netlist.md.',
      )
    }
    return checked.data
  }

  expectEnd(): void {
    if (!this.done) this.fail(`"${this.card[this.at].text}" is not expected here.`, 'Remove it.')
  }

  fail(problem: string, fix?: string): never {
    return fail(this.card[Math.min(this.at, this.card.length - 1)], problem, fix)
  }
}

function fail(token: Token, problem: string, fix?: string): never {
  throw new VoskelError('NETLIST_SYNTAX', { problem, ...(fix && { fix }) }, { line: token.line, column: token.column })
}

function looksLikeElement(title: string): boolean {
  const words = title.split(/\s+/)
  return (
    /^[RCLVIE]\w*\d$/i.test(words[0]) && words.length >= 4 && words.slice(3).some((w) => netlistNumber(w) !== undefined)
  )
}
