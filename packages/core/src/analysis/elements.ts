import { type FlatElement, GROUND } from '../circuit/parts/PartKind.js'
import { VoskelError } from '../errors/VoskelError.js'
import type { Mna } from './mna.js'

/** The name of an element as a netlist has it: an amplifier is the one source inside its subcircuit there. */
export function netlistName({ kind, name }: FlatElement): string {
  return kind.id === 'opamp' ? `${/(^|\.)x[^.]*$/i.test(name) ? name : name.replace(/([^.]*)$/, 'X$1')}.E1` : name
}

/** The element with this name, any case. */
export function maybeElement(mna: Mna, name: string): { element: FlatElement; index: number } | null {
  const wanted = name.toUpperCase()
  const index = mna.circuit.elements.findIndex((e) => e.name.toUpperCase() === wanted)
  return index < 0 ? null : { element: mna.circuit.elements[index], index }
}

/** @throws VoskelError `ARGUMENT` naming the parts that exist */
export function element(mna: Mna, name: string): { element: FlatElement; index: number } {
  const found = maybeElement(mna, name)
  if (!found) {
    const names = mna.circuit.elements.map((e) => e.name)
    throw new VoskelError('ARGUMENT', {
      problem: `There is no part "${name}" in this circuit.`,
      fix: `Its parts are: ${listed(names)}.`,
    })
  }
  return found
}

/** The column of a net; `GROUND` for node 0. @throws VoskelError `ARGUMENT` naming the nets that exist */
export function netColumn(mna: Mna, name: string): number {
  if (name === '0') return GROUND
  const nodes = mna.circuit.nodes
  const exact = nodes.indexOf(name)
  const column = exact >= 0 ? exact : nodes.findIndex((n) => n.toUpperCase() === name.toUpperCase())
  if (column < 0) {
    throw new VoskelError('ARGUMENT', {
      problem: `There is no net "${name}" in this circuit.`,
      fix: `Its nets are: ${listed(nodes)}.`,
    })
  }
  return column
}

function listed(names: readonly string[]): string {
  const most = 12
  return names.length > most ? `${names.slice(0, most).join(', ')}, … (${names.length})` : names.join(', ')
}

/** The independent source that drives the circuit: the named one, `V1`, or the only one there is. */
export function inputSource(mna: Mna, name?: string): { element: FlatElement; index: number } {
  if (name !== undefined) {
    const found = element(mna, name)
    if (!found.element.kind.takesWaveform) {
      throw new VoskelError('ARGUMENT', {
        problem: `${found.element.name} is no independent source.`,
        fix: 'Name a V or I source.',
      })
    }
    return found
  }
  const first = maybeElement(mna, 'V1')
  if (first) return first
  const sources = mna.circuit.elements.flatMap((e, index) => (e.kind.takesWaveform ? [{ element: e, index }] : []))
  if (sources.length === 1) return sources[0]
  const problem =
    sources.length === 0
      ? 'The circuit has no independent source.'
      : 'There is more than one source and none is named V1.'
  throw new VoskelError('ARGUMENT', {
    problem,
    fix: `Name the input with --input${sources.length ? `: ${listed(sources.map((s) => s.element.name))}` : ' after adding a source'}.`,
  })
}

/** The right-hand side that a source's AC value of 1 is. */
export const driveOf = (mna: Mna, source: number): Drive =>
  mna.sources.filter((s) => s.element === source).map((s) => [s.row, s.sign] as const)

/** A right-hand side: [row, value]. */
export type Drive = readonly (readonly [row: number, value: number])[]
