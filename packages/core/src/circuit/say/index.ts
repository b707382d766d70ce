import { VoskelError } from '../../errors/VoskelError.js'
import { parseExpression } from '../../quantity/expression.js'
import type { Circuit, GridPoint } from '../circuit.js'
import { endPoint, symbolBox } from '../drawing/geometry.js'
import { namePlaces, placeTexts, textBox } from '../drawing/labels.js'
import { GROUND_NAME } from '../flatten.js'
import type { GrowWay } from '../edit/growPart.js'
import type { NewPart } from '../edit/newPart.js'
import { spotPoint } from '../edit/spots.js'
import { NetMap } from '../NetMap.js'
import { partKinds } from '../parts/index.js'
import type { PartKind } from '../parts/PartKind.js'
import { kindOf, mainField, partsOfNumber, quantityIn, valued, echoed } from './quantities.js'
import type { Reading, Saying } from './Reading.js'
import { sourceIn } from './sources.js'

export type { Reading, Saying } from './Reading.js'

const WAY_WORDS: Readonly<Record<GrowWay, string>> = {
  onwards: 'onwards',
  back: 'back against the flow',
  ground: 'to ground',
  supply: 'to the supply',
}

/** A kind's name inside a sentence. */
const nameOf = ({ name }: PartKind) => (/^[A-Z][a-z]/.test(name) ? name[0].toLowerCase() + name.slice(1) : name)

/** Most readings that are offered of one text. */
const MOST = 6

/**
 * Everything that a text typed at the tip can mean, the likeliest first: a part with its value (`4k7`, `100nF`, `0..10k`,
 * `= tau/r`), a part by its name (`opamp`, `npn`, `nmos 20u/2u`), a source (`5V`, `1V step`, `10kHz`), ground, the name of a
 * net (`out`), a joint (`to out`), words on the sheet (`# title`, `// text`), or something done to a part (`turn`, `mirror`, `aside`, `name R9`). Empty where it means
 * nothing.
 */
export function readingsOf(text: string, at: Saying): Reading[] {
  const said = text.trim()
  if (said === '') return []
  const all = [note, doneToPart, joined, quotedName, formula, range, number, source, knownNet, byName, netName].flatMap(
    (read) => read(said, at),
  )
  const seen = new Set<string>()
  return all.filter((r) => !seen.has(`${r.text} ${r.does}`) && seen.add(`${r.text} ${r.does}`)).slice(0, MOST)
}

type Reader = (said: string, at: Saying) => Reading[]

function grows(
  at: Saying,
  part: NewPart,
  text: string,
  more: { pin?: string; joins?: [string, string][] } = {},
): Reading {
  const kind = kindOf(part.kind)
  const way = at.way ?? (kind.usuallyToGround ? 'ground' : 'onwards')
  const { pin } = more
  return {
    text,
    does: WAY_WORDS[way],
    grows: { part, way, ...(pin !== undefined && { pin }) },
    call: { edit: 'grow-part', args: { from: at.tip, way, part, ...more } },
  }
}

/** `# words` a title, `// words` a text on the sheet. */
const note: Reader = (said, { circuit, tip }) => {
  const found = /^(#|\/\/)\s*(.+)$/.exec(said)
  const at = spotPoint(circuit, tip)
  if (!found || !at) return []
  const [, sign, text] = found
  const as = sign === '#' ? 'title' : 'text'
  // On empty paper it stands where it is said.
  const place =
    'at' in tip && !('wire' in tip) ? at : as === 'title' ? aboveAll(circuit) : freeBeside(circuit, text, at)
  return [{ text, does: `a ${as} on the sheet`, call: { edit: 'write-note', args: { text, at: place, as } } }]
}

/** Grid units from the drawing up to its title. */
const TITLE_ABOVE = 4

function aboveAll(circuit: Circuit): GridPoint {
  const boxes = [...circuit.parts.flatMap((p) => symbolBox(p) ?? []), ...namePlaces(circuit).values()]
  const least = (side: 'left' | 'top') => Math.floor(Math.min(0, ...boxes.map((b) => b[side])))
  return { x: least('left'), y: least('top') - TITLE_ABOVE }
}

/** The place nearest to a point where a text lies on nothing, as its left upper corner. */
function freeBeside(circuit: Circuit, text: string, at: GridPoint): GridPoint {
  const [box] = placeTexts(circuit, [...namePlaces(circuit).values()], [textBox({ lines: [text], at })])
  return { x: Math.round(box.left), y: Math.round(box.top) }
}

const doneToPart: Reader = (said, { part }) => {
  if (part === null) return []
  const name = /^name\s+(\S+)$/i.exec(said)?.[1]
  if (name !== undefined)
    return [
      {
        text: `${part} named ${name}`,
        does: 'wherever it is named',
        call: { edit: 'rename-part', args: { part, to: name } },
      },
    ]
  const done: Readonly<Record<string, Reading>> = {
    turn: {
      text: `${part} turned`,
      does: 'a quarter',
      call: { edit: 'turn-parts', args: { parts: [part], turn: 90 } },
    },
    mirror: {
      text: `${part} mirrored`,
      does: 'left to right',
      call: { edit: 'turn-parts', args: { parts: [part], turn: 'mirror' } },
    },
    aside: {
      text: `${part} set aside`,
      does: 'open',
      call: { edit: 'set-aside', args: { parts: [part], as: 'open' } },
    },
    short: {
      text: `${part} set aside`,
      does: 'shorted',
      call: { edit: 'set-aside', args: { parts: [part], as: 'short' } },
    },
    back: {
      text: `${part} put back`,
      does: 'as it was',
      call: { edit: 'set-aside', args: { parts: [part], as: null } },
    },
  }
  const found = done[said.toLowerCase()]
  return found ? [found] : []
}

/** `to out`, `to U1.minus`: a wire to a net or a pin. */
const joined: Reader = (said, { circuit, tip }) => {
  const goal = /^to\s+(\S+)$/i.exec(said)?.[1]
  if (goal === undefined) return []
  const [part, pin] = goal.split('.')
  const nets = NetMap.of(circuit)
  const own = circuit.parts.find((p) => p.id.toUpperCase() === part.toUpperCase())
  const asPin = own && pin !== undefined && kindOf(own.kind).pins.includes(pin) ? { part: own.id, pin } : null
  const from = spotPoint(circuit, tip)
  const far = (p: { part: string; pin: string }) => {
    const q = endPoint(circuit, p)
    return q && from ? Math.abs(q.x - from.x) + Math.abs(q.y - from.y) : Infinity
  }
  const net = nets.nets.find((n) => n.toLowerCase() === goal.toLowerCase())
  const to = asPin ?? (net === undefined ? null : nets.pinsOf(net).toSorted((a, b) => far(a) - far(b))[0])
  if (!to) return []
  return [{ text: `wire to ${goal}`, does: 'joined', call: { edit: 'draw-wire', args: { from: tip, to } } }]
}

const quotedName: Reader = (said, at) => {
  const name = /^["“']([^"”']+)["”']$/.exec(said)?.[1]?.trim()
  return name ? [names(name, at)] : []
}

function names(name: string, { circuit, tip }: Saying): Reading {
  const isThere = circuit.labels.some((l) => l.name === name)
  return {
    text: name === GROUND_NAME ? 'ground' : `net ${name}`,
    does: isThere ? 'joined to it by its name' : 'named here',
    call: { edit: 'name-net', args: { at: tip, name } },
  }
}

/** `= tau/r`, or `C = tau/r`: a value over parameters. */
const formula: Reader = (said, at) => {
  const found = /^([A-Za-z]*)\s*=\s*(.+)$/.exec(said)
  if (!found) return []
  const [, letter, expression] = found
  try {
    parseExpression(expression)
  } catch (error) {
    if (error instanceof VoskelError) return []
    throw error
  }
  const kinds = ['resistor', 'capacitor', 'inductor'].map(kindOf)
  return kinds
    .filter((k) => letter === '' || k.letter === letter.toUpperCase())
    .map((k) =>
      grows(at, { kind: k.id, values: {}, formulas: { [k.mainValue!]: expression } }, `${nameOf(k)} of ${expression}`),
    )
}

/** `0..10k`: a potentiometer over that range; what lies below it is a resistor of its own. */
const range: Reader = (said, at) => {
  const [low, high, more] = said.split(/\.\.\.?|…/)
  if (high === undefined || more !== undefined) return []
  const [from, to] = [low, high].map((t) => quantityIn(t, 'Ω'))
  if (from === null || to === null || !(from >= 0 && to > from)) return []
  // From nothing on there is no place that is meant: the middle.
  const part = { kind: 'potentiometer', values: { resistance: to, position: from === 0 ? 0.5 : from / to } }
  return [
    grows(at, part, `potentiometer 0 … ${echoed(to, 'Ω')}${from === 0 ? '' : `, turned to ${echoed(from, 'Ω')}`}`),
  ]
}

const number: Reader = (said, at) => {
  const parts = partsOfNumber(said).map(({ part, text }) => grows(at, part, text))
  const hz = /[\dkMG]$/.test(said) ? sourceIn(`${said}Hz`) : null
  // A bare number could be a frequency or a voltage, too.
  const volts = /^[\d.]+$/.test(said) ? sourceIn(`${said}V`) : null
  if (parts.length === 0) return []
  return [...parts, ...[hz, volts].flatMap((s) => (s ? [grows(at, s.part, s.text)] : []))]
}

const source: Reader = (said, at) => {
  const found = sourceIn(said)
  return found ? [grows(at, found.part, found.text)] : []
}

/** A kind by its name, or the beginning of one, with a value, a size or a model after it. */
const byName: Reader = (said, at) => {
  const [word, ...rest] = said.split(/\s+/)
  const wanted = word.toLowerCase()
  const wordsOf = (k: PartKind) => [k.name.toLowerCase(), ...(k.words ?? [])]
  const exact = partKinds.filter((k) => wordsOf(k).includes(wanted))
  const begins = wanted.length >= 2 ? partKinds.filter((k) => wordsOf(k).some((w) => w.startsWith(wanted))) : []
  const kinds = [...new Set([...exact, ...begins])].filter((k) => k.id !== 'subcircuit')
  return kinds.flatMap((kind) => ofKind(kind, rest, at))
}

function ofKind(kind: PartKind, rest: readonly string[], at: Saying): Reading[] {
  const name = nameOf(kind)
  if (kind.id === 'ground') return rest.length === 0 ? [names(GROUND_NAME, at)] : []
  if (kind.id === 'coupling') return coupled(rest, at)
  const value =
    rest.length > 0 ? specified(kind, rest.join(' '), at) : { part: { kind: kind.id, values: usual(kind) }, text: name }
  if (!value) return []
  const refs = kind.refersToParts === 1 ? at.circuit.parts.find((p) => p.kind === 'voltage-source') : undefined
  if (kind.refersToParts === 1 && !refs) return []
  const part = { ...value.part, ...(refs && { refs: [refs.id] }) }
  const first = grows(at, part, value.text)
  if (kind.id === 'opamp') {
    const joins: [string, string][] = [['minus', 'out']]
    const follower = grows(at, part, 'amplifier as a follower', { joins })
    return [first, follower, grows(at, part, `${value.text}, its − here`, { pin: 'minus' })]
  }
  if (!kind.modelType || kind.pins.length < 3) return [first]
  const others = kind.pins.filter(
    (pin) => pin !== kind.grows?.from && !(pin in (kind.optionalPins ?? {})) && pin !== 'bulk',
  )
  return [
    { ...first, text: `${value.text}, its ${kind.grows?.from} here` },
    ...others.map((pin) => grows(at, part, `${value.text}, its ${pin} here`, { pin })),
  ]
}

/** What a source does at once: 1 V for AC, and a unit step. */
const usual = (kind: PartKind): Record<string, number> => {
  const values: Record<string, number> = {}
  if (kind.takesWaveform) return { bias: 0, acMagnitude: 1, acPhase: 0 }
  const field = mainField(kind)
  if (field && !field.ofModel) values[field.id] = field.default
  return values
}

/** What stands after a kind's name: its value, `W/L`, or a model. */
function specified(kind: PartKind, text: string, { circuit }: Saying): { part: NewPart; text: string } | null {
  const name = nameOf(kind)
  const model = Object.entries(circuit.models ?? {}).find(
    ([m, { kind: k }]) => m.toLowerCase() === text.toLowerCase() && k === kind.id,
  )
  if (model) return { part: { kind: kind.id, values: {}, model: model[0] }, text: `${name} ${model[0]}` }
  const size = text.split('/')
  if (kind.values.some((f) => f.id === 'w') && size.length === 2) {
    const [w, l] = size.map((t) => quantityIn(t.replace(/m$/, ''), ''))
    if (w && l && w > 0 && l > 0)
      return {
        part: { kind: kind.id, values: { w, l } },
        text: `${name} ${echoed(w, 'm')} wide, ${echoed(l, 'm')} long`,
      }
  }
  if (kind.takesWaveform) {
    const said = sourceIn(text)
    return said && said.part.kind === kind.id ? said : null
  }
  const field = mainField(kind)
  const value = field && quantityIn(text, field.unit)
  return value === null ? null : valued(kind, value)
}

/** `couple L1 L2 0.98` */
function coupled(rest: readonly string[], { circuit, tip }: Saying): Reading[] {
  const [a, b, k = '0.99'] = rest
  const coils = [a, b].map((id) =>
    circuit.parts.find((p) => p.kind === 'inductor' && p.id.toUpperCase() === id?.toUpperCase()),
  )
  const coupling = quantityIn(k, '')
  const [one, two] = coils
  if (!one || !two || one === two || coupling === null || Math.abs(coupling) > 1) return []
  const between =
    one.at && two.at ? { x: Math.round((one.at.x + two.at.x) / 2), y: Math.round((one.at.y + two.at.y) / 2) } : null
  const at = between ?? spotPoint(circuit, tip) ?? { x: 0, y: 0 }
  const part = { kind: 'coupling', values: { coupling }, refs: [one.id, two.id] }
  return [
    {
      text: `coupling of ${one.id} and ${two.id}, ${coupling}`,
      does: 'placed',
      call: { edit: 'put-part', args: { part, at: { ...at, rotation: 0 } } },
    },
  ]
}

/** A net's name: letters, digits, `_`, `+` and `−`, as the trade writes them. */
const NET_NAME = /^[A-Za-z_+-][\w+.-]*$/

const knownNet: Reader = (said, at) => (at.circuit.labels.some((l) => l.name === said) ? [names(said, at)] : [])

const netName: Reader = (said, at) => (NET_NAME.test(said) || said === GROUND_NAME ? [names(said, at)] : [])
