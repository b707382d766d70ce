import type { Circuit, Label, Part, Subcircuit } from '../../circuit/circuit.js'

/** A subcircuit that is one E source from (out, 0) sensed at (plus, minus) is an operational amplifier. */
function opampGain(definition: Subcircuit): number | undefined {
  const only = definition.parts[0]
  if (definition.parts.length !== 1 || only.kind !== 'vcvs' || definition.pins.length !== 3) return undefined
  const nets = new Map(definition.labels.map((l) => ['part' in l.end ? l.end.pin : '', l.name]))
  const [plus, minus, out] = definition.pins
  const fits =
    nets.get('plus') === out &&
    nets.get('minus') === '0' &&
    nets.get('sensePlus') === plus &&
    nets.get('senseMinus') === minus
  return fits ? only.values.gain : undefined
}

const OPAMP_PINS: Readonly<Record<string, string>> = { p1: 'plus', p2: 'minus', p3: 'out' }

export function withOpamps(circuit: Circuit): Circuit {
  const gains = new Map<string, number>()
  for (const [key, definition] of Object.entries(circuit.subcircuits ?? {})) {
    const gain = opampGain(definition)
    if (gain !== undefined && gain !== 0) gains.set(key, gain)
  }
  if (gains.size === 0) return circuit
  const replace = <T extends Circuit | Subcircuit>(scope: T): T => {
    const renamed = new Map<string, string>()
    const parts = scope.parts.map((part): Part => {
      const gain = part.kind === 'subcircuit' ? gains.get(part.definition!) : undefined
      if (gain === undefined) return part
      // The writer puts the X in front of a name that has none.
      const id = /^xu/i.test(part.id) ? part.id.slice(1) : part.id
      renamed.set(part.id, id)
      return { id, kind: 'opamp', values: { gain } }
    })
    const labels = scope.labels.map((label): Label => {
      const end = label.end
      const id = 'part' in end ? renamed.get(end.part) : undefined
      return id !== undefined && 'part' in end ? { ...label, end: { part: id, pin: OPAMP_PINS[end.pin] } } : label
    })
    return { ...scope, parts, labels }
  }
  const { subcircuits = {}, ...rest } = circuit
  const kept = Object.entries(subcircuits).filter(([key]) => !gains.has(key))
  const result: Circuit = replace(rest)
  if (kept.length > 0) result.subcircuits = Object.fromEntries(kept.map(([key, s]) => [key, replace(s)]))
  return result
}
