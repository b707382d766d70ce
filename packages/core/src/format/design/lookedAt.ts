import type { Circuit, GridPoint } from '../../circuit/circuit.js'
import { circuitEdit, type EditCall } from '../../circuit/edit/index.js'
import { GROUND_NAME } from '../../circuit/flatten.js'
import { NetMap } from '../../circuit/NetMap.js'
import { partKind } from '../../circuit/parts/index.js'
import { VoskelError } from '../../errors/VoskelError.js'
import { leavesOf, parseSignal, type Signal, signalText, withLeaves } from '../../quantity/signal.js'
import type { ValueReading } from '../../specification/requirements/value.js'
import type { Design } from './Design.js'
import { withDiagramSignals } from './diagrams.js'

/** What of a design names its nets and parts: its output, its input and what its diagrams show. */
type Naming = Pick<Design, 'study' | 'diagrams' | 'figures' | 'requirements' | 'cursors' | 'expected'>

/** Leaves of a signal that name nets, and those that name parts; an impedance is of nets or of a source. */
const OF = { net: ['v', 'z'], part: ['i', 'p', 'z', 's11', 's21', 's12', 's22'] } as const

/** null where a signal cannot be read: who asks for it is told. */
function read(text: string): Signal | null {
  try {
    return parseSignal(text)
  } catch (error) {
    if (error instanceof VoskelError) return null
    throw error
  }
}

/** What a design looks at after a net or a part has got another name. */
export function withLookedAtRenamed<D extends Naming>(design: D, what: 'net' | 'part', from: string, to: string): D {
  const ops: readonly string[] = OF[what]
  const renamed = (text: string): string => {
    const signal = read(text)
    const names = signal !== null && leavesOf(signal).some((l) => ops.includes(l.op) && l.of.includes(from))
    if (!names) return text
    const renamedOf = (of: readonly string[]) => of.map((name) => (name === from ? to : name))
    return signalText(withLeaves(signal, (l) => (ops.includes(l.op) ? { ...l, of: renamedOf(l.of) } : l)))
  }
  const bare = (text: string): string =>
    what === 'net' && text.toLowerCase() === from.toLowerCase() ? to : renamed(text)
  const { study, diagrams, figures, requirements, cursors, expected } = design
  return {
    ...design,
    ...(study && {
      study: {
        ...study,
        ...(study.output !== undefined && { output: renamed(study.output) }),
        ...(what === 'part' && study.input === from && { input: to }),
      },
    }),
    ...(diagrams && { diagrams: diagrams.map((d) => withDiagramSignals(d, (signals) => signals.map(renamed))) }),
    ...(figures && {
      figures: figures.map((f) => ({
        ...f,
        diagram: withDiagramSignals(f.diagram, (signals) => signals.map(renamed)),
      })),
    }),
    ...(cursors && { cursors: cursors.map((c) => (c.on === undefined ? c : { ...c, on: renamed(c.on) })) }),
    ...(requirements && {
      requirements: requirements.map((r) => (r.kind === 'value' ? { ...r, of: withReadingRenamed(r.of, bare) } : r)),
    }),
    ...(expected && { expected: expected.map((e) => ({ ...e, of: withReadingRenamed(e.of, bare) })) }),
  }
}

/** What is read, by other names. */
function withReadingRenamed(of: ValueReading, renamed: (text: string) => string): ValueReading {
  if ('noise' in of) return { ...of, noise: renamed(of.noise) }
  if ('signal' in of) return { ...of, signal: renamed(of.signal) }
  return of.output === undefined ? of : { ...of, output: renamed(of.output) }
}

/** The names that an edit changes; null where it changes none. */
export function renamedBy(call: EditCall): { what: 'net' | 'part'; from: string; to: string } | null {
  if (call.edit === 'rename-net') return { what: 'net', from: call.args.net, to: call.args.to.trim() }
  if (call.edit === 'rename-part') return { what: 'part', from: call.args.part, to: call.args.to.trim() }
  return null
}

/**
 * A drawn circuit with a name of its own for every net that a signal names by its number: numbers count anew with every
 * edit, and the signal would be another one.
 */
export function withNetsNamed(circuit: Circuit, text: string): Circuit {
  const signal = read(text)
  const names = signal ? leavesOf(signal).flatMap((l) => (OF.net.some((op) => op === l.op) ? l.of : [])) : []
  return names.reduce((now, name) => {
    if (name === GROUND_NAME || now.labels.some((l) => l.name === name)) return now
    const [at] = NetMap.of(now).pinsOf(name)
    return at ? circuitEdit({ edit: 'name-net', args: { at, name } }).apply(now) : now
  }, circuit)
}

/** A source that opens a loop: nothing at rest, 1 V for AC. */
const OPENING = { kind: 'voltage-source', values: { bias: 0, acMagnitude: 1, acPhase: 0 } } as const

/**
 * A circuit with a loop opened at a place on a wire, for its gain: a source in series is the input, and the output what comes
 * back over what goes in, −v(back)/v(on). Nothing changes at rest. Exact where the side that drives has no impedance against
 * the other. Source: R. D. Middlebrook, Int. J. Electronics 38, 1975, 485–512, voltage injection; from memory.
 *
 * @throws VoskelError `CIRCUIT_INVALID` where no wire runs there
 */
export function openedLoop(
  circuit: Circuit,
  wire: string,
  at: GridPoint,
): { readonly circuit: Circuit; readonly input: string; readonly output: string } {
  const opened = circuitEdit({ edit: 'put-in-wire', args: { wire, at, part: OPENING } }).apply(circuit)
  const had = new Set(circuit.parts.map((p) => p.id))
  const input = opened.parts.find((p) => !had.has(p.id))!.id
  const nets = NetMap.of(opened)
  const [one, other] = ['plus', 'minus'].map((pin) => nets.netOf(input, pin)!)
  const drives = (net: string) =>
    nets.pinsOf(net).some(({ part, pin }) => {
      const kind = partKind(opened.parts.find((p) => p.id === part)!.kind, part)
      return kind.group === 'amplify' && kind.grows?.to === pin
    })
  const [back, on] = drives(one) && !drives(other) ? [one, other] : [other, one]
  const v = (net: string) => signalText({ op: 'v', of: [net] })
  return { circuit: opened, input, output: `-${v(back)}/${v(on)}` }
}

/** Whether an output is a loop's gain as `openedLoop` writes it. */
export const isLoopGain = (output: string): boolean => {
  const signal = read(output)
  if (signal?.op !== '/') return false
  const [turned, on] = signal.args
  if (turned.op !== '*' || on.op !== 'v') return false
  const [factor, back] = turned.args
  return factor.op === 'number' && factor.value === -1 && back.op === 'v'
}
