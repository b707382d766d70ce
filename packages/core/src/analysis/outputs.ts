import { type FlatElement, GROUND } from '../circuit/parts/PartKind.js'
import { VoskelError } from '../errors/VoskelError.js'
import type { Mna, Probe } from './mna.js'

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

/** What an output asks for: `out`, `a-b`, `v(a)`, `v(a,b)`, `i(R1)`, or `z(V1)`. */
export type Output =
  | {
      readonly kind: 'linear'
      readonly unit: 'V' | 'A'
      readonly probe: Probe
      /** Index of the nonlinear device whose current this is, besides the probe. */
      readonly device?: number
    }
  | { readonly kind: 'impedance'; readonly source: number }

/**
 * Reads an output. A name that is a net, minus sign and all, is taken as that net before it is read as a difference.
 *
 * @throws VoskelError `ARGUMENT`
 */
export function parseOutput(mna: Mna, text: string): Output {
  const call = /^([viz])\(\s*([^(),]+?)\s*(?:,\s*([^(),]+?)\s*)?\)$/i.exec(text.trim())
  const letter = call?.[1].toLowerCase()
  if (call && letter === 'i') {
    const found = element(mna, call[2])
    const probe = mna.currents.get(found.index)
    const device = mna.devices.findIndex((d) => d.element === found.index && d.pinCurrent)
    if (device >= 0) return { kind: 'linear', unit: 'A', probe: [], device }
    if (!probe) {
      throw new VoskelError('ARGUMENT', {
        problem: `The current of ${found.element.name} is what it drives; it is not solved for.`,
        fix: 'Ask for the current of another part.',
      })
    }
    return { kind: 'linear', unit: 'A', probe }
  }
  if (call && letter === 'z') return { kind: 'impedance', source: inputSource(mna, call[2]).index }
  if (call) return difference(mna, call[2], call[3] ?? '0')
  const name = text.trim()
  if (mna.circuit.nodes.some((n) => n.toUpperCase() === name.toUpperCase())) return difference(mna, name, '0')
  const minus = name.indexOf('-')
  if (minus > 0) return difference(mna, name.slice(0, minus).trim(), name.slice(minus + 1).trim())
  return difference(mna, name, '0')
}

function difference(mna: Mna, plus: string, minus: string): Output {
  const terms: Probe = [
    [netColumn(mna, plus), 1, 0],
    [netColumn(mna, minus), -1, 0],
  ]
  return { kind: 'linear', unit: 'V', probe: terms.filter(([column]) => column !== GROUND) }
}
