/** A kind of response that can be asked for. */
export interface ResponseKind {
  readonly id: string
  /** As in "a low-pass response". */
  readonly name: string
  /** Number of passband edges, and of stop-band edges. */
  readonly edges: 1 | 2
  /** What the passband edges are. */
  readonly meaning: string
  /** Whether it has a stop band. */
  readonly stops: boolean
}

/** Every response, by reactance transforms of a low-pass prototype (approximation/approximate.ts). */
export const RESPONSES = [
  { id: 'lowpass', name: 'low-pass', edges: 1, meaning: 'the end of the passband', stops: true },
  { id: 'highpass', name: 'high-pass', edges: 1, meaning: 'the begin of the passband', stops: true },
  { id: 'bandpass', name: 'band-pass', edges: 2, meaning: 'both ends of the passband', stops: true },
  {
    id: 'bandstop',
    name: 'band-stop',
    edges: 2,
    meaning: 'where the lower passband ends and the upper begins',
    stops: true,
  },
  {
    id: 'allpass',
    name: 'all-pass',
    edges: 1,
    meaning: 'the passband edge of the low-pass with the same poles',
    stops: false,
  },
] as const satisfies readonly ResponseKind[]

/** From one frequency to another, Hz; 0 and Infinity are allowed. */
export type Band = readonly [from: number, to: number]

export type ResponseId = (typeof RESPONSES)[number]['id']

/** How many times farther from the passband than its edge a frequency lies, in the low-pass prototype; Hz. */
export function prototypeRatio(response: ResponseId, passband: readonly number[], frequency: number): number {
  const [low, high = low] = passband
  const center = low * high
  const width = high - low
  switch (response) {
    case 'highpass':
      return low / frequency
    case 'bandpass':
      return Math.abs((frequency - center / frequency) / width)
    case 'bandstop':
      return Math.abs(width / (frequency - center / frequency))
    default:
      return frequency / low
  }
}

/** The frequencies, Hz, ascending, that lie so many times farther out in the prototype. */
export function atPrototypeRatio(response: ResponseId, passband: readonly number[], ratio: number): number[] {
  const [low, high = low] = passband
  const around = (half: number): number[] => {
    const upper = half + Math.sqrt(half * half + low * high)
    return [(low * high) / upper, upper]
  }
  switch (response) {
    case 'highpass':
      return [low / ratio]
    case 'bandpass':
      return around((ratio * (high - low)) / 2)
    case 'bandstop':
      return around((high - low) / (2 * ratio))
    default:
      return [low * ratio]
  }
}

/** The passbands of a response; none where every frequency passes alike. */
export function passbands(response: ResponseId, [low, high]: readonly number[]): Band[] {
  switch (response) {
    case 'lowpass':
      return [[0, low]]
    case 'highpass':
      return [[low, Infinity]]
    case 'bandpass':
      return [[low, high]]
    case 'bandstop':
      return [
        [0, low],
        [high, Infinity],
      ]
    default:
      return []
  }
}

/** Its stop bands, from their edges; none without edges. */
export function stopbands(response: ResponseId, edges: readonly number[]): Band[] {
  if (edges.length === 0) return []
  const [low, high] = edges
  switch (response) {
    case 'lowpass':
      return [[low, Infinity]]
    case 'highpass':
      return [[0, low]]
    case 'bandpass':
      return [
        [0, low],
        [high, Infinity],
      ]
    case 'bandstop':
      return [[low, high]]
    default:
      return []
  }
}
