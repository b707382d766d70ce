import { bridgedT } from './bridgedT.js'
import { differenceAmplifier } from './differenceAmplifier.js'
import { divider } from './divider.js'
import { integrator } from './integrator.js'
import { rcHighpass } from './rcHighpass.js'
import { rcLowpass } from './rcLowpass.js'
import { seriesResonator } from './seriesResonator.js'
import { toneControl } from './toneControl.js'
import { twinT } from './twinT.js'
import { twoStageAmplifier } from './twoStageAmplifier.js'
import type { ReadyCircuit } from './ReadyCircuit.js'

/** Circuits to begin from, the plain ones first. A new one is one file beside these and one line here. */
export const readyCircuits: readonly ReadyCircuit[] = [
  rcLowpass,
  rcHighpass,
  seriesResonator,
  bridgedT,
  twinT,
  divider,
  integrator,
  differenceAmplifier,
  twoStageAmplifier,
  toneControl,
]
