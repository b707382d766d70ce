import type { Circuit, Label, Part, Subcircuit } from '../../circuit/circuit.js'
import { opamp, stageCapacitances } from '../../circuit/parts/opamp.js'
import type { Naming } from './naming.js'
import { writeNumber } from './number.js'

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

type Values = Readonly<Record<string, number>>

/** One subcircuit for each operational amplifier in use that differs from the others. */
export class OpampDefinitions {
  private readonly names = new Map<string, { name: string; values: Values }>()

  constructor(private readonly subcircuits: Naming) {}

  /** @param values all values of the amplifier; returns the name of its subcircuit */
  use(values: Values): string {
    const written = Object.entries(values).filter(([id]) => !opamp.notInNetlist!.includes(id))
    const key = JSON.stringify(written.sort())
    let known = this.names.get(key)
    if (!known) {
      known = { name: this.subcircuits.name(`\u0000${key}`, `opamp${this.names.size + 1}`), values }
      this.names.set(key, known)
    }
    return known.name
  }

  lines(): string[] {
    return [...this.names.values()].flatMap(({ name, values }) => [
      `.subckt ${name} plus minus out`,
      ...macromodel(values),
      '.ends',
    ])
  }
}

/** What the part `opamp` stamps, as elements; noise, slew rate and limits have none. */
function macromodel(values: Values): string[] {
  const { gain, inputResistance, outputResistance, offset, resting, biasCurrent, biasOffset } = values
  const { first, second } = stageCapacitances(values)
  const n = writeNumber
  if (
    first === 0 &&
    second === 0 &&
    [inputResistance, outputResistance, offset, resting, biasCurrent, biasOffset].every((v) => v === 0)
  )
    return [`E1 out 0 plus minus ${n(gain)}`]
  const last = second > 0 ? 'second' : 'stage'
  return [
    ...(offset !== 0 ? [`V1 sense plus DC ${n(offset)}`] : []),
    ...(biasCurrent + biasOffset / 2 !== 0 ? [`I1 plus 0 DC ${n(biasCurrent + biasOffset / 2)}`] : []),
    ...(biasCurrent - biasOffset / 2 !== 0 ? [`I2 minus 0 DC ${n(biasCurrent - biasOffset / 2)}`] : []),
    ...(inputResistance > 0 ? [`R1 plus minus ${n(inputResistance)}`] : []),
    `G1 0 stage ${offset !== 0 ? 'sense' : 'plus'} minus 1`,
    ...(resting !== 0 ? [`I3 0 stage DC ${n(resting / gain)}`] : []),
    `R2 stage 0 ${n(gain)}`,
    ...(first > 0 ? [`C1 stage 0 ${n(first)}`] : []),
    ...(second > 0 ? ['G2 0 second stage 0 1', 'R3 second 0 1', `C2 second 0 ${n(second)}`] : []),
    ...(outputResistance > 0
      ? [`E1 source 0 ${last} 0 1`, `R4 source out ${n(outputResistance)}`]
      : [`E1 out 0 ${last} 0 1`]),
  ]
}
