import { discReproduction } from './discReproduction.js'
import { free } from './free.js'
import { masked } from './masked.js'
import { notch } from './notch.js'
import { octaveBand } from './octaveBand.js'
import { peaking } from './peaking.js'
import { phaseShifter } from './phaseShifter.js'
import type { Shape } from './Shape.js'
import { highShelf, lowShelf } from './shelves.js'
import { differentiator, integrator } from './slopes.js'
import { aWeighting, cWeighting } from './weighting.js'

/** Every response that follows from its own parameters. A new one is one file and one line here. */
export const shapes: readonly Shape[] = [
  peaking as Shape,
  lowShelf as Shape,
  highShelf as Shape,
  notch as Shape,
  integrator as Shape,
  differentiator as Shape,
  phaseShifter as Shape,
  aWeighting as Shape,
  cWeighting as Shape,
  discReproduction as Shape,
  octaveBand as Shape,
  masked as unknown as Shape,
  free as Shape,
]
