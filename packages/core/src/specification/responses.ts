/** A kind of response that can be asked for. */
export interface ResponseKind {
  readonly id: string
  /** As in "a low-pass response". */
  readonly name: string
  /** Number of passband edges, and of stop-band edges. */
  readonly edges: 1 | 2
}

export const RESPONSES: readonly ResponseKind[] = [{ id: 'lowpass', name: 'low-pass', edges: 1 }]
