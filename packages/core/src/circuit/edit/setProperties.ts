import { z } from 'zod'
import { VoskelError } from '../../errors/VoskelError.js'
import { type Part, PartSchema } from '../circuit.js'
import { partKind } from '../parts/index.js'
import { type CircuitEdit, partOf, withPart } from './CircuitEdit.js'

const { model, waveform, acAs, tolerance, rating, refs } = PartSchema.shape

const schema = z.strictObject({
  parts: z.array(z.string()).min(1),
  /** What is said of each; null takes it back. */
  say: z
    .strictObject({
      model: model.nullable(),
      waveform: waveform.nullable(),
      acAs: acAs.nullable(),
      tolerance: tolerance.nullable(),
      rating: rating.nullable(),
      refs: refs.nullable(),
    })
    .partial(),
})
type Say = z.output<typeof schema>['say']

const WORDS: Readonly<Record<keyof Say, string>> = {
  model: 'model',
  waveform: 'waveform',
  acAs: 'amplitude',
  tolerance: 'tolerance',
  rating: 'rating',
  refs: 'parts named by',
}

function said<P extends object>(of: P, say: Say): P {
  const next = { ...of } as Record<string, unknown>
  for (const [key, value] of Object.entries(say)) {
    if (value === null || value === undefined) delete next[key]
    else next[key] = value
  }
  return next as P
}

/** Says something of parts besides their values: model, waveform, tolerance, rating. */
export const setProperties: CircuitEdit<z.output<typeof schema>, 'set-properties'> = {
  id: 'set-properties',
  schema,
  label: ({ parts, say }) =>
    `${Object.keys(say)
      .map((k) => WORDS[k as keyof Say])
      .join(', ')} of ${parts.length === 1 ? parts[0] : `${parts.length} parts`}`,
  apply: (circuit, { parts, say }) =>
    parts.reduce((c, id) => {
      const part = partOf(c, id)
      refuseUnfit(part, say, c.models)
      return withPart(c, id, (p) => said(p, say))
    }, circuit),
  // What a part refers to belongs to how it is joined.
  says: ({ parts, say }) =>
    say.refs === undefined ? parts.map((part) => ({ part, patch: (before) => said(before, say) })) : null,
}

function refuseUnfit(part: Part, say: Say, models: Record<string, { kind: string }> = {}): void {
  const kind = partKind(part.kind, part.id)
  const refuse = (problem: string, fix: string) => {
    throw new VoskelError('CIRCUIT_INVALID', { problem, fix }, { part: part.id })
  }
  if ((say.waveform || say.acAs) && !kind.takesWaveform)
    refuse(`${part.id} is no source and has no waveform.`, 'Choose a source.')
  if (say.model) {
    const known = Object.entries(models).find(([name]) => name.toLowerCase() === say.model!.toLowerCase())
    if (!known || known[1].kind !== part.kind)
      refuse(
        `There is no model "${say.model}" of a ${kind.name.toLowerCase()}.`,
        'Make one first, or choose one that is there.',
      )
  }
}
