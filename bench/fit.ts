import { spawnSync } from 'node:child_process'
import { join } from 'node:path'
import {
  AcAnalysis,
  decodeText,
  fit,
  formulate,
  guessColumns,
  layoutOf,
  logarithmicGrid,
  readMeasured,
  readNetlist,
} from '@voskel/core'
import { type Figure, least } from './report.js'

/** A ladder of seven reactances between 50 Ω, each by a factor off its usual value. */
const ladder = (by: (k: number) => number) => {
  const [c1, l2, c3, l4, c5, l6, c7] = START.map((v, k) => v * by(k))
  return readNetlist(
    `t\nV1 in 0 AC 1\nRS in a 50\nC1 a 0 ${c1}\nL2 a b ${l2}\nC3 b 0 ${c3}\nL4 b c ${l4}\nC5 c 0 ${c5}\nL6 c out ${l6}\nC7 out 0 ${c7}\nRL out 0 50\n`,
  ).circuit
}
const START = [1.1e-9, 4e-6, 2.3e-9, 4.6e-6, 2.1e-9, 3.9e-6, 1.2e-9]
const NAMES = ['C1', 'L2', 'C3', 'L4', 'C5', 'L6', 'C7']

const ROUNDS = 200
const ROWS = 1_000_000

/** Fits of seven values to 400 points, against a general-purpose library, and how fast a long table is read. */
export function fitFigures(root: string): Figure[] {
  const frequency = logarithmicGrid(1e5, 1e7, 199.5)
  const { re, im } = new AcAnalysis(formulate(ladder((k) => 1 + 0.2 * Math.sin(3 * k + 1)))).sweep(frequency)
  const noise = (v: number, k: number) => v + 1e-3 * Math.sin(k * k * 7.3 + k)
  const samples = {
    over: 'frequency' as const,
    x: frequency,
    re: re.map(noise),
    im: im.map((v, k) => noise(v, k + 1000)),
  }
  const circuit = ladder(() => 1)
  let values: readonly number[] = []
  const own = least(ROUNDS, () => {
    values = fit(circuit, samples, { vary: NAMES, output: 'out' }).values.map((v) => v.value)
  })
  const figures: Figure[] = [
    { name: 'Seven values fitted to 400 complex points', value: own * 1000, unit: 'ms', wanted: '< 60 ms' },
  ]
  const given = { frequency: [...frequency], re: [...samples.re], im: [...samples.im], start: START }
  const run = spawnSync('python3', [join(root, 'bench/fit.py')], { input: JSON.stringify(given), encoding: 'utf8' })
  if (run.status === 0) {
    const other = JSON.parse(run.stdout) as { seconds: number; values: number[] }
    const apart = values.reduce((most, v, k) => Math.max(most, Math.abs(v / other.values[k]! - 1)), 0)
    figures.push(
      {
        name: '  scipy least_squares (batched nodal equations) over ours',
        value: other.seconds / own,
        unit: '×',
        wanted: '≥ 20',
      },
      { name: '  largest difference of the values', value: apart, unit: '' },
    )
  } else figures.push({ name: '  no ratio: python3 with numpy and scipy is not here', value: Number.NaN, unit: '' })

  const lines = Array.from({ length: ROWS }, (_, k) => `${(k * 1e-8).toExponential(8)},${Math.sin(k / 1e4).toFixed(6)}`)
  const bytes = new TextEncoder().encode(`time,out\n${lines.join('\n')}\n`)
  const read = least(3, () => {
    const { text } = decodeText(bytes)
    const layout = layoutOf(text)
    readMeasured(text, { layout, columns: guessColumns(layout) })
  })
  figures.push({ name: `A table of ${ROWS} rows read`, value: read, unit: 's', wanted: '< 3 s' })
  return figures
}
