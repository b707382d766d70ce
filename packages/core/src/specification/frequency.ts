import { z } from 'zod'

/** Hz: how far specifications reach, up and, as far below 1 Hz, down. */
export const MOST_FREQUENCY = 1e12

/**
 * A frequency, Hz, that is neither nothing nor beyond what numbers carry: nearer to 0 no grid of a decade's points ends.
 *
 * @param reach the greatest; the least is as far below 1 Hz
 */
export const frequencyOf = (name: string, reach = MOST_FREQUENCY) =>
  z
    .number({ error: `The ${name} is missing or is not a number.` })
    .positive({ error: `The ${name} must be above 0 Hz.` })
    .min(1 / reach, { error: `The ${name} is below ${(1 / reach).toExponential()} Hz.` })
    .max(reach, { error: `The ${name} is above ${reach.toExponential().replace('+', '')} Hz.` })
