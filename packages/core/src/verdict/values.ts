import { VoskelError } from '../errors/VoskelError.js'
import { measureOf } from '../specification/requirements/measures.js'
import type { ValueReading, ValueRequirement } from '../specification/requirements/value.js'
import type { Read } from './readings.js'
import { type Requirement, type Verdict, verdict, type VerdictPlace } from './Requirement.js'

/** Promised values: anything that can be read, between two limits. Without a circuit there is nothing to read. */
export const values: Requirement = {
  judge(evidence) {
    const { isLenient } = evidence
    const promised = evidence.requirements.filter((asked) => asked.kind === 'value')
    // What readings need takes its time, and most have nothing to read.
    const readings = promised.length > 0 ? evidence.readings : null
    if (!readings) return []
    return promised.flatMap((asked): Verdict[] => {
      const read = (): Read & { failure?: string } => {
        try {
          return readings.read(asked.of)
        } catch (error) {
          // A net that was taken away leaves the other lines as they are.
          if (!(error instanceof VoskelError) || !isLenient) throw error
          return { value: null, unit: '', at: null, atUnit: null, failure: `${error.message} ${error.remedy}` }
        }
      }
      const { value: asRead, unit, at, atUnit, scale, failure } = read()
      const value = asRead === null ? null : onNearestTurn(asked, asRead)
      const place = placeOf(asked.of)
      const limits = nearer(asked, value)
      const line = { kind: 'value' as const, place, name: asked.id, unit, decided: decidedBy(asked.of), ...limits }
      return [
        {
          ...verdict(line, value, at, atUnit ?? 'Hz', { scale }),
          id: asked.id,
          ...(failure !== undefined && { failure }),
        },
      ]
    })
  },
}

/** The limit that is nearer to what was reached; of one that cannot be had, the least. */
function nearer({ min, max }: ValueRequirement, value: number | null): Pick<Verdict, 'sense' | 'limit'> {
  const isLeast = max === undefined || (min !== undefined && (value === null || value - min <= max - value))
  return isLeast ? { sense: 'at least', limit: min! } : { sense: 'at most', limit: max }
}

/** A phase is the same after whole turns: the one is judged, and shown, that lies nearest to the middle of its limits. */
function onNearestTurn({ of, min, max }: ValueRequirement, value: number): number {
  if (!('as' in of) || of.as !== 'deg' || ('take' in of && of.take === 'peak-to-peak')) return value
  const middle = min !== undefined && max !== undefined ? (min + max) / 2 : (min ?? max!)
  return value - 360 * Math.round((value - middle) / 360)
}

function placeOf(reading: ValueReading): VerdictPlace | null {
  if ('frequency' in reading) return { frequency: reading.frequency }
  if ('noise' in reading) return { band: [reading.from, reading.to] }
  return 'over' in reading && reading.over === 'frequency' ? { band: [reading.from, reading.to] } : null
}

/** The stage that shows it. */
function decidedBy(reading: ValueReading): Verdict['decided'] {
  if ('measure' in reading) return measureOf(reading.measure)!.measure.shown
  if ('operatingPoint' in reading) return 'circuit'
  if ('noise' in reading) return 'frequency'
  return 'frequency' in reading || reading.over === 'frequency' ? 'frequency' : 'time'
}
