import {
  bareName,
  type Circuit,
  fit,
  type Fit,
  flatten,
  guessColumns,
  layoutOf,
  type MeasuredCurve,
  networkCurves,
  parseQuantity,
  readMeasured,
  readTouchstone,
  referredTo,
  type Samples,
  ZERO_CELSIUS,
} from '@voskel/core'
import { celsius, usage } from '../arguments.js'
import { emitJson, loadCircuit, readTableSource, type Source, warn, within } from '../io.js'
import { INPUT, OUTPUT, studied, type StudyOptions, TEMPERATURE } from '../study.js'
import type { Register } from './Command.js'

interface FitCommandOptions extends StudyOptions {
  data: string
  vary: string[]
  bounds?: Record<string, [number, number]>
  out?: string
}

export const registerFit: Register = (program) => {
  program
    .command('fit')
    .description(
      'values of parts by least squares from measured points; residuals count complex (re and im), in dB and degrees ' +
        'weighted by 0.1 dB and 1°, or in V',
    )
    .argument('<CIRCUIT>', 'netlist or design, or - for standard input')
    .requiredOption(
      '--data <file>',
      'CSV with frequency and magnitude_db and/or phase_deg, or re, im; or time and a net’s name; or .s1p, .s2p',
    )
    .requiredOption('--vary <names>', 'parts, as R1,C1; also R1.tc1, X1.R2, a parameter', (text) => text.split(','))
    .option('--bounds <list>', 'as R1=1k:10k,C1=1n:1u', readBounds)
    .option(...INPUT)
    .option(...OUTPUT)
    .option(...TEMPERATURE, celsius)
    .option('--out <file>', 'write there instead of to standard output')
    .action((file: string, options: FitCommandOptions) => {
      if (file === '-' && options.data === '-')
        throw usage('Circuit and data cannot both come from standard input.', 'Give one of the two as a file.')
      const loaded = loadCircuit(file)
      const data = readTableSource(options.data)
      const { input, output, temperature } = studied(loaded, options)
      const curves = within(data, () => {
        if (TOUCHSTONE.test(data.name)) {
          const network = readTouchstone(data.text, Number(TOUCHSTONE.exec(data.name)![1]))
          const referred = referredTo(network, loaded.circuit, output)
          for (const note of referred.notes) warn(data, note)
          return networkCurves(referred)
        }
        const layout = layoutOf(data.text)
        const table = readMeasured(data.text, { layout, columns: guessColumns(layout) })
        for (const note of table.notes) warn(data, note)
        return table.curves
      })
      const chosen = within(data, () => choose(curves, loaded.circuit, options.output, output))
      const samples = within(data, () => fromZero(chosen.samples, data))
      const found = within(loaded.source, () =>
        fit(loaded.circuit, samples, {
          vary: options.vary,
          output: chosen.output,
          temperature: temperature + ZERO_CELSIUS,
          ...(input !== undefined && { input }),
          ...(options.bounds && { bounds: options.bounds }),
          ...(loaded.design?.study?.start && { start: loaded.design.study.start }),
        }),
      )
      for (const { name, atBound } of found.values) {
        if (atBound)
          warn(
            loaded.source,
            `${name} stands at its bound; its interval is that of the slopes there, without the bound`,
          )
      }
      if (found.values.some((v) => v.confidence95 === null))
        warn(data, 'as many values as residuals: there is nothing to tell an interval by')
      for (const values of found.alternatives)
        warn(
          data,
          `${found.values.map(({ name }, k) => `${name} = ${values[k]}`).join(', ')} fits as well: parts that may trade places`,
        )
      emitJson(asJson(found), options.out)
    })
}

/** Files that hold the parameters of a network. */
const TOUCHSTONE = /\.s(\d+)p$/i

/** The contract's form, by name. */
function asJson({ values, correlation, rms, samples, iterations, alternatives }: Fit) {
  const named = <T>(of: (k: number) => T) => Object.fromEntries(values.map(({ name }, k) => [name, of(k)]))
  return {
    values: named((k) => values[k]!.value),
    confidence95: named((k) => values[k]!.confidence95),
    rms,
    samples,
    iterations,
    correlation: named((k) => named((j) => correlation[k]![j]!)),
    ...(alternatives.length > 0 && { alternatives: alternatives.map((other) => named((k) => other[k]!)) }),
  }
}

/** `R1=1k:10k,C1=1n:1u` */
function readBounds(text: string): Record<string, [number, number]> {
  return Object.fromEntries(
    text.split(',').map((one) => {
      const [, name, least, most] = /^([^=]+)=([^:]+):(.+)$/.exec(one.trim()) ?? []
      if (name === undefined)
        throw usage(`"${one}" is no bound.`, 'Write a name, its least and its greatest value, as R1=1k:10k.')
      return [name.trim(), [parseQuantity(least!), parseQuantity(most!)]]
    }),
  )
}

/** Which curve of the table is which output: over time by the name of its column, where it is a net's. */
function choose(
  curves: readonly MeasuredCurve[],
  circuit: Circuit,
  asked: string | undefined,
  usual: string,
): { samples: Samples; output: string } {
  const [first] = curves
  if (first!.samples.over === 'frequency') {
    // Of a network the output says which of its parameters is meant.
    const entry = /^([syzgh]\d\d)\(/i.exec(usual)?.[1]?.toUpperCase()
    const own = curves.find((c) => c.name === entry) ?? (curves.length === 1 || !isNetwork(curves) ? first : undefined)
    if (own) return { samples: own.samples, output: usual }
    throw usage(
      `The file holds ${curves.map((c) => c.name).join(', ')}, and the output ${usual} is none of them.`,
      'Name one with --output, as s21(RS,RL).',
    )
  }
  const nets = new Map(flatten(circuit).nodes.map((n) => [n.toLowerCase(), n]))
  const netOf = ({ name }: MeasuredCurve) =>
    nets.get(name.toLowerCase()) ??
    nets.get(
      bareName(name)
        .toLowerCase()
        .replace(/^v\((.*)\)$/, '$1'),
    )
  const outputs = curves.map((c) => netOf(c) ?? c.name)
  const own = outputs.findIndex((name) => name.toLowerCase() === (asked ?? usual).toLowerCase())
  const named = own >= 0 ? own : asked === undefined ? curves.findIndex((c) => netOf(c) !== undefined) : -1
  if (named >= 0) return { samples: curves[named]!.samples, output: outputs[named]! }
  if (curves.length === 1 && (asked !== undefined || first!.name === ''))
    return { samples: first!.samples, output: asked ?? usual }
  throw usage(
    `No column is named after ${asked === undefined ? 'a net of the circuit' : `the output ${asked}`}: there are ${curves.map((c) => c.name || 'one without name').join(', ')}.`,
    `Name the column as the net, or the output with --output; the nets are ${[...nets.values()].join(', ')}.`,
  )
}

const isNetwork = (curves: readonly MeasuredCurve[]): boolean => curves.every((c) => /^[SYZGH]\d\d$/.test(c.name))

/** What lies before the run begins has nothing to be compared with. */
function fromZero(samples: Samples, data: Source): Samples {
  if (samples.over === 'frequency' || samples.x[0]! >= 0) return samples
  const begin = samples.x.findIndex((t) => t >= 0)
  if (begin < 0)
    throw usage('Every time lies before 0 s, where a run begins.', 'Count the time from the source’s change on.')
  warn(data, `${begin} rows lie before 0 s, where the run begins, and are left out`)
  return { ...samples, x: samples.x.slice(begin), value: samples.value.slice(begin) }
}
