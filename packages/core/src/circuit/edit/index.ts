import { VoskelError } from '../../errors/VoskelError.js'
import type { Circuit } from '../circuit.js'
import { laidOut } from '../drawing/index.js'
import { bridgeNets } from './bridgeNets.js'
import type { CircuitEdit, Said } from './CircuitEdit.js'
import { groundNet } from './groundNet.js'
import { placePart } from './placePart.js'
import { putInSeries } from './putInSeries.js'
import { removePart } from './removePart.js'
import { setAside } from './setAside.js'
import { setFormula } from './setFormula.js'
import { setValue } from './setValue.js'
import { swapPins } from './swapPins.js'

/** Everything that can be done to a circuit. A new edit is one file beside these and one line here. */
export const circuitEdits = [
  setValue,
  setFormula,
  setAside,
  placePart,
  bridgeNets,
  putInSeries,
  swapPins,
  groundNet,
  removePart,
] as const

type Edits = (typeof circuitEdits)[number]

/** An edit as data: which one, and with what. */
export type EditCall = {
  [E in Edits as E['id']]: { readonly edit: E['id']; readonly args: Parameters<E['apply']>[1] }
}[Edits['id']]

/**
 * The edit of a call, ready to be done.
 *
 * @throws VoskelError `NOT_OFFERED`, `CIRCUIT_INVALID` where the arguments do not fit
 */
export function circuitEdit({ edit, args }: EditCall): {
  readonly label: string
  apply(circuit: Circuit): Circuit
  readonly says: Said | null
} {
  const found = circuitEdits.find((e) => e.id === edit) as unknown as CircuitEdit<unknown> | undefined
  if (!found) throw new VoskelError('NOT_OFFERED', { what: 'edit', name: edit, offered: circuitEdits.map((e) => e.id) })
  const checked = found.schema.safeParse(args)
  if (!checked.success) {
    const [issue] = checked.error.issues
    throw new VoskelError('CIRCUIT_INVALID', {
      problem: `The edit "${edit}" does not fit: ${issue.path.join('.') || 'its arguments'}: ${issue.message}.`,
      fix: 'Correct its arguments.',
    })
  }
  return {
    label: found.label(checked.data),
    // What is new is placed, and what moved is wired anew, so that the drawing stays one.
    apply: (circuit) => laidOut(found.apply(circuit, checked.data)),
    says: found.says?.(checked.data) ?? null,
  }
}
