import { registerAc } from './ac.js'
import { registerApproximate } from './approximate.js'
import type { Register } from './Command.js'
import { registerConvert } from './convert.js'
import { registerDesign } from './design.js'
import { registerDraw } from './draw.js'
import { registerFit } from './fit.js'
import { registerMeasure } from './measure.js'
import { registerNoise } from './noise.js'
import { registerOp } from './op.js'
import { registerPoles } from './poles.js'
import { registerRecognise } from './recognise.js'
import { registerScattering } from './scattering.js'
import { registerSensitivity } from './sensitivity.js'
import { registerTran } from './tran.js'
import { registerVerify } from './verify.js'

/** Every command. A new one is one file beside these and one line here. */
export const commands: readonly Register[] = [
  registerApproximate,
  registerDesign,
  registerConvert,
  registerDraw,
  registerAc,
  registerTran,
  registerOp,
  registerPoles,
  registerSensitivity,
  registerScattering,
  registerNoise,
  registerMeasure,
  registerRecognise,
  registerFit,
  registerVerify,
]
