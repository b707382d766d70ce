import { z } from 'zod'
import { asked } from './asked.js'
import { COMMON, type Design, DESIGN_VERSION, SINCE_2 } from './Design.js'
import type { Upgrade } from './Upgrade.js'
import { blocksOf } from './blocks.js'

const Schema = z.strictObject({ ...COMMON, ...SINCE_2, version: z.literal(2) })

/** Version 2 knew no notes, tolerances, ratings and settings of a study; what it says it says as this one. */
export const version2: Upgrade<z.output<typeof Schema>> = {
  version: 2,
  schema: Schema,
  blocksOf: ({ circuit }) => blocksOf(circuit),
  upgrade: ({ specification, requirements, ...rest }): Design => ({
    ...rest,
    version: DESIGN_VERSION,
    ...asked(specification, requirements),
  }),
}
