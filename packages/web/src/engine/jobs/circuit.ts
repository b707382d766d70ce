import {
  checkCircuit,
  type Circuit,
  demandStep,
  type Failure,
  type FilterSpec,
  type Finding,
  type FormulaStep,
  formulaSheet,
  oscillationFindings,
  type Ideal,
  type Outdated,
  type Patches,
  signalDemand,
  toFailure,
} from '@voskel/core'
import { job, topic } from '../Job'
import { type DesignQuestion, designKey, type Study, studyOf } from '../study'

export interface CircuitAnswer {
  readonly circuit: Circuit
  /** The circuit before anything was said about its parts. */
  readonly base: Circuit
  /** What was said of parts that it does not have. */
  readonly lost: Patches
  /** Where this version computes another circuit than was last shown. */
  readonly outdated: Outdated | null
  /** The circuit's level where the ideal response has 0 dB. */
  readonly referenceDb: number
  /** What is wrong with it or worth a look, whether or not it can be solved. */
  readonly findings: readonly Finding[]
  /** Why its equations cannot be had, and with them nothing else. */
  readonly failure: Failure | null
  /** Devices whose models do not hold, and with them every result. */
  readonly doubts: readonly string[]
  /** How response and values were found. */
  readonly sheet: readonly FormulaStep[]
}

/** The circuit of a design; null where it has none. */
export const circuitTopic = topic<DesignQuestion, CircuitAnswer | null>('circuit', designKey)

export const circuitJob = /* @__PURE__ */ job(circuitTopic, (question) => {
  const study = studyOf(question)
  const designed = study.designed()
  if (!designed) return null
  const { circuit, base, lost, outdated } = designed
  const [spec, ideal] = [study.spec, study.ideal()]
  const { growth, ...equations } = equationsOf(study)
  const findings = [...checkCircuit(circuit, question.circuit.origin === 'derived'), ...growth]
  return {
    circuit,
    base,
    lost,
    outdated,
    referenceDb: study.referenceDb(),
    findings,
    ...equations,
    sheet: spec && ideal ? sheetOf(study, spec, ideal) : [],
  }
})

function sheetOf(study: Study, spec: FilterSpec, ideal: Ideal): readonly FormulaStep[] {
  const { circuit, outdated, realized } = study.designed()!
  const steps = formulaSheet(spec, ideal, realized, outdated ? undefined : circuit)
  const demand = study.maybe(() => signalDemand(spec, circuit, ideal.transfer, study.input))
  return demand && demand.levels.length > 0 ? [...steps, demandStep(demand)] : steps
}

function equationsOf(study: Study): Pick<CircuitAnswer, 'failure' | 'doubts'> & { growth: readonly Finding[] } {
  try {
    const { mna, linear } = study.equations()!
    const doubts = linear.circuit.warnings.slice(mna.circuit.warnings.length)
    return { failure: null, doubts, growth: oscillationFindings(linear) }
  } catch (error) {
    return { failure: toFailure(error), doubts: [], growth: [] }
  }
}
