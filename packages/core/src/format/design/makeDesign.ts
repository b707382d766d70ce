import type { Circuit } from '../../circuit/circuit.js'
import type { FilterSpec } from '../../specification/filterSpec.js'
import type { AnalysisCard } from '../netlist/readNetlist.js'
import { asked } from './asked.js'
import { type Design, DESIGN_VERSION } from './Design.js'

/** A design around a circuit that was drawn or read, without a specification. */
export function designOfCircuit(circuit: Circuit, analyses: readonly AnalysisCard[] = []): Design {
  return {
    format: 'voskel-design',
    version: DESIGN_VERSION,
    name: circuit.title?.slice(0, 200) || 'Circuit',
    values: 'exact',
    circuit: { origin: 'drawn', circuit },
    ...(analyses.length > 0 && { analyses: analyses.map((a) => ({ analysis: a.analysis, words: [...a.words] })) }),
  }
}

/**
 * A design around a specification.
 *
 * @param witness its circuit, where it has been computed
 */
export function designOfSpec(
  name: string,
  specification: FilterSpec,
  values: Design['values'],
  witness?: Circuit,
): Design {
  return {
    format: 'voskel-design',
    version: DESIGN_VERSION,
    name,
    ...asked(specification),
    values,
    circuit: { origin: 'derived', patches: {}, ...(witness && { witness }) },
  }
}
