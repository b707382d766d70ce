import { activeCascade } from './active/activeCascade.js'
import { differentialMultipleFeedback } from './active/differential.js'
import { cascades } from './active/cascades.js'
import { fdnrLadder } from './active/ladders/fdnrLadder.js'
import { gyratorLadder } from './active/ladders/gyratorLadder.js'
import { leapfrog } from './active/ladders/leapfrog.js'
import { activeDifferentiator, activeIntegrator } from './active/slopes.js'
import { toneControl } from './active/toneControl.js'
import { bridgedT } from './passive/bridgedT.js'
import { constantResistance } from './passive/constantResistance.js'
import { coupledResonators } from './passive/coupledResonators.js'
import { diplexer } from './passive/diplexer.js'
import { imageSections } from './passive/imageSections.js'
import { lattice } from './passive/lattice.js'
import { lcLadder } from './passive/lcLadder.js'
import { rlcSection } from './passive/rlcSection.js'
import type { Topology } from './Topology.js'

/** Every way to make a circuit of a response. A new one is one file and one line here. */
export const topologies: readonly Topology[] = [
  lcLadder,
  coupledResonators,
  constantResistance,
  bridgedT,
  lattice,
  diplexer,
  rlcSection,
  imageSections,
  ...cascades,
  gyratorLadder,
  fdnrLadder,
  leapfrog,
  activeIntegrator,
  activeDifferentiator,
  toneControl,
  differentialMultipleFeedback,
  activeCascade,
]
