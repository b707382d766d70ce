import { type Circuit, NetMap, partKind } from '@voskel/core'

/** Scattering parameters of a circuit, as its diagrams ask for them. */
export type PortSignals = Partial<Record<'s11' | 's21' | 's12' | 's22', string>>

/**
 * The resistor at a source and the last other one that ends at ground, which is usually the load; one alone where there is no load, none
 * where the source drives through no resistor.
 */
export function portResistors(circuit: Circuit | null, source: string): readonly string[] {
  const own = circuit?.parts.find((p) => p.id.toUpperCase() === source.toUpperCase())
  if (!circuit || !own) return []
  const map = NetMap.of(circuit)
  const netsOf = (id: string, pins: readonly string[]) => pins.map((pin) => map.netOf(id, pin))
  const driven = netsOf(own.id, partKind(own.kind, own.id).pins).filter((n) => n !== '0')
  const resistors = circuit.parts
    .filter((p) => p.kind === 'resistor')
    .map((p) => ({ id: p.id, nets: netsOf(p.id, ['a', 'b']) }))
  const first = resistors.find(({ nets }) => nets.some((n) => n !== null && driven.includes(n)) && !nets.includes('0'))
  if (!first) return []
  const load = resistors.findLast(({ id, nets }) => id !== first.id && nets.includes('0'))
  return load ? [first.id, load.id] : [first.id]
}

/** Scattering parameters between those resistors. */
export function portSignals(circuit: Circuit | null, source: string): PortSignals {
  const resistors = portResistors(circuit, source)
  if (resistors.length === 0) return {}
  const of = `(${resistors.join(',')})`
  return resistors.length === 1
    ? { s11: `s11${of}` }
    : { s11: `s11${of}`, s21: `s21${of}`, s12: `s12${of}`, s22: `s22${of}` }
}
