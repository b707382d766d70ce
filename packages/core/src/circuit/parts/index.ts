import { VoskelError } from '../../errors/VoskelError.js'
import { npn, pnp } from './bipolars.js'
import { capacitor } from './capacitor.js'
import {
  currentControlledCurrent,
  currentControlledVoltage,
  voltageControlledCurrent,
  voltageControlledVoltage,
} from './controlledSources.js'
import { coupling } from './coupling.js'
import { currentSource } from './currentSource.js'
import { diode } from './diode.js'
import { ground } from './ground.js'
import { inductor } from './inductor.js'
import { nmos, pmos } from './mosfets.js'
import { opamp } from './opamp.js'
import type { Part } from '../circuit.js'
import type { PartKind, PartShape } from './PartKind.js'
import { potentiometer } from './potentiometer.js'
import { resistor } from './resistor.js'
import { subcircuit } from './subcircuit.js'
import { switchPart } from './switch.js'
import { transformer } from './transformer.js'
import { voltageSource } from './voltageSource.js'

/** Every kind of part. A new one is one file beside these and one line here. */
export const partKinds: readonly PartKind[] = [
  resistor,
  capacitor,
  inductor,
  voltageSource,
  currentSource,
  voltageControlledVoltage,
  voltageControlledCurrent,
  currentControlledCurrent,
  currentControlledVoltage,
  coupling,
  diode,
  npn,
  pnp,
  nmos,
  pmos,
  opamp,
  potentiometer,
  switchPart,
  transformer,
  ground,
  subcircuit,
]

const byId = new Map(partKinds.map((k) => [k.id, k]))

export const maybePartKind = (id: string): PartKind | null => byId.get(id) ?? null

/** @throws VoskelError `NOT_OFFERED` */
export function partKind(id: string, part?: string): PartKind {
  const found = byId.get(id)
  if (!found) {
    throw new VoskelError('NOT_OFFERED', { what: 'kind of part', name: id, offered: [...byId.keys()] }, { part })
  }
  return found
}

/**
 * A part's pins and symbol.
 *
 * @throws VoskelError as `partKind`
 */
export function partShape(part: Pick<Part, 'kind' | 'pins'> & { readonly id?: string }): PartShape {
  const kind = partKind(part.kind, part.id)
  return kind.shapeFor?.(part) ?? kind
}
