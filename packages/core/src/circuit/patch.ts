import { z } from 'zod'
import { type Circuit, type Part, PartSchema } from './circuit.js'
import { maybePartKind } from './parts/index.js'

/**
 * Anything said about one part of a circuit that is computed, without adding, removing or rewiring: it is said again
 * whenever the circuit is computed anew.
 */
export const PartPatchSchema = PartSchema.pick({
  values: true,
  formulas: true,
  model: true,
  aside: true,
  waveform: true,
  acAs: true,
  tolerance: true,
  rating: true,
  at: true,
  label: true,
}).partial()
export type PartPatch = z.output<typeof PartPatchSchema>

/** What is said about parts, by their names. */
export type Patches = Readonly<Record<string, PartPatch>>

/** A circuit with what was said about its parts; `lost` is said of parts, or values, that it does not have. */
export interface Patched {
  readonly circuit: Circuit
  readonly lost: Patches
}

/** Says everything about the parts it was said of. What a value was before stands in the part's `exact`. */
export function patched(circuit: Circuit, patches: Patches): Patched {
  const said = new Map(Object.entries(patches))
  if (said.size === 0) return { circuit, lost: {} }
  const parts = circuit.parts.map((part) => {
    const patch = said.get(part.id)
    if (!patch || !fits(part, patch)) return part
    said.delete(part.id)
    return patchedPart(part, patch)
  })
  return { circuit: { ...circuit, parts }, lost: Object.fromEntries(said) }
}

function fits({ kind }: Part, { values = {}, formulas = {}, waveform }: PartPatch): boolean {
  const found = maybePartKind(kind)
  if (!found || (waveform !== undefined && !found.takesWaveform)) return false
  return [...Object.keys(values), ...Object.keys(formulas)].every((id) => found.values.some((f) => f.id === id))
}

function patchedPart(part: Part, { values = {}, formulas = {}, ...rest }: PartPatch): Part {
  const differing = Object.entries(values).filter(([id, v]) => part.values[id] !== undefined && part.values[id] !== v)
  const exact = { ...Object.fromEntries(differing.map(([id]) => [id, part.values[id]])), ...part.exact }
  const kept = Object.entries(part.formulas ?? {}).filter(([id]) => values[id] === undefined)
  const ruling = { ...Object.fromEntries(kept), ...formulas }
  const { formulas: _formulas, ...bare } = part
  return {
    ...bare,
    ...rest,
    values: { ...part.values, ...values },
    ...(Object.keys(ruling).length > 0 && { formulas: ruling }),
    ...(Object.keys(exact).length > 0 && { exact }),
  }
}

/** A part, or what is said of one, with one more value, which takes the place of a formula. */
export function withOwnValue<P extends Pick<PartPatch, 'values' | 'formulas'>>(of: P, field: string, value: number): P {
  const { [field]: _gone, ...formulas } = of.formulas ?? {}
  const next: P = { ...of, values: { ...of.values, [field]: value }, formulas }
  if (Object.keys(formulas).length === 0) delete next.formulas
  return next
}

/** What is said, less one value of a part. */
export function withoutPatchedValue(patches: Patches, part: string, field: string): Patches {
  const { [part]: patch, ...others } = patches
  if (!patch) return patches
  const {
    values: { [field]: _value, ...values } = {},
    formulas: { [field]: _formula, ...formulas } = {},
    ...rest
  } = patch
  const next: PartPatch = {
    ...rest,
    ...(Object.keys(values).length > 0 && { values }),
    ...(Object.keys(formulas).length > 0 && { formulas }),
  }
  return Object.keys(next).length > 0 ? { ...others, [part]: next } : others
}
