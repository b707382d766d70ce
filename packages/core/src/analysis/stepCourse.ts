import { C, INSIDE } from '../numeric/esdirk.js'
import { lagrangeWeights } from '../numeric/lagrange.js'
import type { StepTolerance } from './stepTolerance.js'

/** Outputs at six places in a step, its ends included, through which their course goes. */
export class StepCourse {
  /** By node, in the order of time: the outputs. */
  readonly values: readonly Float64Array[]
  private readonly tests: readonly Test[]

  /** @param at by node: its time as a part of the step */
  constructor(
    readonly at: readonly number[],
    tests: readonly { node: number; through: readonly number[] }[],
    outputs: number,
  ) {
    this.values = at.map(() => new Float64Array(outputs))
    this.tests = tests.map(({ node, through }) => {
      const weights = new Float64Array(through.length)
      const nodes = through.map((k) => at[k])
      lagrangeWeights(nodes, at[node], weights)
      return { node, through, weights }
    })
  }

  /** At the stages themselves, which say less between their times than what is solved for where it says most. */
  static ofStages = (outputs: number): StepCourse =>
    new StepCourse(
      STAGES.map((k) => C[k]),
      [
        { node: 2, through: [0, 1, 4, 5] },
        { node: 3, through: [0, 1, 4, 5] },
      ],
      outputs,
    )

  /** At what is solved for inside. */
  static ofInside = (outputs: number): StepCourse =>
    new StepCourse(
      [0, ...INSIDE.map(({ at }) => at), 1],
      [
        { node: 2, through: [0, 1, 3, 4] },
        { node: 3, through: [1, 2, 4, 5] },
      ],
      outputs,
    )

  /**
   * What devices bend without storing anything has no local error: there the course inside a step is judged, as it is handed
   * out. Two cubics are held against a node that they do not go through: one may meet it by chance, and steps are chosen for
   * what they meet.
   *
   * @returns how far a course is missed, against what may be; Infinity where it has no value
   */
  missed(tolerance: StepTolerance): number {
    const { values } = this
    let ratio = 0
    for (let o = 0; o < values[0].length; o++) {
      const allowed = tolerance.allowedCourse(o, values)
      for (const { node, through, weights } of this.tests) {
        let miss = -values[node][o]
        for (let k = 0; k < weights.length; k++) miss += weights[k] * values[through[k]][o]
        ratio = Math.max(ratio, Math.abs(miss) / allowed)
      }
    }
    return Number.isNaN(ratio) ? Infinity : ratio
  }
}

interface Test {
  readonly node: number
  readonly through: readonly number[]
  readonly weights: Float64Array
}

/** The stages in the order of their times, and by stage which node it is. */
const STAGES: readonly number[] = [...C.keys()].sort((a, b) => C[a] - C[b])
export const NODE_OF_STAGE: readonly number[] = C.map((_, k) => STAGES.indexOf(k))

/**
 * Stages are of a lower order than the step, and lie less well: where they miss by no more than this part, they serve as they
 * are (what they hide of their own errors and of a kink between them is at most ten times what is seen).
 */
export const STAGES_SERVE = 0.05
