/** A number that is read off a response: where it stands in what `measure` gives, and what it is in words. */
export interface MeasureName {
  /** As in `ac.peakDb`; `[n]` stands for an index. */
  readonly path: string
  readonly name: string
  readonly unit: string
  readonly shown: 'frequency' | 'time'
  /** What is measured. */
  readonly says: string
}

const ac = (path: string, name: string, unit: string, says: string): MeasureName => ({
  path: `ac.${path}`,
  name,
  unit,
  shown: 'frequency',
  says,
})
const step = (path: string, name: string, unit: string, says: string): MeasureName => ({
  path: `step.${path}`,
  name,
  unit,
  shown: 'time',
  says,
})

/** Every measure, in the order in which they are listed. */
export const MEASURES: readonly MeasureName[] = [
  ac('peakDb', 'Peak', 'dB', 'the highest magnitude, from DC to infinity'),
  ac('peakFrequency', 'Frequency of the peak', 'Hz', 'where the magnitude is highest'),
  ac('cutoffs[n]', 'Cutoff', 'Hz', 'where the passband around the peak has lost 10·lg 2 = 3.01 dB against it'),
  ac('center', 'Centre', 'Hz', 'the geometric mean of both cutoffs'),
  ac('bandwidth', 'Bandwidth', 'Hz', 'the upper cutoff less the lower one; less 0 Hz where the passband begins there'),
  ac('q', 'Q', '', 'the centre over the bandwidth'),
  ac('rippleDb', 'Ripple', 'dB', 'the highest less the lowest extreme of the magnitude inside the passband'),
  ac(
    'rolloffDbPerDecade.below',
    'Slope towards DC, a decade',
    'dB',
    'what the magnitude tends to rise by for each decade, far below',
  ),
  ac(
    'rolloffDbPerDecade.above',
    'Slope towards infinity, a decade',
    'dB',
    'what the magnitude tends to rise by for each decade, far above',
  ),
  ac('phaseAtCutoffsDeg[n]', 'Phase at the cutoff', '°', 'the unwrapped phase there'),
  ac('gainCrossing', 'Unity-gain frequency', 'Hz', 'where the magnitude falls through 0 dB for the last time'),
  ac('phaseCrossing', 'Frequency of −180°', 'Hz', 'where the phase passes −180° for the first time'),
  ac(
    'gainMarginDb',
    'Gain margin',
    'dB',
    'how far the magnitude lies below 0 dB where the phase is −180°; the output is taken as a loop’s gain',
  ),
  ac(
    'phaseMarginDeg',
    'Phase margin',
    '°',
    'what the phase has left to −180° at the unity-gain frequency; the output is taken as a loop’s gain',
  ),
  ac('delayAtDc', 'Delay at DC', 's', 'the group delay of the slowest signals'),
  step('initial', 'Value right after the step', '', 'what a step of 1 has reached at once'),
  step('final', 'Final value', '', 'what it comes to rest at'),
  step('riseTime', 'Rise time', 's', 'from 10 to 90 % of the final value'),
  step('overshootPercent', 'Overshoot', '%', 'how far the highest value lies above the final one, in parts of it'),
  step(
    'ringingPercent',
    'Ringing back',
    '%',
    'how far it falls below the final value after its highest, in parts of it',
  ),
  step('settlingTime', 'Settling time', 's', 'from when on it stays within 1 % of the final value'),
  step('delay', 'Delay to half', 's', 'when it first reaches half of the final value'),
  step('peak', 'Highest value', '', 'the highest value of all'),
  step('peakTime', 'Time of the highest value', 's', 'when it is highest'),
]

/** What a measure is, in a few words; empty where there is none of that path. */
export const measureSays = (path: string): string => measureOf(path)?.measure.says ?? ''

const INDEX = /\[(\d{1,3})\]$/

/** The measure of a path, and which of several it is; null where there is none. */
export function measureOf(path: string): { readonly measure: MeasureName; readonly index: number | null } | null {
  const index = INDEX.exec(path)
  const measure = MEASURES.find((m) => m.path === (index ? path.replace(INDEX, '[n]') : path))
  return measure ? { measure, index: index ? Number(index[1]) : null } : null
}
