import { z } from 'zod'
import { VoskelError } from '../../errors/VoskelError.js'
import { insideOf, withInside } from '../blocks.js'
import { type Circuit, CircuitSchema, type End, type Part, type Subcircuit } from '../circuit.js'
import { arranged } from '../drawing/arrange/index.js'
import { isShown } from '../drawing/labels.js'
import { partTexts } from '../drawing/texts.js'
import { GROUND_NAME } from '../flatten.js'
import { freeId } from '../ids.js'
import { NetMap } from '../NetMap.js'
import { partKind, partShape } from '../parts/index.js'
import type { CircuitEdit } from './CircuitEdit.js'
import { grounded, named, wired } from './connect.js'
import { removeThings } from './removeThings.js'

const schema = z.strictObject({
  /** The circuit as it was written: names, nets and values. */
  from: CircuitSchema,
  /** The same, changed; places are left out of account. */
  to: CircuitSchema,
})

/**
 * What was changed in a circuit that was written as text and read again: parts that are as they were keep their places, their
 * wires and whatever a text has no words for; parts whose nets changed stay where they are and are joined anew.
 */
export const takeCircuit: CircuitEdit<z.output<typeof schema>, 'take-circuit'> = {
  id: 'take-circuit',
  schema,
  label: () => 'changes of a text',
  apply(circuit, { from, to }) {
    const [was, is] = [new Written(from), new Written(to)]
    const gone = [...was.parts.values()].filter((p) => !is.parts.has(keyOf(p)))
    const moved = [...is.parts.values()].filter((p) => was.parts.has(keyOf(p)) && !was.isJoinedAlike(is, p))
    const come = [...is.parts.values()].filter((p) => !was.parts.has(keyOf(p)))
    for (const part of [...gone, ...moved]) mustBe(circuit, part)
    const inPlace = withTables(withValues(circuit, was, is), from, to)
    const netOf = netNames(inPlace, was)
    const off = [...gone, ...moved].map((p) => ownOf(inPlace, p)!.id)
    let next = off.length > 0 ? removeThings.apply(inPlace, { parts: off, close: false }) : inPlace
    const back = moved.map((p) => ({ ...ownOf(inPlace, p)!, ...contentOf(p) }))
    next = { ...next, parts: [...next.parts, ...back, ...come.map(({ at: _place, ...p }) => p)] }
    for (const part of [...moved, ...come]) next = joinedAnew(next, part, is, netOf)
    return saysTheSame(next, is) ? next : arranged({ ...next, ...asRead(next, to) }, partTexts(next))
  },
}

/** A circuit by its parts' names, in any case of letters. */
class Written {
  readonly parts: ReadonlyMap<string, Part>
  readonly nets: NetMap

  constructor(readonly circuit: Circuit) {
    this.parts = new Map(circuit.parts.filter((p) => p.kind !== 'ground').map((p) => [keyOf(p), p]))
    this.nets = new NetMap(circuit)
  }

  netOf(part: Part, pin: string): string | null {
    return this.nets.netOf(part.id, pin) ?? partKind(part.kind).optionalPins?.[pin] ?? null
  }

  isJoinedAlike(other: Written, part: Part): boolean {
    const own = this.parts.get(keyOf(part))!
    return (
      own.kind === part.kind &&
      partShape(part).pins.every((pin) => sameName(this.netOf(own, pin), other.netOf(part, pin)))
    )
  }
}

const keyOf = ({ id }: Part) => id.toUpperCase()
const sameName = (a: string | null, b: string | null) => a?.toLowerCase() === b?.toLowerCase()

const ownOf = (circuit: Circuit, part: Part) => circuit.parts.find((p) => keyOf(p) === keyOf(part))

/** @throws VoskelError `CIRCUIT_INVALID` where an element stands for part of a part only */
function mustBe(circuit: Circuit, part: Part): void {
  if (ownOf(circuit, part)) return
  throw new VoskelError(
    'CIRCUIT_INVALID',
    {
      problem: `"${part.id}" is one of several elements that a part of the drawing is written as.`,
      fix: 'Change that part on the drawing.',
    },
    { part: part.id },
  )
}

/** What a text says of a part. */
function contentOf({ kind, values, formulas, model, refs, waveform, definition, pins }: Part): Partial<Part> {
  return {
    kind,
    values,
    ...(formulas && { formulas }),
    ...(model !== undefined && { model }),
    ...(refs && { refs }),
    ...(waveform && { waveform }),
    ...(definition !== undefined && { definition }),
    ...(pins && { pins }),
  }
}

/** The circuit with the values that were changed. */
function withValues(circuit: Circuit, was: Written, is: Written): Circuit {
  const parts = circuit.parts.map((part) => {
    const [before, after] = [was.parts.get(keyOf(part)), is.parts.get(keyOf(part))]
    if (!before || !after || before.kind !== after.kind) return part
    const [a, b] = [contentOf(before), contentOf(after)]
    if (JSON.stringify(a) === JSON.stringify(b)) return part
    const { formulas: _formulas, model: _model, waveform: _waveform, exact: _exact, ...rest } = part
    return { ...rest, ...b, values: { ...part.values, ...after.values } }
  })
  return parts.every((p, k) => p === circuit.parts[k]) ? circuit : { ...circuit, parts }
}

/** The circuit with the models, parameters, subcircuits and initial voltages that were changed; others stay as they are. */
function withTables(circuit: Circuit, from: Circuit, to: Circuit): Circuit {
  let next = circuit
  for (const table of ['models', 'parameters', 'subcircuits', 'initial'] as const) {
    const [before, after] = [from[table] ?? {}, to[table] ?? {}] as Record<string, unknown>[]
    const isAsWas = (name: string) => JSON.stringify(before[name]) === JSON.stringify(after[name])
    if (Object.keys({ ...before, ...after }).every(isAsWas)) continue
    const kept = Object.entries(circuit[table] ?? {}).filter(([name]) => isAsWas(name.toLowerCase()))
    const changed = Object.entries(after).filter(([name]) => !isAsWas(name))
    next = { ...next, [table]: Object.fromEntries([...kept, ...changed]) }
  }
  for (const block of Object.keys(to.subcircuits ?? {})) next = withBlock(next, block, { circuit, from, to })
  return next
}

/** The circuit with the places inside a block whose text was changed. */
function withBlock(next: Circuit, block: string, was: { circuit: Circuit; from: Circuit; to: Circuit }): Circuit {
  const [own, before, after] = [was.circuit, was.from, was.to].map(({ subcircuits = {} }) =>
    Object.hasOwn(subcircuits, block) ? subcircuits[block] : null,
  )
  if (!own || !before || !after || JSON.stringify(before) === JSON.stringify(after)) return next
  if (JSON.stringify(before.pins) !== JSON.stringify(after.pins)) return next
  const withOwn = { ...next, subcircuits: { ...next.subcircuits, [block]: own } }
  const bare = ({ pins: _pins, ...content }: Subcircuit): Circuit => content
  const inside = takeCircuit.apply(insideOf(withOwn, block), { from: bare(before), to: bare(after) })
  return withInside(next, block, inside)
}

/** The net of a circuit that a written name means. */
function netNames(circuit: Circuit, was: Written): (name: string) => string {
  const nets = NetMap.of(circuit)
  const found = new Map<string, string>([[GROUND_NAME, GROUND_NAME]])
  for (const part of was.parts.values()) {
    const own = ownOf(circuit, part)
    for (const pin of own ? partShape(part).pins : []) {
      const [written, net] = [was.netOf(part, pin), nets.netOf(own!.id, pin)]
      if (written !== null && net !== null && !found.has(written.toLowerCase())) found.set(written.toLowerCase(), net)
    }
  }
  return (name) => found.get(name.toLowerCase()) ?? name
}

/** The circuit with every pin of a part joined to its net. */
function joinedAnew(circuit: Circuit, part: Part, is: Written, netOf: (name: string) => string): Circuit {
  let now = circuit
  for (const pin of partShape(part).pins) {
    const written = is.nets.netOf(part.id, pin)
    if (written === null) continue
    const end: End = { part: ownOf(now, part)!.id, pin }
    const net = netOf(written)
    const nets = NetMap.of(now)
    const [there] = nets.pinsOf(net)
    if (nets.netAt(end) === net) continue
    if (net === GROUND_NAME) now = grounded(now, end)
    else if (!there) now = quietlyNamed(now, end, net)
    else if (now.labels.filter((l) => l.name === net && isShown(l)).length > 1) now = named(now, end, net)
    else now = wired(now, { ...there }, end)
  }
  return now
}

const quietlyNamed = (circuit: Circuit, end: End, name: string): Circuit => ({
  ...circuit,
  labels: [...circuit.labels, { id: freeId(circuit, 'labels'), name, end, shown: false }],
})

/** Whether the parts that both have hang together as it is written. */
function saysTheSame(circuit: Circuit, is: Written): boolean {
  const nets = NetMap.of(circuit)
  const asWritten = new Map<string, string>()
  const asDrawn = new Map<string, string>()
  for (const part of is.parts.values()) {
    const own = ownOf(circuit, part)
    // One of several elements that a part is written as.
    if (!own) continue
    for (const pin of partShape(part).pins) {
      const [a, b] = [is.nets.netOf(part.id, pin), nets.netOf(own.id, pin)]
      if (a === null || b === null) continue
      if ((asWritten.get(a) ?? b) !== b || (asDrawn.get(b) ?? a) !== a) return false
      asWritten.set(a, b)
      asDrawn.set(b, a)
    }
  }
  return true
}

/** The connections as they are read, for a drawing made anew. */
const asRead = (circuit: Circuit, to: Circuit): Partial<Circuit> => ({
  parts: to.parts.map((p) => ({ ...(ownOf(circuit, p) ?? p), ...contentOf(p), id: p.id })),
  wires: [],
  junctions: [],
  labels: to.labels,
})
