import { z } from 'zod'
import { burst } from './burst.js'
import { chirp } from './chirp.js'
import { exponential } from './exponential.js'
import { formula } from './formula.js'
import { noiseWaveform } from './noiseWaveform.js'
import { periodic } from './periodic.js'
import { piecewiseLinear } from './piecewiseLinear.js'
import { pulse } from './pulse.js'
import { sine } from './sine.js'
import { type Sum, sumOf } from './sum.js'
import type { WaveformKind } from './Waveform.js'

const singleSchema = z.discriminatedUnion('kind', [
  pulse.schema as typeof pulse.schema & z.core.$ZodTypeDiscriminable,
  sine.schema as typeof sine.schema & z.core.$ZodTypeDiscriminable,
  piecewiseLinear.schema as typeof piecewiseLinear.schema & z.core.$ZodTypeDiscriminable,
  exponential.schema as typeof exponential.schema & z.core.$ZodTypeDiscriminable,
  periodic.schema as typeof periodic.schema & z.core.$ZodTypeDiscriminable,
  burst.schema as typeof burst.schema & z.core.$ZodTypeDiscriminable,
  chirp.schema as typeof chirp.schema & z.core.$ZodTypeDiscriminable,
  formula.schema as typeof formula.schema & z.core.$ZodTypeDiscriminable,
  noiseWaveform.schema as typeof noiseWaveform.schema & z.core.$ZodTypeDiscriminable,
])
type Single = z.output<typeof singleSchema>

/** Every kind of waveform that stands alone. A new one is one file beside these, one line here and one in the schema. */
const singleKinds = [
  pulse,
  sine,
  piecewiseLinear,
  exponential,
  periodic,
  burst,
  chirp,
  formula,
  noiseWaveform,
] as unknown as readonly WaveformKind<Single>[]
const singleKind = (waveform: Single): WaveformKind<Single> => singleKinds.find((k) => k.kind === waveform.kind)!

const sum = sumOf<Single>(singleSchema, singleKind)

/** A waveform as data: one of the kinds' schemas. */
export const WaveformSchema: z.ZodType<Single | Sum<Single>> = z.union([singleSchema, sum.schema])
export type Waveform = Single | Sum<Single>

export const waveformKinds = [...singleKinds, sum] as unknown as readonly WaveformKind<Waveform>[]

/** The kind of a waveform that passed the schema. */
export function waveformKind(waveform: Waveform): WaveformKind<Waveform> {
  return waveformKinds.find((k) => k.kind === waveform.kind)!
}
