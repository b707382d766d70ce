import { operatingPoint, operatingReport, type OperatingReport } from '@voskel/core'
import { job, topic } from '../Job'
import { type DesignQuestion, designKey, studyOf } from '../study'

/** Voltages, currents and powers at rest; null without a circuit. */
export const operatingPointTopic = topic<DesignQuestion, OperatingReport | null>('operating-point', designKey)

export const operatingPointJob = /* @__PURE__ */ job(operatingPointTopic, (question) => {
  const equations = studyOf(question).equations()
  return equations && operatingReport(equations.mna, operatingPoint(equations.mna))
})
