import { inputSource, netColumn } from '../analysis/elements.js'
import { formulate } from '../analysis/mna.js'
import { polesAndZeros } from '../analysis/poles.js'
import { smallSignal } from '../analysis/smallSignal.js'
import type { Circuit } from '../circuit/circuit.js'
import { GROUND } from '../circuit/parts/PartKind.js'
import { reachable } from '../circuit/reachable.js'
import { VoskelError } from '../errors/VoskelError.js'
import { searchGrid, turnsOf } from '../measure/overFrequency.js'
import { magnitudeDb, type TransferFunction } from '../numeric/transferFunction.js'
import { formatQuantity } from '../quantity/formatQuantity.js'
import { isLeaf, parseSignal } from '../quantity/signal.js'
import { evidenceOf, type Subject } from '../verdict/evidence.js'
import { ledger } from '../verdict/ledger.js'
import type { Verdict } from '../verdict/Requirement.js'
import { meantBands, passingBands } from './passingBands.js'

/** Where an amplifier that buffers stands. */
export type BufferPlace = 'behind the source' | 'inside' | 'at the output'

/** An amplifier that passes on what it is given and no more, weighed against the error of doing without it. */
export interface BufferCost {
  /** The amplifier; null for one that is not there: between the output and its load. */
  readonly part: string | null
  readonly place: BufferPlace
  /** It is not in the circuit as it stands: left out, or never put in. */
  readonly isOut: boolean
  /** What doing without it changes of the magnitude where signals pass: the most, dB, and where, Hz; null where nothing does. */
  readonly error: { readonly db: number; readonly at: number } | null
  /** Names of the requirements that are met with it alone. */
  readonly breaks: readonly string[]
  /** Why the circuit cannot be judged without it, or with it; null where it can. */
  readonly failure: string | null
}

/** What buffers are weighed by: a circuit, and what it promises. */
export type BufferedSubject = Pick<Subject, 'promised' | 'requirements' | 'input' | 'output' | 'referenceDb'> & {
  readonly circuit: Circuit
}

/** A change of this little is rounding, dB. */
const NOTHING_DB = 1e-9

/**
 * Every amplifier that only buffers, and what doing without it costs: a follower whose output comes back to its input through
 * no part, so that it takes a load off and does nothing else. One that was left out (set aside as a short) is weighed as well,
 * and one that might stand between an amplifier's output and the resistor that loads it.
 *
 * @throws VoskelError as `formulate`; what fails with one follower in or out is said there
 */
export function bufferCosts(subject: BufferedSubject): BufferCost[] {
  const { circuit } = subject
  const study = (parts: Circuit['parts']) => judged({ ...subject, circuit: { ...circuit, parts } })
  const { followers, loads } = structure(subject)
  const found = followers.map(({ part, place }): BufferCost => {
    const isOut = circuit.parts.some((p) => p.id === part && isBridged(p))
    const [present, absent] = [undefined, 'short' as const].map((aside) =>
      study(circuit.parts.map((p) => (p.id === part ? { ...p, aside } : p))),
    )
    return { part, place, isOut, ...difference(present, absent, subject) }
  })
  if (loads.length === 0 || found.some((b) => b.place === 'at the output')) return found
  const unloaded = study(circuit.parts.map((p) => (loads.includes(p.id) ? { ...p, aside: 'open' as const } : p)))
  const added = difference(unloaded, study(circuit.parts), subject)
  return [...found, { part: null, place: 'at the output', isOut: true, ...added }]
}

interface Structure {
  readonly followers: readonly { readonly part: string; readonly place: BufferPlace }[]
  /** Resistors to ground at an output that is an amplifier's. */
  readonly loads: readonly string[]
}

function structure({ circuit, input, output = 'v(out)' }: BufferedSubject): Structure {
  // What was left out is found as it stood.
  const parts = circuit.parts.map((p) => (isBridged(p) ? { ...p, aside: undefined } : p))
  const mna = formulate({ ...circuit, parts })
  const { elements } = mna.circuit
  const own = new Set(parts.map((p) => p.id))
  const driven = inputSource(mna, input).element.nodes.filter((n) => n !== GROUND)
  const asked = parseSignal(output)
  // A difference or a current has no follower of its own.
  const end = isLeaf(asked) && asked.op === 'v' && asked.of.length === 1 ? netColumn(mna, asked.of[0]) : GROUND
  const isDriven = (reached: ReadonlySet<number>) =>
    elements.some(
      ({ kind, nodes }) =>
        kind.id !== 'opamp' &&
        !kind.takesWaveform &&
        nodes.some((n) => driven.includes(n)) &&
        nodes.some((n) => reached.has(n)),
    )
  const followers = elements.flatMap(({ kind, name, nodes: [plus, minus, out] }) => {
    if (kind.id !== 'opamp' || !own.has(name) || minus !== out || plus === out || plus === GROUND) return []
    if (reachable(mna.circuit, out, name, false).has(plus)) return []
    const place = isDriven(reachable(mna.circuit, plus, name, false)) ? 'behind the source' : 'inside'
    return [{ part: name, place: out === end ? ('at the output' as const) : (place as BufferPlace) }]
  })
  const isAmplified = elements.some(({ kind, nodes }) => kind.id === 'opamp' && end !== GROUND && nodes[2] === end)
  const loads = elements.flatMap(({ kind, name, nodes }) =>
    isAmplified && kind.id === 'resistor' && nodes.includes(end) && nodes.includes(GROUND) && own.has(name)
      ? [name]
      : [],
  )
  return { followers, loads }
}

const isBridged = ({ kind, aside }: Circuit['parts'][number]) => kind === 'opamp' && aside === 'short'

interface Judged {
  readonly transfer: TransferFunction
  readonly verdicts: readonly Verdict[]
}

function judged({ circuit, promised, requirements, input, output, referenceDb }: BufferedSubject): Judged | string {
  try {
    const equations = smallSignal(formulate(circuit))
    const asked = { ...(input !== undefined && { input }), ...(output !== undefined && { output }) }
    const { transfer } = polesAndZeros(equations, asked)
    const evidence = evidenceOf({
      promised,
      ...(requirements && { requirements }),
      transfer,
      circuit,
      equations,
      ...asked,
      ...(referenceDb !== undefined && { referenceDb }),
      lenient: true,
    })
    return { transfer, verdicts: ledger(evidence) }
  } catch (error) {
    if (error instanceof VoskelError) return error.message
    throw error
  }
}

function difference(
  present: Judged | string,
  absent: Judged | string,
  subject: BufferedSubject,
): Pick<BufferCost, 'error' | 'breaks' | 'failure'> {
  const failure = [present, absent].find((j) => typeof j === 'string')
  if (typeof present === 'string' || typeof absent === 'string')
    return { error: null, breaks: [], failure: failure as string }
  const lost = present.verdicts.filter((v) => v.met && absent.verdicts.some((w) => w.id === v.id && !w.met))
  return { error: greatestChange(present, absent, subject), breaks: lost.map((v) => v.name), failure: null }
}

function greatestChange({ transfer: before }: Judged, { transfer: after }: Judged, { promised }: BufferedSubject) {
  const change = (w: number) => magnitudeDb(after, w) - magnitudeDb(before, w)
  const both = { poles: [...before.poles, ...after.poles], zeros: [...before.zeros, ...after.zeros], gain: 1 }
  const turns = passingBands(meantBands(promised), both.poles).flatMap(([from, to]) => {
    const grid = searchGrid(both, from, to)
    return [...turnsOf(change, grid), ...turnsOf((w) => -change(w), grid)]
  })
  const most = turns.reduce((a, b) => (Math.abs(b.value) > Math.abs(a.value) ? b : a))
  return Math.abs(most.value) < NOTHING_DB ? null : { db: change(most.omega), at: most.omega / (2 * Math.PI) }
}

/** What doing without an amplifier that only buffers costs, in words. */
export function bufferText({ part, isOut, error, breaks, failure }: BufferCost): string {
  if (failure !== null) return `What doing without it costs cannot be said: ${failure}`
  const it = part === null ? 'one' : 'it'
  if (!error) return isOut ? `Nothing would change with ${it}.` : 'Nothing would change without it.'
  const size = formatQuantity(Math.abs(error.db), 'dB', 3)
  const change = Number.isFinite(error.db) ? `${size} ${error.db < 0 ? 'less' : 'more'}` : 'nothing passes'
  const missed = breaks.length > 0 ? `; missed for that: ${breaks.join(', ')}` : ''
  return `${isOut ? (part === null ? 'Without one' : 'Left out') : 'Without it'}: ${change} at ${formatQuantity(error.at, 'Hz', 3)}${missed}.`
}
