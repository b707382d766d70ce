import { logarithmicGrid, scattering, writeTouchstone } from '@voskel/core'
import { job, topic } from '../Job'
import { type DesignQuestion, designKey, studyOf } from '../study'

export interface TouchstoneQuestion extends DesignQuestion {
  /** Names of the source's resistor and of the load's. */
  readonly ports: readonly [string, string]
  /** Hz */
  readonly from: number
  readonly to: number
}

/** Points of a decade, many enough for any curve. */
const A_DECADE = 100

/** Scattering parameters of the circuit as a text; empty without a circuit. */
export const touchstoneTopic = topic<TouchstoneQuestion, string>('touchstone', (q) => [
  ...designKey(q),
  q.ports.join(),
  q.from,
  q.to,
])

export const touchstoneJob = /* @__PURE__ */ job(touchstoneTopic, (question) => {
  const study = studyOf(question)
  const equations = study.equations()
  if (!equations) return ''
  const { ports, from, to } = question
  const grid = logarithmicGrid(from, to, A_DECADE)
  return writeTouchstone(grid, scattering(equations.linear, ports, grid, study.input), `S21 from ${ports.join(' to ')}`)
})
