/** A number that is read off a response: where it stands in what `measure` gives, and what it is in words. */
export interface MeasureName {
  /** As in `ac.peakDb`; `[n]` stands for an index. */
  readonly path: string
  readonly name: string
  readonly unit: string
  readonly shown: 'frequency' | 'time'
}

const ac = (path: string, name: string, unit: string): MeasureName => ({
  path: `ac.${path}`,
  name,
  unit,
  shown: 'frequency',
})
const step = (path: string, name: string, unit: string): MeasureName => ({
  path: `step.${path}`,
  name,
  unit,
  shown: 'time',
})

/** Every measure, in the order in which they are listed. */
export const MEASURES: readonly MeasureName[] = [
  ac('peakDb', 'Peak', 'dB'),
  ac('peakFrequency', 'Frequency of the peak', 'Hz'),
  ac('cutoffs[n]', 'Cutoff', 'Hz'),
  ac('center', 'Centre', 'Hz'),
  ac('bandwidth', 'Bandwidth', 'Hz'),
  ac('q', 'Q', ''),
  ac('rippleDb', 'Ripple', 'dB'),
  ac('rolloffDbPerDecade.below', 'Slope towards DC, a decade', 'dB'),
  ac('rolloffDbPerDecade.above', 'Slope towards infinity, a decade', 'dB'),
  ac('phaseAtCutoffsDeg[n]', 'Phase at the cutoff', '°'),
  ac('gainCrossing', 'Unity-gain frequency', 'Hz'),
  ac('phaseCrossing', 'Frequency of −180°', 'Hz'),
  ac('gainMarginDb', 'Gain margin', 'dB'),
  ac('phaseMarginDeg', 'Phase margin', '°'),
  ac('delayAtDc', 'Delay at DC', 's'),
  step('initial', 'Value right after the step', ''),
  step('final', 'Final value', ''),
  step('riseTime', 'Rise time', 's'),
  step('overshootPercent', 'Overshoot', '%'),
  step('ringingPercent', 'Ringing back', '%'),
  step('settlingTime', 'Settling time', 's'),
  step('delay', 'Delay to half', 's'),
  step('peak', 'Highest value', ''),
  step('peakTime', 'Time of the highest value', 's'),
]

const INDEX = /\[(\d{1,3})\]$/

/** The measure of a path, and which of several it is; null where there is none. */
export function measureOf(path: string): { readonly measure: MeasureName; readonly index: number | null } | null {
  const index = INDEX.exec(path)
  const measure = MEASURES.find((m) => m.path === (index ? path.replace(INDEX, '[n]') : path))
  return measure ? { measure, index: index ? Number(index[1]) : null } : null
}
