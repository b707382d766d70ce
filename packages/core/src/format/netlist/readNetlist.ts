import type { Circuit, Label, Model, Parameter, Part, Subcircuit } from '../../circuit/circuit.js'
import { mattering, meaningOf } from '../../circuit/leftOut.js'
import { Parameters, wrongParameterName } from '../../circuit/parameters.js'
import { partKinds } from '../../circuit/parts/index.js'
import { subcircuit } from '../../circuit/parts/subcircuit.js'
import type { CardContent, PartKind } from '../../circuit/parts/PartKind.js'
import { VoskelError } from '../../errors/VoskelError.js'
import { fail, Reader, syntaxError } from './cardReader.js'
import { numberWords } from './expression.js'
import { netlistNumber, unitOf } from './number.js'
import { withOpamps } from './opamps.js'
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
const kindByModelType = new Map(partKinds.flatMap((k) => (k.modelType ? [[k.modelType, k] as const] : [])))
const offeredLetters = [...kindByLetter.keys(), 'X'].sort()
/** Cards that name another file. */
const FILE_CARDS = ['.include', '.inc', '.lib']
const DOT_CARDS = ['.ac', '.end', '.ends', '.ic', '.model', '.op', '.param', '.subckt', '.tran']

/** A netlist as far as it can be read. */
export interface NetlistSurvey extends NetlistContent {
  /** What cannot be read, each with its line and column; what stands there is left out. */
  readonly problems: VoskelError[]
  /** Files that it refers to. */
  readonly files: readonly { readonly name: string; readonly line: number; readonly column: number }[]
}

/**
 * Reads a netlist. Every node becomes a label on the pins that meet there; geometry is absent.
 *
 * @throws VoskelError `NETLIST_SYNTAX` with line and column for whatever is not understood
 */
export function readNetlist(text: string): NetlistContent {
  const { circuit, analyses, warnings } = read(text, (step) => step())
  return { circuit, analyses, warnings }
}

/** Reads as much of a netlist as can be read: a line that cannot is left out and told. Models keep the values that are known. */
export function surveyNetlist(text: string): NetlistSurvey {
  const problems: VoskelError[] = []
  const tell = (error: unknown) => {
    if (!(error instanceof VoskelError) || error.code !== 'NETLIST_SYNTAX') throw error
    problems.push(error)
  }
  const attempt: Attempt = (step) => {
    try {
      step()
    } catch (error) {
      tell(error)
    }
  }
  let content: Omit<NetlistSurvey, 'problems'> = {
    circuit: { parts: [], wires: [], junctions: [], labels: [] },
    analyses: [],
    warnings: [],
    files: [],
  }
  attempt(() => (content = read(text, attempt, tell)))
  problems.sort((a, b) => (a.place.line ?? 0) - (b.place.line ?? 0))
  return { ...content, problems }
}

/** Runs a step that may find something wrong with one card. */
type Attempt = (step: () => void) => void

/** @param tell takes what is wrong with a card that is read nevertheless; left out, it is thrown */
function read(text: string, attempt: Attempt, tell?: (problem: VoskelError) => void): Omit<NetlistSurvey, 'problems'> {
  const { title, cards } = tokenize(text)
  const sheet = sortCards(cards, attempt, tell)
  refuseUnitsThatAreNames(cards, sheet, attempt)
  if (looksLikeElement(title)) {
    sheet.warnings.unshift(`The first line, "${title}", is taken as the title, not as an element.`)
  }
  const outer = new Parameters(sheet.main.parameters)
  readElements(sheet.main, outer, sheet.main.models, attempt)
  const subcircuits: Record<string, Subcircuit> = {}
  for (const [name, definition] of Object.entries(sheet.subcircuits)) {
    const { scope, pins } = definition
    readElements(scope, new Parameters(scope.parameters, outer), { ...sheet.main.models, ...scope.models }, attempt)
    subcircuits[name] = { pins, ...scope.content(), ...(scope.leftOut.length > 0 && { leftOut: scope.leftOut }) }
  }
  const circuit: Circuit = { ...(title && { title }), ...sheet.main.content() }
  if (Object.keys(subcircuits).length > 0) circuit.subcircuits = subcircuits
  if (Object.keys(sheet.initial).length > 0) circuit.initial = sheet.initial
  const wrong = new Set<string>()
  for (const use of sheet.main.uses)
    attempt(() => {
      wrong.add(use.part.id)
      checkUse(circuit, use, Object.values(subcircuits))
      wrong.delete(use.part.id)
    })
  const { analyses, warnings, files } = sheet
  return { circuit: withOpamps(withPinNames(without(circuit, wrong))), analyses, warnings, files }
}

/** A unit right behind a number says nothing, but where a parameter bears its name a product may have been meant. */
function refuseUnitsThatAreNames(cards: readonly Card[], sheet: Sheet, attempt: Attempt): void {
  const scopes = [sheet.main, ...Object.values(sheet.subcircuits).map(({ scope }) => scope)]
  const names = new Set(scopes.flatMap(({ parameters }) => Object.keys(parameters).map((name) => name.toLowerCase())))
  for (const token of cards.flat()) {
    if (!token.text.startsWith('{')) continue
    const word = numberWords(token.text.slice(1, -1)).find((w) => names.has(unitOf(w) ?? ''))
    if (word === undefined) continue
    const unit = unitOf(word)!
    attempt(() =>
      fail(
        token,
        `"${word}" is a number with a unit, and "${unit}" is a parameter here, too.`,
        `Write ${word.slice(0, -unit.length)}*${unit} for the product, ${word.slice(0, -unit.length)} for the number.`,
      ),
    )
  }
}

/** The circuit without some parts. */
function without(circuit: Circuit, parts: ReadonlySet<string>): Circuit {
  if (parts.size === 0) return circuit
  return {
    ...circuit,
    parts: circuit.parts.filter((p) => !parts.has(p.id)),
    labels: circuit.labels.filter(({ end }) => !('part' in end && parts.has(end.part))),
  }
}

/** Uses of subcircuits with the names of their pins, for their symbols. */
function withPinNames(circuit: Circuit): Circuit {
  const { subcircuits } = circuit
  if (!subcircuits) return circuit
  const named = <T extends Circuit | Subcircuit>(scope: T): T => ({
    ...scope,
    parts: scope.parts.map((part) => {
      const pins =
        part.definition !== undefined && Object.hasOwn(subcircuits, part.definition)
          ? subcircuits[part.definition].pins
          : null
      return pins ? { ...part, pins: [...pins] } : part
    }),
  })
  return {
    ...named(circuit),
    subcircuits: Object.fromEntries(Object.entries(subcircuits).map(([key, s]) => [key, named(s)])),
  }
}

/** The cards by the circuit or subcircuit that they belong to, models and parameters read: elements may use later ones. */
interface Sheet {
  readonly main: Scope
  readonly subcircuits: Record<string, { pins: string[]; scope: Scope; token: Token }>
  readonly initial: Record<string, number>
  readonly analyses: AnalysisCard[]
  readonly warnings: string[]
  readonly files: { name: string; line: number; column: number }[]
}

function sortCards(cards: readonly Card[], attempt: Attempt, tell?: (problem: VoskelError) => void): Sheet {
  const sheet: Sheet = { main: new Scope(), subcircuits: {}, initial: {}, analyses: [], warnings: [], files: [] }
  let open: { name: string; token: Token; scope: Scope } | null = null
  const deferred: (() => void)[] = []
  const sort = (card: Card, after: Card | undefined): 'end' | null => {
    const head = card[0]
    const word = head.text.toLowerCase()
    const scope: Scope = open?.scope ?? sheet.main
    if (!word.startsWith('.')) scope.elements.push(card)
    else if (word === '.end') {
      if (after) sheet.warnings.push(`Line ${after[0].line} and what follows stands after .end and is not read.`)
      return 'end'
    } else if (word === '.subckt') {
      if (open) fail(head, `.subckt inside the subcircuit "${open.name}".`, 'Close the first with .ends.')
      open = openSubcircuit(card, sheet)
    } else if (word === '.ends') {
      if (!open) fail(head, '.ends without .subckt.', 'Remove it, or open the subcircuit with .subckt.')
      open = null
    } else if (word === '.model') deferred.push(() => readModel(card, scope, sheet.main, tell))
    else if (word === '.param') readParameters(card, scope)
    else if (word === '.ic') deferred.push(() => readInitial(card, sheet))
    else if (word === '.ac' || word === '.tran' || word === '.op') {
      const analysis = word.slice(1) as AnalysisCard['analysis']
      sheet.analyses.push({ analysis, words: card.slice(1).map((t) => t.text) })
    } else if (FILE_CARDS.includes(word)) {
      const name = card
        .slice(1)
        .map((t) => t.text)
        .join(' ')
        .replace(/^["']|["']$/g, '')
      sheet.files.push({ name, line: head.line, column: head.column })
      fail(
        head,
        `The file ${name ? `"${name}"` : 'that it names'} is not here.`,
        'Put its text in the place of this line.',
      )
    } else {
      fail(head, `"${head.text}" is not read.`, `Read are: ${DOT_CARDS.join(', ')}.`)
    }
    return null
  }
  for (const [index, card] of cards.entries()) {
    let isEnd = false
    attempt(() => (isEnd = sort(card, cards[index + 1]) === 'end'))
    if (isEnd) break
  }
  attempt(() => {
    if (open) fail(open.token, `The subcircuit "${open.name}" is not closed.`, 'Add .ends after its last element.')
  })
  for (const step of deferred) attempt(step)
  return sheet
}

function openSubcircuit(card: Card, sheet: Sheet): { name: string; token: Token; scope: Scope } {
  const [head, name] = card
  if (!name || card.length < 3)
    fail(card.at(-1)!, 'A subcircuit needs a name and at least one node.', '.subckt NAME node …')
  const key = name.text.toLowerCase()
  if (Object.hasOwn(sheet.subcircuits, key))
    fail(name, `The subcircuit "${name.text}" is defined twice.`, 'Rename one of the two.')
  const from = card.findIndex((t, k) => k > 1 && (t.text.toLowerCase() === 'params:' || card[k + 1]?.text === '='))
  const [names, given] = from < 0 ? [card, []] : [card.slice(0, from), card.slice(from)]
  const odd = names.slice(2).find((t) => '()='.includes(t.text))
  if (odd) fail(odd, `"${odd.text}" is not expected here.`, '.subckt NAME node … parameter=value …')
  if (names.length < 3) fail(names.at(-1)!, 'A subcircuit needs a name and at least one node.', '.subckt NAME node …')
  const pins = names.slice(2).map((t) => t.text.toLowerCase())
  const repeated = pins.find((p, k) => pins.indexOf(p) !== k)
  if (repeated) fail(head, `The subcircuit's node "${repeated}" is named twice.`, 'Give each pin its own node.')
  const scope = new Scope()
  const words = given[0]?.text.toLowerCase() === 'params:' ? given.slice(1) : given
  if (words.length > 0) readParameters([head, ...words], scope)
  sheet.subcircuits[key] = { pins, scope, token: head }
  return { name: key, token: head, scope }
}

/** `.param name=value name={expression} …` */
function readParameters(card: Card, scope: Scope): void {
  const reader = new Reader(card, 1, new Parameters())
  if (reader.done) reader.fail('.param names no parameter.', '.param name=value …')
  while (!reader.done) {
    const token = card[reader.position]
    const given = reader.maybeAssignment()
    if (!given) return reader.fail('A parameter is written name=value.', '.param name=value name={expression} …')
    const wrong = wrongParameterName(given.name)
    if (wrong) fail(token, wrong.problem, wrong.fix)
    if (Object.hasOwn(scope.parameters, given.name))
      fail(token, `The parameter "${token.text}" is given twice.`, 'Remove one of the two.')
    scope.parameters[given.name] = given.value
  }
}

/** `.model name TYPE (name=value …)`, brackets optional. */
function readModel(card: Card, scope: Scope, main: Scope, tell?: (problem: VoskelError) => void): void {
  const [, name, type] = card
  if (!name || !type)
    fail(
      card.at(-1)!,
      '.model needs a name and a type.',
      `.model NAME TYPE (name=value …); types: ${[...kindByModelType.keys()].join(', ')}`,
    )
  const kind = kindByModelType.get(type.text.toUpperCase())
  if (!kind)
    fail(
      type,
      `"${type.text}" is no type of model that is read.`,
      `Types are: ${[...kindByModelType.keys()].join(', ')}.`,
    )
  const key = name.text.toLowerCase()
  if (Object.hasOwn(scope.models, key))
    fail(name, `The model "${name.text}" is defined twice.`, 'Rename one of the two.')
  const outer = new Parameters(main.parameters)
  const parameters = scope === main ? outer : new Parameters(scope.parameters, outer)
  const body = card.filter((t, k) => k < 3 || (t.text !== '(' && t.text !== ')')) as unknown as Card
  const reader = new Reader(body, 3, parameters)
  const fields = kind.values.filter((f) => f.ofModel).map((f) => f.id)
  const values: Record<string, number> = {}
  const unknown: { name: string; token: Token }[] = []
  while (!reader.done) {
    const token = body[reader.position]
    // What is not offered need not be a number either.
    if (tell && !fields.includes(token.text.toLowerCase()) && body[reader.position + 1]?.text === '=') {
      reader.word('a name')
      reader.word('=')
      if (!reader.done) reader.word('a value')
      unknown.push({ name: token.text.toLowerCase(), token })
      continue
    }
    const given = reader.maybeNumberAssignment()
    if (!given)
      return reader.fail('A model is a list of name=value.', `.model ${name.text} ${kind.modelType} (name=value …)`)
    if (!fields.includes(given.name)) {
      fail(
        token,
        `A ${kind.modelType} model has no "${given.name}".`,
        `It has: ${fields.map((f) => f.toUpperCase()).join(', ')}.`,
      )
    }
    values[given.name] = given.value
  }
  if (unknown.length > 0)
    tell?.(
      syntaxError(
        unknown[0].token,
        `The model "${name.text}" has ${unknown.length === 1 ? 'a value that is' : `${unknown.length} values that are`} not offered.`,
        withoutThem(
          kind,
          unknown.map((u) => u.name),
        ),
      ),
    )
  const leftOut = mattering(
    kind,
    unknown.map((u) => u.name),
  )
  const defaults = Object.fromEntries(kind.values.map((f) => [f.id, f.default]))
  const wrong = kind.check?.({ ...defaults, ...values })
  if (wrong) {
    const problem = syntaxError(name, `The model "${name.text}": ${wrong.problem}.`, wrong.fix)
    // One value that is not offered does not take the others with it.
    const odd = mattering(kind, Object.keys(values)).find(
      (v) => !kind.check!({ ...defaults, ...values, [v]: defaults[v] }),
    )
    if (!tell || odd === undefined) throw problem
    tell(problem)
    delete values[odd]
    leftOut.push(odd)
  }
  scope.models[key] = { kind: kind.id, values, ...(leftOut.length > 0 && { leftOut }) }
}

/** What a model has that is not offered, in a sentence: which of it matters, and how much does not. */
function withoutThem(kind: PartKind, names: readonly string[]): string {
  const matter = mattering(kind, names)
  if (matter.length === 0) return `Left out: ${meaningOf(kind, names)}, of which none is known to change a curve.`
  const rest = names.length - matter.length
  const others = `${rest} ${rest === 1 ? 'other' : 'others'} of which none is known to change a curve`
  return `Left out, and it may matter: ${meaningOf(kind, matter)}${rest === 0 ? '' : `; besides ${others}`}.`
}

/** `.ic v(node)=value …` */
function readInitial(card: Card, sheet: Sheet): void {
  const reader = new Reader(card, 1, new Parameters(sheet.main.parameters))
  while (!reader.done) {
    const at = card[reader.position]
    const words = card.slice(reader.position, reader.position + 5).map((t) => t.text.toLowerCase())
    const [v, open, , close, equals] = words
    if (v !== 'v' || open !== '(' || close !== ')' || equals !== '=') {
      return fail(at, 'An initial voltage is written v(node)=value.', '.ic v(out)=1 v(x)=0')
    }
    for (const word of words) reader.word(word)
    sheet.initial[words[2]] = reader.number('a voltage')
  }
}

/** Parts and labels as they are read. */
class Scope {
  readonly elements: Card[] = []
  /** Names of those that cannot be read. */
  readonly leftOut: string[] = []
  readonly parameters: Record<string, Parameter> = {}
  readonly models: Record<string, Model> = {}
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
    return {
      parts: this.parts,
      wires: [],
      junctions: [],
      labels: this.labels,
      ...(Object.keys(this.models).length > 0 && { models: this.models }),
      ...(Object.keys(this.parameters).length > 0 && { parameters: this.parameters }),
    }
  }
}

function readElements(
  scope: Scope,
  parameters: Parameters,
  models: Readonly<Record<string, Model>>,
  attempt: Attempt,
): void {
  for (const card of scope.elements)
    attempt(() => {
      try {
        readElement(card, scope, parameters, models)
      } catch (error) {
        scope.leftOut.push(card[0].text)
        throw error
      }
    })
}

function readElement(card: Card, scope: Scope, parameters: Parameters, models: Readonly<Record<string, Model>>): void {
  const head = card[0]
  const letter = head.text[0].toUpperCase()
  if (letter === 'X') return readSubcircuitUse(card, scope)
  let kind = kindByLetter.get(letter)
  if (!kind?.card) {
    fail(
      head,
      `"${head.text}" begins with "${head.text[0]}", which is no element that is read.`,
      `Elements read are ${offeredLetters.join(', ')}.`,
    )
  }
  if (head.text.length < 2)
    fail(head, `The element "${head.text}" has no name after its letter.`, `Write ${letter}1, for example.`)
  let count = kind.pins.length
  if (kind.modelType) {
    const found = modelOf(card, kind, models)
    kind = found.kind
    count = found.at - 1
  }
  const nodes = card.slice(1, 1 + count)
  const odd = nodes.find((t) => '()='.includes(t.text) || t.text.startsWith('{'))
  if (nodes.length < count || odd)
    fail(odd ?? card.at(-1)!, `${head.text} needs ${count} nodes.`, `${letter}name ${kind.pins.join(' ')} value`)
  const reader = new Reader(card, 1 + count, parameters)
  const content = kind.card!.read(reader)
  reader.expectEnd()
  scope.addPart(partOf(head.text, kind, content), head)
  nodes.forEach((token, k) => scope.connect(head.text, kind.pins[k], token.text))
}

/** Splits what was read into numbers and formulas. */
function partOf(id: string, kind: PartKind, { values, waveform, refs, model }: CardContent): Part {
  const numbers: Record<string, number> = {}
  const formulas: Record<string, string> = {}
  for (const [field, value] of Object.entries(values)) {
    if (typeof value === 'number') numbers[field] = value
    else formulas[field] = value
  }
  return {
    id,
    kind: kind.id,
    values: numbers,
    ...(Object.keys(formulas).length > 0 && { formulas }),
    ...(model !== undefined && { model }),
    ...(refs && { refs }),
    ...(waveform && { waveform }),
  }
}

/** Which model a part names, and where: its type says the kind, and what stands before it are nodes. */
function modelOf(card: Card, kind: PartKind, models: Readonly<Record<string, Model>>): { kind: PartKind; at: number } {
  const head = card[0]
  const optional = Object.keys(kind.optionalPins ?? {}).length
  const family = partKinds.filter((k) => k.letter === kind.letter && k.modelType)
  for (let at = 1 + kind.pins.length - optional; at <= 1 + kind.pins.length; at++) {
    const name = card[at]?.text.toLowerCase()
    const model = name !== undefined && Object.hasOwn(models, name) ? models[name] : undefined
    const found = model && family.find((k) => k.id === model.kind)
    if (found) return { kind: found, at }
  }
  const missing = card[1 + kind.pins.length - optional]
  const known = Object.keys(models).filter((m) => family.some((k) => k.id === models[m].kind))
  const types = family.map((k) => k.modelType).join(' or ')
  return fail(
    missing ?? card.at(-1)!,
    missing
      ? `${head.text} needs a ${types} model after its nodes; "${missing.text}" is none.`
      : `${head.text} names no ${types} model after its nodes.`,
    known.length ? `Defined are: ${known.join(', ')}.` : `Add .model NAME ${family[0].modelType} (…).`,
  )
}

function readSubcircuitUse(card: Card, scope: Scope): void {
  const head = card[0]
  // After the name its parameters, as name=value; some write a word in front of them.
  const from = card.findIndex((t, k) => k > 0 && (t.text.toLowerCase() === 'params:' || card[k + 1]?.text === '='))
  const [names, given] = from < 0 ? [card, []] : [card.slice(0, from), card.slice(from)]
  const definition = names.at(-1)!
  if (names.length < 3) fail(definition, `${head.text} needs nodes and the name of a subcircuit.`, 'Xname node … NAME')
  const odd = names.slice(1).find((t) => '()='.includes(t.text))
  if (odd) fail(odd, `"${odd.text}" is not expected here.`, 'Xname node … NAME parameter=value …')
  const values: Record<string, number | string> = {}
  const words = given[0]?.text.toLowerCase() === 'params:' ? given.slice(1) : given
  const reader = new Reader([head, ...words], 1, new Parameters())
  while (!reader.done) {
    const next = reader.maybeAssignment()
    if (!next) return reader.fail('A parameter is written name=value.', 'Xname node … NAME parameter=value …')
    values[next.name] = next.value
  }
  const part: Part = {
    ...partOf(head.text, subcircuit, { values }),
    definition: definition.text.toLowerCase(),
  }
  scope.addPart(part, head)
  const nodes = names.slice(1, -1)
  nodes.forEach((t, k) => scope.connect(head.text, `p${k + 1}`, t.text))
  scope.uses.push({ part, token: definition, nodes: nodes.length })
}

/** A use names a definition and brings as many nodes as it has pins. Uses inside definitions are checked by flattening. */
function checkUse(
  circuit: Circuit,
  { part, token, nodes }: Scope['uses'][number],
  definitions: readonly Subcircuit[],
): void {
  const { definition: name = '' } = part
  const definition = Object.hasOwn(circuit.subcircuits ?? {}, name) ? circuit.subcircuits![name] : undefined
  if (!definition) {
    fail(
      token,
      `The subcircuit "${token.text}" is not defined.`,
      definitions.length ? `Defined are: ${Object.keys(circuit.subcircuits!).join(', ')}.` : 'Add its .subckt … .ends.',
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

function looksLikeElement(title: string): boolean {
  const words = title.split(/\s+/)
  return (
    /^[RCLVIE]\w*\d$/i.test(words[0]) && words.length >= 4 && words.slice(3).some((w) => netlistNumber(w) !== undefined)
  )
}
