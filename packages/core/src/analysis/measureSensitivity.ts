import type { FlatCircuit } from '../circuit/flatten.js'
import { CENTRAL_DIFFERENCE } from '../numeric/differences.js'

/** Relative steps of the differences. Measures are found to about 1e-9, which leaves about six digits of a slope. */
const STEP = 2 ** -8

/**
 * How any measure follows each part's main value: x·dm/dx, in the measure's own unit, by central differences of the
 * fourth order. For a cutoff in Hz divide by the cutoff to have the relative sensitivity.
 *
 * @param measure what is asked of a circuit; null where it does not exist
 * @returns by part; null where the measure does not exist close by
 */
export function measureSensitivities<M extends string>(
  circuit: FlatCircuit,
  measure: (circuit: FlatCircuit) => Readonly<Record<M, number | null>>,
): Record<string, Record<M, number | null>> {
  const result: Record<string, Record<M, number | null>> = {}
  circuit.elements.forEach((element, index) => {
    const { sensitive, mainValue } = element.kind
    if (!sensitive || !mainValue || element.values[mainValue] === 0) return
    const at = CENTRAL_DIFFERENCE.map(([steps]) => {
      const values = { ...element.values, [mainValue]: element.values[mainValue] * (1 + steps * STEP) }
      return measure({ ...circuit, elements: circuit.elements.with(index, { ...element, values }) })
    })
    const slopes = Object.keys(at[0]).map((id) => {
      const values = at.map((m) => m[id as M])
      if (values.some((v) => v === null || !Number.isFinite(v))) return [id, null] as const
      return [id, CENTRAL_DIFFERENCE.reduce((sum, [, weight], k) => sum + (weight * values[k]!) / STEP, 0)] as const
    })
    result[element.name] = Object.fromEntries(slopes) as Record<M, number | null>
  })
  return result
}
