import type { Mark, Place } from '../../diagram/plot'

/** How numbers in Hz or s, dB, degrees and the like stand in a diagram: in what it is read in. */
export interface Scales {
  x(value: number): number
  /** From the diagram back to Hz or s. */
  backX(value: number): number
  y(value: number): number
  /** Along the axis at the right. */
  right(value: number): number
}

/** Numbers as they are: nothing is copied for it. */
export const unscaled = (value: number): number => value

export const scaledMarks = (marks: readonly Mark[], { x, y, right }: Scales): Mark[] => {
  const place = ([a, b]: Place): Place => [x(a), y(b)]
  return marks.map((mark): Mark => {
    if (mark.kind === 'flag') return { ...mark, x: x(mark.x) }
    if (mark.kind === 'run') return { ...mark, x: mark.x.map(x), y: mark.y.map(y) }
    if (mark.kind === 'point' && mark.right) return { ...mark, at: [x(mark.at[0]), right(mark.at[1])] }
    return 'at' in mark ? { ...mark, at: place(mark.at) } : { ...mark, from: place(mark.from), to: place(mark.to) }
  })
}
