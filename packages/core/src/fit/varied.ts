import type { Changed } from '../analysis/influence.js'
import type { Circuit, Part } from '../circuit/circuit.js'
import { flatten, type FlatCircuit } from '../circuit/flatten.js'
import { partKind } from '../circuit/parts/index.js'
import { VoskelError } from '../errors/VoskelError.js'

/** A number of a circuit that may be another one: a part's value, or a parameter. */
export interface Varied {
  /** As the circuit writes it: `R1`, `R1.seriesInductance`, `X1.C2`, a parameter's name. */
  readonly name: string
  /** What the circuit says, SI. */
  readonly value: number
  readonly unit: string
  readonly target: { readonly element: number; readonly field: string } | { readonly parameter: string }
}

/** A circuit some of whose numbers may be other ones. */
export class VariedCircuit {
  readonly flat: FlatCircuit
  readonly varied: readonly Varied[]

  /**
   * @param names parts (by their main value), `part.field`, or parameters; in any case
   * @throws VoskelError `ARGUMENT` for a name that is none, stands twice, or follows a formula; as `flatten`
   */
  constructor(
    private readonly circuit: Circuit,
    names: readonly string[],
  ) {
    this.flat = flatten(circuit)
    this.varied = names.map((name) => this.find(name.trim()))
    const twice = this.varied.find((v, k) => this.varied.findIndex((w) => w.name === v.name) < k)
    if (twice) throw refused(`"${twice.name}" is named twice.`, 'Name each value once.')
    if (names.length === 0) throw refused('No value is named.', 'Name parts such as R1, C1.')
  }

  /** The circuit at other numbers, one for each that is varied; null where a part cannot have its own. */
  at(values: ArrayLike<number>): FlatCircuit | null {
    const parameters: Record<string, number> = {}
    const changed = new Map<number, Record<string, number>>()
    this.varied.forEach(({ target }, k) => {
      if ('parameter' in target) parameters[target.parameter] = values[k]
      else changed.set(target.element, { ...changed.get(target.element), [target.field]: values[k] })
    })
    const base =
      Object.keys(parameters).length > 0
        ? flatten({ ...this.circuit, parameters: { ...this.circuit.parameters, ...parameters } })
        : this.flat
    const elements = base.elements.map((element, k) => {
      const own = changed.get(k)
      return own ? { ...element, values: { ...element.values, ...own } } : element
    })
    for (const k of changed.keys()) if (elements[k].kind.check?.(elements[k].values)) return null
    return { ...base, elements }
  }

  /** For each number the values of the elements that it changes, where it is multiplied by a factor. */
  changesAt(values: ArrayLike<number>): readonly ((factor: number) => Changed)[] {
    const base = this.at(values)!.elements
    return this.varied.map(({ target }, k) => (factor) => {
      if ('element' in target) {
        const { element, field } = target
        return new Map([[element, { ...base[element].values, [field]: factor * values[k] }]])
      }
      const other = this.at(Array.from(values, (v, j) => (j === k ? factor * v : v)))!.elements
      return new Map(other.flatMap((e, j) => (differ(e.values, base[j].values) ? [[j, e.values] as const] : [])))
    })
  }

  private find(name: string): Varied {
    const upper = name.toUpperCase()
    const { elements } = this.flat
    const whole = elements.findIndex((e) => e.name.toUpperCase() === upper)
    if (whole >= 0) {
      const { kind } = elements[whole]
      if (!kind.mainValue)
        throw refused(
          `${elements[whole].name} has no single value.`,
          kind.values.length > 0
            ? `Name one of its values: ${kind.values.map((f) => `${elements[whole].name}.${f.id}`).join(', ')}.`
            : 'Name another part.',
        )
      return this.ofElement(whole, kind.mainValue, elements[whole].name)
    }
    const dot = name.lastIndexOf('.')
    const owner = dot > 0 ? elements.findIndex((e) => e.name.toUpperCase() === upper.slice(0, dot)) : -1
    if (owner >= 0) {
      const { kind, name: part } = elements[owner]
      const field = kind.values.find((f) => f.id.toUpperCase() === upper.slice(dot + 1))
      if (!field)
        throw refused(
          `${part} has no value "${name.slice(dot + 1)}".`,
          `It has: ${kind.values.map((f) => f.id).join(', ')}.`,
        )
      return this.ofElement(owner, field.id, `${part}.${field.id}`)
    }
    return this.ofParameter(name)
  }

  private ofElement(element: number, field: string, name: string): Varied {
    const { kind, values, name: part } = this.flat.elements[element]
    const formula = partAt(this.circuit, part)?.formulas?.[field]
    if (formula !== undefined)
      throw refused(`${name} follows the formula ${formula}.`, 'Name a parameter of the formula instead.')
    const { unit } = kind.values.find((f) => f.id === field)!
    return { name, value: values[field], unit, target: { element, field } }
  }

  private ofParameter(name: string): Varied {
    const { parameters = {} } = this.circuit
    const own = Object.keys(parameters).find((p) => p.toLowerCase() === name.toLowerCase())
    if (own === undefined) {
      const parts = this.flat.elements.filter((e) => e.kind.sensitive).map((e) => e.name)
      const all = [...parts, ...Object.keys(parameters)]
      throw refused(`There is no part or parameter "${name}" in this circuit.`, `Name one of: ${all.join(', ')}.`)
    }
    const value = parameters[own]
    if (typeof value !== 'number')
      throw refused(`The parameter "${own}" follows the formula ${value}.`, 'Name a parameter that is a plain number.')
    return { name: own, value, unit: '', target: { parameter: own } }
  }
}

const differ = (a: Readonly<Record<string, number>>, b: Readonly<Record<string, number>>): boolean =>
  Object.keys(a).some((field) => a[field] !== b[field])

/** The part that an element such as `X1.R2` is. */
function partAt(circuit: Circuit, name: string): Part | undefined {
  let parts = circuit.parts
  const steps = name.split('.')
  for (const [k, step] of steps.entries()) {
    // A name may hold a point itself.
    const rest = steps.slice(k).join('.').toUpperCase()
    const last = parts.find((p) => p.id.toUpperCase() === rest)
    if (last) return last
    const use = parts.find(
      (p) => p.id.toUpperCase() === step.toUpperCase() && partKind(p.kind, p.id).id === 'subcircuit',
    )
    const definition = use?.definition === undefined ? undefined : circuit.subcircuits?.[use.definition]
    if (!definition) return undefined
    parts = definition.parts
  }
  return undefined
}

const refused = (problem: string, fix: string) => new VoskelError('ARGUMENT', { problem, fix })
