import { flatten, type FlatCircuit } from '../circuit/flatten.js'
import type { Circuit } from '../circuit/circuit.js'
import { type FlatElement, GROUND, type Stamper, type StoredEnergy } from '../circuit/parts/PartKind.js'
import { VoskelError } from '../errors/VoskelError.js'
import { type Pattern, PatternBuilder } from '../numeric/sparse/pattern.js'

/** An independent source among the equations: `sign` times its value on the right-hand side of `row`. */
export interface SourceTerm {
  readonly row: number
  readonly sign: number
  /** Index into `elements`. */
  readonly element: number
}

/** A wanted quantity as Σ (g + s·c)·x[column]. */
export type Probe = readonly (readonly [column: number, g: number, c: number])[]

/**
 * The equations of a circuit: (G + s·C)·x = b, x = node voltages then branch currents; entries by slot of `pattern`.
 * Source: C.-W. Ho, A. E. Ruehli, P. A. Brennan, IEEE Trans. CAS-22, 1975, 504–509.
 */
export interface Mna {
  readonly circuit: FlatCircuit
  readonly size: number
  /** Names of the unknowns as errors say them: `v(out)`, `i(L1)`. */
  readonly unknowns: readonly string[]
  readonly pattern: Pattern
  readonly g: Float64Array
  readonly c: Float64Array
  readonly sources: readonly SourceTerm[]
  /** The current into each element's first pin; absent where it has none of its own (independent current sources). */
  readonly currents: ReadonlyMap<number, Probe>
  readonly stored: readonly StoredEnergy[]
}

/** Writes down the equations of a circuit. Errors are those of `flatten`, and `FLOATING_NET`. */
export function formulate(circuit: Circuit | FlatCircuit): Mna {
  const flat = 'elements' in circuit ? circuit : flatten(circuit)
  refuseFloatingNets(flat)
  const sheet = new Sheet(flat)
  flat.elements.forEach((element, k) => {
    sheet.place = k
    element.kind.stamp(sheet, element)
  })
  return sheet.finish()
}

class Sheet implements Stamper {
  place = 0
  private readonly builder = new PatternBuilder()
  private readonly g: number[] = []
  private readonly c: number[] = []
  private readonly unknowns: string[]
  private readonly sources: SourceTerm[] = []
  private readonly currents = new Map<number, Probe>()
  private readonly stored: StoredEnergy[] = []

  constructor(private readonly flat: FlatCircuit) {
    this.unknowns = flat.nodes.map((n) => `v(${n})`)
  }

  entry(row: number, column: number, g: number, c = 0): void {
    if (row === GROUND || column === GROUND) return
    const slot = this.builder.slot(row, column)
    this.g[slot] = (this.g[slot] ?? 0) + g
    this.c[slot] = (this.c[slot] ?? 0) + c
  }

  branch(): number {
    return this.unknowns.push(`i(${this.flat.elements[this.place].name})`) - 1
  }

  source(row: number, sign: number): void {
    if (row !== GROUND) this.sources.push({ row, sign, element: this.place })
  }

  current(terms: Probe): void {
    this.currents.set(
      this.place,
      terms.filter(([column]) => column !== GROUND),
    )
  }

  store(element: StoredEnergy): void {
    if (element.value !== 0) this.stored.push(element)
  }

  finish(): Mna {
    const size = this.unknowns.length
    return {
      circuit: this.flat,
      size,
      unknowns: this.unknowns,
      pattern: this.builder.build(size),
      g: Float64Array.from(this.g),
      c: Float64Array.from(this.c),
      sources: this.sources,
      currents: this.currents,
      stored: this.stored,
    }
  }
}

/** Every net must hang together with ground through some part; what does not is named before any numbers are tried. */
function refuseFloatingNets(flat: FlatCircuit): void {
  const parent = Int32Array.from({ length: flat.nodes.length + 1 }, (_, k) => k)
  const find = (k: number): number => {
    while (parent[k] !== k) k = parent[k] = parent[parent[k]]
    return k
  }
  // Ground has index 0 here, net k has k + 1.
  for (const { nodes } of flat.elements) for (const n of nodes) parent[find(n + 1)] = find(nodes[0] + 1)
  const floating = flat.nodes.filter((_, k) => find(k + 1) !== find(0))
  if (floating.length > 0) {
    const shown = floating.slice(0, 10)
    throw new VoskelError('FLOATING_NET', { nets: shown }, { net: shown[0] })
  }
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
  | { readonly kind: 'linear'; readonly unit: 'V' | 'A'; readonly probe: Probe }
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
