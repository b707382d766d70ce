import { arranged, type Circuit, type Failure, partTexts, surveyNetlist, toFailure } from '@voskel/core'
import { job, topic } from '../Job'

/** A netlist as far as it can be read, drawn. */
export interface DrawnNetlist {
  readonly circuit: Circuit
  /** What cannot be read, with line and column. */
  readonly problems: readonly Failure[]
  readonly warnings: readonly string[]
  readonly files: readonly { readonly name: string; readonly line: number; readonly column: number }[]
}

/** A netlist's text as a drawn circuit. */
export const netlistTopic = topic<string, DrawnNetlist>('netlist', (text) => [text])

export const netlistJob = /* @__PURE__ */ job(netlistTopic, (text) => {
  const { circuit, problems, warnings, files } = surveyNetlist(text)
  return { circuit: arranged(circuit, partTexts(circuit)), problems: problems.map(toFailure), warnings, files }
})
