import type { NewPart } from '../edit/newPart.js'
import type { Waveform } from '../waveforms/index.js'
import { echoed, quantityIn } from './quantities.js'

/** A source that was understood, with its words. */
interface SaidSource {
  readonly part: NewPart
  readonly text: string
}

/** How an amplitude is said, and what it is of the peak of a sine. */
const AMPLITUDE_WORDS: readonly (readonly [word: RegExp, factor: number])[] = [
  [/pp$/, 1 / 2],
  [/(rms|eff)$/, Math.SQRT2],
  [/(pk|p)$/, 1],
]

const SHAPES: Readonly<Record<string, string>> = {
  sine: 'sine',
  sin: 'sine',
  square: 'square',
  triangle: 'triangle',
  sawtooth: 'sawtooth',
  step: 'step',
  dc: 'dc',
  bias: 'dc',
  ac: 'ac',
}

/** Frequency of a periodic waveform where none is said, Hz. */
const USUAL_HZ = 1e3

/**
 * A source as one says it: `5V`, `1V step`, `1Vpp sine 1kHz`, `2mA`, `10kHz`, in any order of words; null where it is none.
 * A frequency by itself is a sine of 1 V.
 */
export function sourceIn(text: string): SaidSource | null {
  let amplitude: { value: number; unit: 'V' | 'A' } | null = null
  let frequency: number | null = null
  let shape: string | null = null
  for (const word of text.trim().split(/\s+/)) {
    const known = SHAPES[word.toLowerCase()]
    if (known !== undefined) {
      if (shape !== null) return null
      shape = known
      continue
    }
    const hz = /(Hz|rad\/s)$/.test(word) ? quantityIn(word, 'Hz') : null
    const found = hz === null ? amplitudeIn(word) : null
    if (hz !== null && frequency === null && hz > 0) frequency = hz
    else if (found && !amplitude) amplitude = found
    else return null
  }
  if (!amplitude && frequency === null && shape === null) return null
  if (shape === null) shape = frequency === null ? 'dc' : 'sine'
  if (!amplitude && (shape === 'dc' || shape === 'ac') && frequency !== null) return null
  const { value, unit } = amplitude ?? { value: 1, unit: 'V' as const }
  const kind = unit === 'V' ? 'voltage-source' : 'current-source'
  const source = `${unit === 'V' ? '' : 'current '}source`
  const hz = frequency ?? USUAL_HZ
  const ac = { bias: 0, acMagnitude: 1, acPhase: 0 }
  const with_ = (values: Record<string, number>, waveform: Waveform | null, words: string): SaidSource => ({
    part: { kind, values, ...(waveform && { waveform }) },
    text: words,
  })
  const size = echoed(value, unit)
  switch (shape) {
    case 'dc':
      return with_({ bias: value, acMagnitude: 0, acPhase: 0 }, null, `${size} ${source}, constant`)
    case 'ac':
      return with_({ ...ac, acMagnitude: value }, null, `${size} AC ${source}`)
    case 'step':
      return with_(ac, { kind: 'pulse', low: 0, high: value, delay: 0, rise: 0, fall: 0 }, `${size} step ${source}`)
    case 'sine':
      return with_(
        ac,
        { kind: 'sine', offset: 0, amplitude: value, frequency: hz, delay: 0, damping: 0, phase: 0 },
        `${size} sine ${source}, ${echoed(hz, 'Hz')}`,
      )
    default:
      return with_(
        ac,
        {
          kind: 'periodic',
          shape: shape as 'square' | 'triangle' | 'sawtooth',
          offset: 0,
          amplitude: value,
          frequency: hz,
          delay: 0,
          duty: 0.5,
        },
        `${size} ${shape} ${source}, ${echoed(hz, 'Hz')}`,
      )
  }
}

/** `5V`, `2Vpp`, `10mA`: the peak, and what it is of. */
function amplitudeIn(word: string): { value: number; unit: 'V' | 'A' } | null {
  const [suffix, factor] = AMPLITUDE_WORDS.find(([w]) => /[VA]\w+$/.test(word) && w.test(word)) ?? [null, 1]
  const bare = suffix ? word.replace(suffix, '') : word
  for (const unit of ['V', 'A'] as const) {
    if (!bare.endsWith(unit)) continue
    const value = quantityIn(bare, unit)
    if (value !== null) return { value: value * factor, unit }
  }
  return null
}
