import type { Diagram, FilterSpec, Verdict } from '@voskel/core'
import type { Plot, PlotCurve } from '../../diagram/plot'
import type { CircuitAnswer } from '../../engine/jobs/circuit'
import type { FrequencyAnswer } from '../../engine/jobs/frequency'
import type { IdealAnswer } from '../../engine/jobs/ideal'
import type { InfluenceCurves } from '../../engine/jobs/influenceCurves'
import type { NoiseAnswer } from '../../engine/jobs/noise'
import type { RootsAnswer } from '../../engine/jobs/roots'
import type { LargeSignal } from './largeSignal'
import type { Scales } from './scales'
import type { ComparedCurves } from '../../engine/kept'
import type { TimeAnswer } from '../../engine/jobs/time'

/** What was computed of a design, as far as it is drawn. */
export interface Computed {
  readonly spec: FilterSpec | null
  /** The signal that is the output. */
  readonly output: string
  readonly ideal: IdealAnswer | null
  readonly circuit: CircuitAnswer | null
  readonly roots: RootsAnswer | null
  readonly frequency: FrequencyAnswer | null
  readonly time: TimeAnswer | null
  readonly noise?: readonly NoiseAnswer[] | null
  readonly influence?: readonly InfluenceCurves[] | null
  readonly verdicts?: readonly Verdict[]
  /** Pinned runs and measured data that are shown. */
  readonly compared?: readonly ComparedCurves[]
  /** Of the output. */
  readonly largeSignal?: LargeSignal | null
  /** Hz that are seen. */
  readonly range: { readonly from: number; readonly to: number }
  /** s up to which something was computed. */
  readonly window: number
  /** s at which what is seen begins. */
  readonly begin?: number
}

/** The net whose voltage is the output, alone; null where it is another signal. */
export const outputNet = ({ output }: Pick<Computed, 'output'>): string | null =>
  /^v\("?([^",()]+)"?\)$/.exec(output)?.[1] ?? null

/** A figure with its name, as text. */
export type NamedFigure = readonly [name: string, value: string]

/** One side of the instrument: what is drawn over frequency, or over time. Each stands in a file of its own. */
export interface Over {
  readonly id: Diagram['over']
  /** Unit of what is along x. */
  readonly unit: 'Hz' | 's'
  /** As in "Frequency response". */
  readonly name: string
  /** What is shown, and what causes it. */
  title(computed: Computed): string
  /** There is something to draw. */
  has(computed: Computed): boolean
  plot(diagram: Diagram, computed: Computed): Plot
  /** How what is in Hz or s, dB and degrees stands in a diagram. */
  scales(diagram: Diagram, computed: Computed): Scales
  /** What a diagram shows, for those who do not see it. */
  describe(diagram: Diagram, computed: Computed): string
  /** What was measured. */
  figures(computed: Computed): readonly NamedFigure[]
  /** The values at a place along x, in a sentence; null where there are none. */
  readOut(computed: Computed, at: number): string | null
}

/** The level of the circuit where the ideal response has 0 dB. */
export const levelOf = ({ circuit }: Computed): number => circuit?.referenceDb ?? 0

/** The palette's colours of a circuit's signals; the second is the ideal response's. */
const SIGNAL_COLORS = [0, 2, 3]
export const signalColor = (k: number): number => SIGNAL_COLORS[k % SIGNAL_COLORS.length]!
/** Dashes of signals whose colours come round again. */
export const signalDash = (k: number): readonly number[] => [[], [10, 3], [2, 2]][Math.floor(k / 3) % 3]!

/** How the k-th of several pinned runs, or of several tables of measured data, is drawn. */
export function besideLook(kind: 'run' | 'data', k: number): Pick<PlotCurve, 'color' | 'dash' | 'marker'> {
  if (kind === 'run') return { color: 4, dash: PINNED_DASHES[k % PINNED_DASHES.length]! }
  return { color: [3, 1, 2][k % 3]!, marker: MARKERS[k % MARKERS.length]! }
}
const PINNED_DASHES = [
  [2, 3],
  [8, 3, 2, 3],
  [12, 4],
  [5, 5],
]
const MARKERS = ['ring', 'box', 'cross'] as const

export const IDEAL = { label: 'ideal', color: 1, dash: [7, 4] } as const

/** What quantities of a unit are called along an axis. */
const QUANTITIES: Readonly<Record<string, string>> = {
  V: 'Voltage',
  A: 'Current',
  Ω: 'Impedance',
  S: 'Admittance',
  W: 'Power',
  s: 'Time',
  Hz: 'Frequency',
  dB: 'Level',
  '°': 'Angle',
}

/** The title of an axis along which quantities of some units stand. */
export function titleOf(units: readonly string[]): string {
  const each = [...new Set(units)]
  if (each.length === 0) return 'Value'
  return each.map((unit) => (unit === '' ? 'Value' : `${QUANTITIES[unit] ?? 'Value'}, ${unit}`)).join(' · ')
}
