import { measureOf } from '../specification/requirements/measures.js'
import type { ValueReading, ValueRequirement } from '../specification/requirements/value.js'
import { type Requirement, type Verdict, verdict, type VerdictPlace } from './Requirement.js'

/** Promised values: anything that can be read, between two limits. Without a circuit there is nothing to read. */
export const values: Requirement = {
  judge(evidence) {
    const { readings, requirements } = evidence
    if (!readings) return []
    return requirements.flatMap((asked): Verdict[] => {
      if (asked.kind !== 'value') return []
      const { value, unit, at, atUnit } = readings.read(asked.of)
      const place = placeOf(asked.of)
      const line = {
        kind: 'value' as const,
        place,
        name: asked.id,
        unit,
        decided: decidedBy(asked.of),
        ...nearer(asked, value),
      }
      return [{ ...verdict(line, value, at, atUnit ?? 'Hz'), id: asked.id }]
    })
  },
}

/** The limit that is nearer to what was reached; of one that cannot be had, the least. */
function nearer({ min, max }: ValueRequirement, value: number | null): Pick<Verdict, 'sense' | 'limit'> {
  const isLeast = max === undefined || (min !== undefined && (value === null || value - min <= max - value))
  return isLeast ? { sense: 'at least', limit: min! } : { sense: 'at most', limit: max }
}

function placeOf(reading: ValueReading): VerdictPlace | null {
  if ('frequency' in reading) return { frequency: reading.frequency }
  return 'over' in reading && reading.over === 'frequency' ? { band: [reading.from, reading.to] } : null
}

/** The stage that shows it. */
function decidedBy(reading: ValueReading): Verdict['decided'] {
  if ('measure' in reading) return measureOf(reading.measure)!.measure.shown
  if ('operatingPoint' in reading) return 'circuit'
  return 'frequency' in reading || reading.over === 'frequency' ? 'frequency' : 'time'
}
