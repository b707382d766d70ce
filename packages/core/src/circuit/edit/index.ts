import { VoskelError } from '../../errors/VoskelError.js'
import type { Circuit } from '../circuit.js'
import { laidOut } from '../drawing/index.js'
import { bridgeNets } from './bridgeNets.js'
import type { CircuitEdit, Said } from './CircuitEdit.js'
import { groundNet } from './groundNet.js'
import { placePart } from './placePart.js'
import { putInSeries } from './putInSeries.js'
import { removePart } from './removePart.js'
import { withNamesCarried } from './namesCarried.js'
import { alignParts } from './alignParts.js'
import { joinedEnds } from './connect.js'
import { removeBlock, setBlockParameter } from './changeBlock.js'
import { drawWire } from './drawWire.js'
import { growPart } from './growPart.js'
import { makeBlock } from './makeBlock.js'
import { moveStretch } from './moveStretch.js'
import { moveThings } from './moveThings.js'
import { nameNet, renameNet } from './nameNet.js'
import { makeParameter, removeParameter, renameParameter, setParameter } from './parameters.js'
import { pasteThings } from './pasteThings.js'
import { placeLabel, placeName } from './placeLabel.js'
import { putInWire } from './putInWire.js'
import { putPart } from './putPart.js'
import { removeModel } from './removeModel.js'
import { removeThings } from './removeThings.js'
import { renamePart } from './renamePart.js'
import { replacePart } from './replacePart.js'
import { scaleCircuit } from './scaleCircuit.js'
import { setInitial } from './setInitial.js'
import { setProperties } from './setProperties.js'
import { takeCircuit } from './takeCircuit.js'
import { turnParts } from './turnParts.js'
import { writeNote } from './writeNote.js'
import { setAside } from './setAside.js'
import { setFormula } from './setFormula.js'
import { setValue } from './setValue.js'
import { setValues } from './setValues.js'
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
  alignParts,
  drawWire,
  growPart,
  makeBlock,
  setBlockParameter,
  removeBlock,
  removeModel,
  moveStretch,
  moveThings,
  nameNet,
  renameNet,
  makeParameter,
  removeParameter,
  renameParameter,
  setParameter,
  pasteThings,
  placeLabel,
  placeName,
  putInWire,
  putPart,
  removeThings,
  renamePart,
  replacePart,
  scaleCircuit,
  setInitial,
  setProperties,
  setValues,
  takeCircuit,
  turnParts,
  writeNote,
] as const

type Edits = (typeof circuitEdits)[number]

/** An edit as data: which one, and with what. */
export type EditCall = {
  [E in Edits as E['id']]: { readonly edit: E['id']; readonly args: Parameters<E['apply']>[1] }
}[Edits['id']]

/** The circuit without junctions that nothing hangs on. */
function withoutStrays(circuit: Circuit): Circuit {
  const used = new Set(joinedEnds(circuit).flatMap((end) => ('junction' in end ? [end.junction] : [])))
  if (circuit.junctions.every((j) => used.has(j.id))) return circuit
  return { ...circuit, junctions: circuit.junctions.filter((j) => used.has(j.id)) }
}

/**
 * The edit of a call, ready to be done.
 *
 * @throws VoskelError `NOT_OFFERED`, `CIRCUIT_INVALID` where the arguments do not fit
 */
export function circuitEdit({ edit, args }: EditCall): {
  readonly label: string
  apply(circuit: Circuit): Circuit
  /** What it says of single parts; null where it adds, removes or rewires. */
  says(circuit: Circuit): readonly Said[] | null
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
    apply(circuit) {
      const done = withoutStrays(found.apply(circuit, checked.data))
      const laid = laidOut(withNamesCarried(circuit, done))
      // A wire that went another way may have left a name behind.
      return withNamesCarried(circuit, laid)
    },
    says: (circuit) => found.says?.(checked.data, circuit) ?? null,
  }
}
