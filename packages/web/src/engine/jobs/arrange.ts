import { arranged, type Circuit, partTexts } from '@voskel/core'
import { job, topic } from '../Job'

/** A circuit, and where its signal comes in and goes out where that is known. */
export interface ArrangeQuestion {
  readonly circuit: Circuit
  readonly input?: string
  readonly output?: string
}

/** A circuit with its drawing laid out anew. */
export const arrangeTopic = topic<ArrangeQuestion, Circuit>('arrange', ({ circuit, input, output }) => [
  circuit,
  input,
  output,
])

export const arrangeJob = /* @__PURE__ */ job(arrangeTopic, ({ circuit, ...ends }) =>
  arranged(circuit, partTexts(circuit), ends),
)
