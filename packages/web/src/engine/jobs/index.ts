import type { Job } from '../Job'
import { adviceJob } from './advice'
import { amplifiersJob } from './amplifiers'
import { arrangeJob } from './arrange'
import { candidatesJob } from './candidates'
import { circuitJob } from './circuit'
import { circuitCandidatesJob } from './circuitCandidates'
import { deviationJob } from './deviation'
import { expectedJob, readingJob } from './expected'
import { fitJob } from './fit'
import { frequencyJob } from './frequency'
import { idealJob } from './ideal'
import { largeSignalJob } from './largeSignal'
import { loopGainJob } from './loopGain'
import { measuredJob, surveyJob } from './measured'
import { netlistJob } from './netlist'
import { operatingPointJob } from './operatingPoint'
import { placesJob, readingsJob } from './reading'
import { rootsJob } from './roots'
import { seesJob } from './sees'
import { signalJob } from './signal'
import { timeJob } from './time'
import { touchstoneJob } from './touchstone'
import { verdictsJob } from './verdicts'
import { influenceJob } from './influence'
import { influenceCurvesJob } from './influenceCurves'
import { noiseJob } from './noise'
import { partEffectsJob } from './partEffects'
import { whatItIsJob } from './whatItIs'

/** Every job that a worker can do. A new one is one file and one line here. */
export const jobs: readonly Job<never, unknown>[] = [
  idealJob,
  circuitJob,
  rootsJob,
  frequencyJob,
  timeJob,
  verdictsJob,
  operatingPointJob,
  candidatesJob,
  circuitCandidatesJob,
  adviceJob,
  largeSignalJob,
  loopGainJob,
  seesJob,
  amplifiersJob,
  signalJob,
  expectedJob,
  readingJob,
  noiseJob,
  influenceCurvesJob,
  partEffectsJob,
  placesJob,
  readingsJob,
  influenceJob,
  whatItIsJob,
  netlistJob,
  arrangeJob,
  surveyJob,
  measuredJob,
  deviationJob,
  fitJob,
  touchstoneJob,
]
