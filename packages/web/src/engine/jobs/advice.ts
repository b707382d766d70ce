import { advise, approximate, type FilterSpec } from '@voskel/core'
import { job, topic } from '../Job'

/** Ways to meet what the response of a specification misses, nearest first. */
export const adviceTopic = topic<FilterSpec, readonly string[]>('advice', (spec) => [spec])

export const adviceJob = /* @__PURE__ */ job(adviceTopic, (spec) => advise(spec, approximate(spec)))
