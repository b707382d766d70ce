import {
  approximate,
  circuitCandidates,
  drawingOf,
  type FilterSpecInput,
  parseSpec,
  partTexts,
  realize,
  topologies,
} from '@voskel/core'
import { type Figure, least } from './report.js'

const ASKED: FilterSpecInput = {
  response: 'lowpass',
  approximation: 'butterworth',
  passband: { edges: [20e3], ripple: 0.5 },
  stopband: { edges: [44e3], attenuation: 40 },
  realization: { family: 'sallen-key' },
}

const TENTH: FilterSpecInput = {
  response: 'lowpass',
  approximation: 'elliptic',
  order: 10,
  passband: { edges: [20e3], ripple: 0.1 },
  stopband: { attenuation: 80 },
}

/** Seconds until the first ten circuits are there, and all. */
export function circuitTimes(): { firstTen: number; all: number; count: number } {
  const began = performance.now()
  let [count, firstTen] = [0, 0]
  for (const _ of circuitCandidates(parseSpec(ASKED))) if (++count === 10) firstTen = (performance.now() - began) / 1000
  return { firstTen, all: (performance.now() - began) / 1000, count }
}

/** Circuits of every family: what an active design costs. */
export function activeFigures(): Figure[] {
  // Somebody who has just opened the page waits for the first ten: cold.
  const cold = circuitTimes()
  const all = least(3, () => circuitTimes().all)
  const of = (family: string, pairing: string) =>
    parseSpec({ ...TENTH, realization: { family, pairing } } as FilterSpecInput)
  const ideal = approximate(of('bainter', 'as-listed'))
  const made = (pairing: string) => least(5, () => realize(of('bainter', pairing), 'exact', ideal))
  const listed = made('as-listed')
  const drawn = (family: string) => {
    const spec = parseSpec({ ...ASKED, order: 5, realization: { family } } as FilterSpecInput)
    const ideal = approximate(spec)
    return least(15, () => {
      const { circuit } = realize(spec, 'exact', ideal)
      drawingOf({ ...circuit, wires: [...circuit.wires] }, partTexts(circuit))
    })
  }
  const families = topologies.filter((t) => t.family === 'active').map((t) => t.id)
  const drawings = families.flatMap((id) => {
    try {
      return [{ id, seconds: drawn(id) }]
    } catch {
      // A family that makes no low-pass has nothing to be timed here.
      return []
    }
  })
  const slowest = drawings.reduce((a, b) => (b.seconds > a.seconds ? b : a))
  const usual = drawings.map((d) => d.seconds).sort((a, b) => a - b)[Math.floor(drawings.length / 2)]!
  return [
    {
      name: 'circuits of every family: the first ten, in a process that has computed nothing yet',
      value: 1000 * cold.firstTen,
      unit: 'ms',
      wanted: '< 300',
    },
    { name: `  all ${cold.count}, one thread`, value: 1000 * all, unit: 'ms', wanted: '< 5000' },
    ...(['dynamic-range', 'noise', 'sensitivity'] as const).map((pairing): Figure => ({
      name: `pairing and order of a tenth-order elliptic chain by ${pairing}, all of them tried`,
      value: 1000 * (made(pairing) - listed),
      unit: 'ms',
      wanted: '< 200',
    })),
    {
      name: 'an active low-pass of order 5 with its drawing, median of families',
      value: 1000 * usual,
      unit: 'ms',
      wanted: '< 10',
    },
    { name: `  the slowest, ${slowest.id}`, value: 1000 * slowest.seconds, unit: 'ms', wanted: '< 10' },
  ]
}
