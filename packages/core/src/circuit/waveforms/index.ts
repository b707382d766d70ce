import { z } from 'zod'
import { exponential } from './exponential.js'
import { piecewiseLinear } from './piecewiseLinear.js'
import { pulse } from './pulse.js'
import { sine } from './sine.js'
import type { WaveformKind } from './Waveform.js'

/** A waveform as data: one of the kinds' schemas. */
export const WaveformSchema = z.discriminatedUnion('kind', [
  pulse.schema as typeof pulse.schema & z.core.$ZodTypeDiscriminable,
  sine.schema as typeof sine.schema & z.core.$ZodTypeDiscriminable,
  piecewiseLinear.schema as typeof piecewiseLinear.schema & z.core.$ZodTypeDiscriminable,
  exponential.schema as typeof exponential.schema & z.core.$ZodTypeDiscriminable,
])
export type Waveform = z.output<typeof WaveformSchema>

/** Every kind of waveform. A new one is one file beside these, one line here and one in the schema above. */
export const waveformKinds = [pulse, sine, piecewiseLinear, exponential] as unknown as readonly WaveformKind<Waveform>[]

/** The kind of a waveform that passed the schema. */
export function waveformKind(waveform: Waveform): WaveformKind<Waveform> {
  return waveformKinds.find((k) => k.kind === waveform.kind)!
}
