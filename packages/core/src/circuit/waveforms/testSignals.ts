import type { Waveform } from './index.js'

/** A signal that circuits are tried with: what it is, at a frequency and a level. */
export interface TestSignal {
  readonly id: string
  readonly name: string
  readonly says: string
  /** Whether it has a frequency. */
  readonly isPeriodic: boolean
  /**
   * @param frequency Hz
   * @param level height of a step, amplitude of a wave, V or A; of an impulse its area, V·s or A·s
   */
  waveform(frequency: number, level: number): Waveform
}

const sine = (frequency: number, amplitude: number): Waveform & { kind: 'sine' } => ({
  kind: 'sine',
  offset: 0,
  amplitude,
  frequency,
  delay: 0,
  damping: 0,
  phase: 0,
})

/** An impulse is so many times shorter than a period of the frequency that it is tried at. */
const SHORT = 1000
/** Part of the signal that the interference on it is, and how many times higher its frequency. */
const INTERFERENCE = { part: 0.3, times: 10 } as const
/** Ratio of two tones that are near each other. */
const NEAR = 1.2

/** Every test signal, in the order in which they are offered. */
export const testSignals: readonly TestSignal[] = [
  {
    id: 'step',
    name: 'Step',
    says: 'from 0 to the level at once',
    isPeriodic: false,
    waveform: (_, level) => ({ kind: 'pulse', low: 0, high: level, delay: 0, rise: 0, fall: 0 }),
  },
  {
    id: 'impulse',
    name: 'Impulse',
    says: 'so short that its area alone counts: a thousandth of a period of the frequency',
    isPeriodic: true,
    waveform: (frequency, level) => {
      const width = 1 / (SHORT * frequency)
      return { kind: 'pulse', low: 0, high: level / width, delay: 0, rise: 0, fall: 0, width }
    },
  },
  { id: 'sine', name: 'Sine', says: 'one frequency', isPeriodic: true, waveform: sine },
  {
    id: 'square',
    name: 'Square wave',
    says: 'to and fro between both signs of the level',
    isPeriodic: true,
    waveform: (frequency, amplitude) => ({
      kind: 'periodic',
      shape: 'square',
      offset: 0,
      amplitude,
      frequency,
      delay: 0,
      duty: 1 / 2,
    }),
  },
  {
    id: 'burst',
    name: 'Tone burst',
    says: 'five periods, and silence',
    isPeriodic: true,
    waveform: (frequency, amplitude) => ({ kind: 'burst', offset: 0, amplitude, frequency, cycles: 5, delay: 0 }),
  },
  {
    id: 'chirp',
    name: 'Chirp',
    says: 'from a tenth of the frequency to ten times it',
    isPeriodic: true,
    waveform: (frequency, amplitude) => ({
      kind: 'chirp',
      offset: 0,
      amplitude,
      from: frequency / 10,
      to: frequency * 10,
      duration: 50 / frequency,
      sweep: 'logarithmic',
    }),
  },
  {
    id: 'two-tones',
    name: 'Two tones',
    says: 'of equal height, a fifth of the frequency apart',
    isPeriodic: true,
    waveform: (frequency, level) => ({
      kind: 'sum',
      terms: [sine(frequency, level / 2), sine(NEAR * frequency, level / 2)],
    }),
  },
  {
    id: 'interference',
    name: 'Signal with interference',
    says: 'a sine, and on it one of ten times its frequency, 30 % as high',
    isPeriodic: true,
    waveform: (frequency, level) => ({
      kind: 'sum',
      terms: [sine(frequency, level), sine(INTERFERENCE.times * frequency, INTERFERENCE.part * level)],
    }),
  },
]
