import { z } from 'zod'
import { multiply } from '../../numeric/complex.js'
import type { Segment, WaveformKind } from './Waveform.js'

/** A waveform that is the sum of others: a signal with interference on top. */
export interface Sum<W> {
  kind: 'sum'
  terms: W[]
}

/** @param kindOf the kind of a term, and @param term its schema; both know this kind, too */
export function sumOf<W>(term: z.ZodType<W>, kindOf: (waveform: W) => WaveformKind<W>): WaveformKind<Sum<W>> {
  const total = (w: Sum<W>, f: (kind: WaveformKind<W>, term: W) => number) =>
    w.terms.reduce((sum, t) => sum + f(kindOf(t), t), 0)
  return {
    kind: 'sum',
    name: 'Sum',
    schema: z.strictObject({ kind: z.literal('sum'), terms: z.array(term).min(1).max(20) }),
    fields: [],
    usual: { kind: 'sum', terms: [] },
    describe: (w, said) => w.terms.map((t) => kindOf(t).describe(t, said)).join(' + '),
    at: (w, t) => total(w, (kind, term) => kind.at(term, t)),
    initial: (w) => total(w, (kind, term) => kind.initial(term)),
    corners: (w, stop) => [...new Set(w.terms.flatMap((t) => kindOf(t).corners(t, stop)))].sort((a, b) => a - b),
    segments(w, stop) {
      const all = w.terms.map((t) => kindOf(t).segments(t, stop))
      if (all.some((s) => s === null)) return null
      const lists = all as Segment[][]
      const starts = [...new Set(lists.flatMap((list) => list.map((s) => s.from)))].sort((a, b) => a - b)
      return starts.map((from) =>
        lists
          .map((list) => list.findLast((s) => s.from <= from)!)
          .reduce((sum, s) => joined(sum, carried(s, from)), { from, value: 0, slope: 0, waves: [] } as Segment),
      )
    },
    longestStep: (w) => Math.min(...w.terms.map((t) => kindOf(t).longestStep(t))),
    span: (w) => Math.max(...w.terms.map((t) => kindOf(t).span(t))),
  }
}

/** A segment as it looks from a later time. */
function carried({ from, value, slope, waves }: Segment, later: number): Segment {
  const tau = later - from
  return {
    from: later,
    value: value + slope * tau,
    slope,
    waves: waves.map(({ s, c }) => {
      const size = Math.exp(s.re * tau)
      return { s, c: multiply(c, { re: size * Math.cos(s.im * tau), im: size * Math.sin(s.im * tau) }) }
    }),
  }
}

const joined = (a: Segment, b: Segment): Segment => ({
  from: a.from,
  value: a.value + b.value,
  slope: a.slope + b.slope,
  waves: [...a.waves, ...b.waves],
})
