import { measureSensitivities } from '../analysis/measureSensitivity.js'
import { formulate } from '../analysis/mna.js'
import { polesAndZeros } from '../analysis/poles.js'
import { smallSignal } from '../analysis/smallSignal.js'
import { flatten } from '../circuit/flatten.js'
import { VoskelError } from '../errors/VoskelError.js'
import { evidenceOf, type Subject } from './evidence.js'
import { ledger } from './ledger.js'

/** How a part decides a requirement. */
export interface Influence {
  /** As in the netlist. */
  readonly part: string
  /** What one per cent more of its value does to the requirement's margin, in the unit of its limit; negative: it endangers it. */
  readonly perPercent: number
}

/** A change below this part of the greatest is none. */
const NOTHING = 1e-9

/**
 * How every part decides every requirement, by the verdict's id, the greatest first; what has no slope (it does not exist there, or
 * jumps) is left out.
 *
 * @param subject as for `evidenceOf`, with a circuit and its equations
 * @param temperature K
 */
export function influences(
  subject: Omit<Subject, 'transfer'> & { readonly circuit: NonNullable<Subject['circuit']> },
  temperature?: number,
): Record<string, Influence[]> {
  const { input, output } = subject
  const asked = { ...(input !== undefined && { input }), ...(output !== undefined && { output }) }
  const slopes = measureSensitivities(flatten(subject.circuit), (flat): Record<string, number | null> => {
    try {
      const whole = formulate(flat, temperature === undefined ? {} : { temperature })
      const equations = smallSignal(whole)
      const { transfer } = polesAndZeros(equations, asked)
      const verdicts = ledger(evidenceOf({ ...subject, transfer, equations, whole }))
      return Object.fromEntries(verdicts.map((v) => [v.id, v.margin]))
    } catch (error) {
      // A value at which the circuit cannot be solved has no margins.
      if (error instanceof VoskelError) return {}
      throw error
    }
  })
  const found: Record<string, Influence[]> = {}
  for (const [part, byId] of Object.entries(slopes))
    for (const [id, slope] of Object.entries(byId))
      if (slope.value !== null) (found[id] ??= []).push({ part, perPercent: slope.value / 100 })
  for (const [id, list] of Object.entries(found)) {
    const most = Math.max(...list.map((i) => Math.abs(i.perPercent)))
    found[id] = list
      .filter((i) => Math.abs(i.perPercent) > NOTHING * most)
      .sort((a, b) => Math.abs(b.perPercent) - Math.abs(a.perPercent))
  }
  return found
}
