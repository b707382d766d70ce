import type { FlatCircuit } from '../circuit/flatten.js'
import { type Slope, slopeOf } from '../numeric/differences.js'

/**
 * How any measure follows each part's main value: x·dm/dx, in the measure's own unit, by differences of the fourth order.
 * For a cutoff in Hz divide by the cutoff to have the relative sensitivity. Close to a jump (a ripple that crosses the
 * settling band) the slope is that of the side on which the part's value lies.
 *
 * @param measure what is asked of a circuit; null where it does not exist
 * @returns by part; without value where the measure has no slope: it does not exist there, jumps or turns
 */
export function measureSensitivities<M extends string>(
  circuit: FlatCircuit,
  measure: (circuit: FlatCircuit) => Readonly<Record<M, number | null>>,
): Record<string, Record<M, Slope>> {
  const result: Record<string, Record<M, Slope>> = {}
  const nominal = measure(circuit)
  circuit.elements.forEach((element, index) => {
    const { sensitive, mainValue } = element.kind
    if (!sensitive || !mainValue || element.values[mainValue] === 0) return
    const known = new Map<number, Readonly<Record<M, number | null>>>([[0, nominal]])
    const at = (x: number) => {
      let found = known.get(x)
      if (!found) {
        const values = { ...element.values, [mainValue]: element.values[mainValue] * (1 + x) }
        found = measure({ ...circuit, elements: circuit.elements.with(index, { ...element, values }) })
        known.set(x, found)
      }
      return found
    }
    const slopes = Object.keys(nominal).map((id) => [id, slopeOf((x) => at(x)[id as M] ?? null)] as const)
    result[element.name] = Object.fromEntries(slopes) as Record<M, Slope>
  })
  return result
}
