import type { Topology } from '../Topology.js'
import { cascade } from './cascade.js'
import { SECTION_FAMILIES } from './families.js'

/** The topologies of the families of sections. */
export const cascades: readonly Topology[] = SECTION_FAMILIES.map(cascade)
