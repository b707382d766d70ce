/** A complex response over frequency, Hz. Arrays have one entry a sample. */
export interface ComplexSamples {
  readonly over: 'frequency'
  readonly x: Float64Array
  readonly re: Float64Array
  readonly im: Float64Array
}

/** Magnitude, dB, or phase, degrees, or both over frequency, Hz. */
export interface LevelSamples {
  readonly over: 'frequency'
  readonly x: Float64Array
  readonly db?: Float64Array
  readonly phase?: Float64Array
}

/** A course over time, s, in the unit of what it is. */
export interface CourseSamples {
  readonly over: 'time'
  readonly x: Float64Array
  readonly value: Float64Array
}

/** What was measured, by ascending frequency or time. */
export type Samples = ComplexSamples | LevelSamples | CourseSamples

/** dB and degrees that count as 1. */
export const DB_WEIGHT = 0.1
export const DEGREES_WEIGHT = 1
