import { NetMap } from '../../circuit/NetMap.js'
import { partKind } from '../../circuit/parts/index.js'
import type { Waveform } from '../../circuit/waveforms/index.js'
import { VoskelError } from '../../errors/VoskelError.js'
import { formatQuantity } from '../../quantity/formatQuantity.js'
import { signalText } from '../../quantity/signal.js'
import type { Cursor } from './cursors.js'
import type { Design } from './Design.js'
import { designedCircuit } from './designedCircuit.js'
import { withCircuitEdit, withCursors } from './designEdits.js'
import { diagramsOf } from './diagrams.js'

/** What a cursor's frequency can be heard as. */
export type Drive = NonNullable<Cursor['drives']>

/** Periods that are shown. */
const SHOWN = 4

/**
 * A design whose source is a sine or a square wave of a cursor's frequency, seen over time beside the output: some periods
 * from rest, or after it has settled. The cursor keeps it so: moved, it moves the source.
 *
 * @throws VoskelError `ARGUMENT` where there is no such source or cursor; as `withCircuitEdit`
 */
export function withDriven(design: Design, name: string, drives: Drive): Design {
  const cursor = design.cursors?.find((c) => c.name === name && c.over === 'frequency')
  if (!cursor) throw new VoskelError('ARGUMENT', { problem: `There is no cursor "${name}".`, fix: 'Add one first.' })
  const cursors = (design.cursors ?? []).map((c): Cursor => {
    const { drives: _before, ...rest } = c
    return c === cursor ? { ...rest, drives } : rest
  })
  return retuned(withCursors(design, cursors), cursor.at, drives)
}

/** A cursor at another place; what it drives goes with it. */
export function withCursorAt(design: Design, name: string, at: number): Design {
  const cursors = (design.cursors ?? []).map((c) => (c.name === name ? { ...c, at } : c))
  const moved = withCursors(design, cursors)
  const drives = cursors.find((c) => c.name === name)?.drives
  if (!drives) return moved
  try {
    return retuned(moved, at, drives)
  } catch (error) {
    // A source that went away is driven no more.
    if (!(error instanceof VoskelError)) throw error
    return moved
  }
}

function retuned(design: Design, frequency: number, { source, shape, after }: Drive): Design {
  const circuit = design.circuit.origin === 'drawn' ? design.circuit.circuit : designedCircuit(design)?.circuit
  const part = circuit?.parts.find((p) => p.id.toUpperCase() === source.toUpperCase())
  if (!circuit || !part) {
    throw new VoskelError('ARGUMENT', {
      problem: `There is no source "${source}" in this circuit.`,
      fix: 'Name a source that drives it.',
    })
  }
  const { waveform } = part
  const before = waveform?.kind === 'sine' || waveform?.kind === 'periodic' ? waveform : null
  const common = {
    offset: before?.offset ?? part.values.bias ?? 0,
    amplitude: before?.amplitude ?? ((part.values.acMagnitude ?? 0) || 1),
    frequency,
    delay: 0,
  }
  const next: Waveform =
    shape === 'sine'
      ? { kind: 'sine', ...common, damping: 0, phase: 0 }
      : { kind: 'periodic', shape: 'square', ...common, duty: 1 / 2 }
  const driven = withCircuitEdit(design, {
    edit: 'set-properties',
    args: { parts: [part.id], say: { waveform: next } },
  })
  const net = NetMap.of(circuit).netOf(part.id, 'plus')
  const input = net === null || partKind(part.kind).id !== 'voltage-source' ? [] : [signalText({ op: 'v', of: [net] })]
  const x: [number, number] = [0, SHOWN / frequency]
  const { start: _before, ...study } = driven.study ?? {}
  return {
    ...driven,
    study: after === undefined ? study : { ...study, start: 'settled' as const },
    diagrams: diagramsOf(driven).map((d) => {
      if (d.over !== 'time') return d
      return { ...d, x, ...(d.view === 'value' && { signals: [...new Set([...d.signals, ...input])] }) }
    }),
  }
}

/** As a step of the history is named. */
export const drivenLabel = (frequency: number, { source, shape }: Drive): string =>
  `${source} a ${shape === 'sine' ? 'sine' : 'square wave'} of ${formatQuantity(frequency, 'Hz')}`
