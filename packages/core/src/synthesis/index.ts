import { sallenKey } from './active/sallenKey.js'
import { coupledResonators } from './passive/coupledResonators.js'
import { lcLadder } from './passive/lcLadder.js'
import type { Topology } from './Topology.js'

/** Every way to make a circuit of a response. A new one is one file and one line here. */
export const topologies: readonly Topology[] = [
  lcLadder as Topology,
  coupledResonators as Topology,
  sallenKey as Topology,
]
