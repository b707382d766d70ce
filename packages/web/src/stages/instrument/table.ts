import { type Diagram, type DiagramAxis, writeCsv } from '@voskel/core'
import type { Plot } from '../../diagram/plot'
import type { Computed } from './Over'
import { isPlane } from './planeIds'
import { type Source, sourcesOf } from './sources'

/** How complex values stand in a table. */
export type TableForm = 'db' | 'complex'

type Columns = Readonly<Record<string, Float64Array>>

/** Views whose numbers are those of the picture and no signal's own. */
const AS_DRAWN: ReadonlySet<string> = new Set(['noise', 'influence', 'spectrum', 'against'])

/**
 * Everything that a diagram draws in columns of full precision, SI units, dB and degrees. What has points of its own, as measured data
 * have, has a column for their frequencies or times as well; shorter columns end earlier.
 */
export function columnsOf(diagram: Diagram, plot: Plot, computed: Computed, form: TableForm): Columns {
  const table = new Table()
  const { over, view, right } = diagram
  if (AS_DRAWN.has(view) || diagram.difference || isPlane(view) || over === 'time') {
    const x = over === 'time' && view !== 'spectrum' && view !== 'against' ? 'time (s)' : plot.x.title
    for (const curve of plot.curves) {
      if (curve.label === '') continue
      const axis = curve.right && plot.right ? plot.right.title : plot.y.title
      table.add(x, curve.label, curve.x, { [`${curve.label} (${axis})`]: curve.y })
    }
    return table.columns()
  }
  const sources = [
    ...sourcesOf(diagram, computed),
    ...(right ? sourcesOf(right, computed, diagram.signals.length) : []),
  ]
  const seen = new Set<string>()
  for (const source of sources) {
    if (seen.has(source.label)) continue
    seen.add(source.label)
    table.add('frequency (Hz)', source.label, source.curve.frequency, valuesOf(source, form))
  }
  return table.columns()
}

function valuesOf({ label, curve, unit, isLevel, level }: Source, form: TableForm): Columns {
  if (isLevel) return { [`${label} (${unit})`]: curve.re }
  const factor = 10 ** (level / 20)
  const times = (v: Float64Array) => (level === 0 ? v : v.map((x) => x * factor))
  const hasParts = curve.re.some((v) => Number.isFinite(v))
  if (form === 'complex' && hasParts)
    return { [`${label} re (${unit || '1'})`]: times(curve.re), [`${label} im (${unit || '1'})`]: times(curve.im) }
  return { [`${label} (dB)`]: curve.db.map((v) => v + level), [`${label} (deg)`]: curve.phase }
}

class Table {
  private readonly grids: { readonly x: Float64Array; readonly columns: [string, Float64Array][] }[] = []
  private longest = 0

  add(what: string, label: string, x: Float64Array, values: Columns): void {
    const known = this.grids.find((g) => sameGrid(g.x, x))
    this.longest = Math.max(this.longest, x.length)
    if (known) known.columns.push(...Object.entries(values))
    else {
      const name = this.grids.length === 0 ? what : `${what.replace(/ \(/, ` of ${label} (`)}`
      this.grids.push({ x, columns: [[name, x], ...Object.entries(values)] })
    }
  }

  columns(): Columns {
    const all = this.grids.flatMap((g) => g.columns)
    return Object.fromEntries(all.map(([name, values]) => [name, filledUp(values, this.longest)]))
  }
}

const sameGrid = (a: Float64Array, b: Float64Array): boolean =>
  a === b || (a.length === b.length && a.every((v, k) => v === b[k]))

function filledUp(values: Float64Array, length: number): Float64Array {
  if (values.length === length) return values
  const all = new Float64Array(length).fill(NaN)
  all.set(values)
  return all
}

/** As CSV. */
export const csvOf = (columns: Columns): string => writeCsv(columns)

/** Rows divided by tabs, as spreadsheets take them from the clipboard. */
export function rowsOf(columns: Columns): string {
  const [names, arrays] = [Object.keys(columns), Object.values(columns)]
  const lines = [names.join('\t')]
  for (let k = 0; k < (arrays[0]?.length ?? 0); k++)
    lines.push(arrays.map((a) => (Number.isFinite(a[k]) ? String(a[k]) : '')).join('\t'))
  return lines.join('\n')
}

/** As JSON, for programs. */
export const jsonOf = (diagram: Diagram, columns: Columns): string =>
  JSON.stringify(
    {
      diagram,
      columns: Object.fromEntries(
        Object.entries(columns).map(([name, values]) => [
          name,
          Array.from(values, (v) => (Number.isFinite(v) ? v : null)),
        ]),
      ),
    },
    null,
    1,
  )

/** What is drawn along the left axis of a diagram, in a few words for a file's name. */
export const nameOfDiagram = ({
  title,
  view,
  signals,
}: Pick<DiagramAxis, 'view' | 'signals'> & { title?: string | undefined }) => title || `${view} ${signals.join(' ')}`
