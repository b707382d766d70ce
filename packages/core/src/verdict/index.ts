import { asked } from './asked.js'
import { limits } from './limits.js'
import { passband } from './passband.js'
import type { Requirement } from './Requirement.js'
import { stopband } from './stopband.js'
import { values } from './values.js'

/** Every requirement that can be judged. A new one is one file beside these and one line here. */
export const requirements: readonly Requirement[] = [passband, stopband, limits, ...asked, values]
