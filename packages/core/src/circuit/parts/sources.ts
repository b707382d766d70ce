import type { Part } from '../circuit.js'
import { VoskelError } from '../../errors/VoskelError.js'
import { formatShort } from '../../quantity/formatQuantity.js'
import { waveformKind } from '../waveforms/index.js'
import type { CardReader, CardWriter, PartKind, ValueField } from './PartKind.js'

/** The values of every independent source: bias, AC and waveform stand side by side, none replaces another. */
export const sourceValues = (unit: 'V' | 'A'): readonly ValueField[] => [
  { id: 'bias', name: 'Bias', unit, default: 0, range: 'any' },
  { id: 'acMagnitude', name: 'AC magnitude', unit, default: 0, range: 'any' },
  { id: 'acPhase', name: 'AC phase', unit: '°', default: 0, range: 'any' },
]

const SOURCE_FORM =
  'A source takes [DC] value, AC magnitude phase, and one of PULSE, SIN, PWL, EXP, each once; the decimal sign is a point.'

/** `[DC] value  AC magnitude [phase]  WAVEFORM(…)` in any order, each at most once. */
export const sourceCard: NonNullable<PartKind['card']> = {
  read(reader: CardReader) {
    const values: Record<string, number | string> = { bias: 0, acMagnitude: 0, acPhase: 0 }
    let waveform
    const said = new Set<string>()
    const once = (word: string) => {
      if (said.has(word)) reader.fail(`The source's ${word} is given already.`, SOURCE_FORM)
      said.add(word)
    }
    while (!reader.done) {
      const first = said.size === 0
      const found = reader.maybeWaveform()
      if (found) {
        once('waveform')
        waveform = found
      } else if (reader.take('DC')) {
        once('DC value')
        values.bias = reader.value('the DC value')
      } else if (reader.take('AC')) {
        once('AC value')
        values.acMagnitude = reader.maybeValue() ?? 1
        values.acPhase = reader.maybeValue() ?? 0
      } else {
        // A bare value is the DC value, where it comes first; anywhere else nobody knows what is meant.
        const bare = first ? reader.maybeValue() : undefined
        if (bare === undefined) reader.fail('This is not part of a source.', SOURCE_FORM)
        once('DC value')
        values.bias = bare
      }
    }
    return { values, ...(waveform && { waveform }) }
  },
  write(part: Part, writer: CardWriter) {
    const given = (field: string) => part.formulas?.[field] !== undefined || (part.values[field] ?? 0) !== 0
    const words = [`DC ${writer.value('bias')}`]
    if (given('acMagnitude'))
      words.push(`AC ${writer.value('acMagnitude')}${given('acPhase') ? ` ${writer.value('acPhase')}` : ''}`)
    if (part.waveform) {
      const { card, name } = waveformKind(part.waveform)
      if (!card) throw new VoskelError('NOT_IN_NETLIST', { part: part.id, what: name.toLowerCase() }, { part: part.id })
      words.push(
        `${card.name}(${card
          .write(part.waveform)
          .map((v) => writer.number(v))
          .join(' ')})`,
      )
    }
    return words.join(' ')
  },
}

/** What an independent source gives, as a drawing says it: bias, AC and waveform, those that are there. */
export const describeSource =
  (unit: 'V' | 'A') =>
  ({ waveform, formulas = {} }: Part, values: Readonly<Record<string, number>>): string | null => {
    const said = (value: number) => formatShort(value, unit)
    const { bias = 0, acMagnitude = 0 } = values
    const words = [
      (bias !== 0 || formulas.bias !== undefined) && said(bias),
      acMagnitude !== 0 && `AC ${said(acMagnitude)}`,
      waveform && waveformKind(waveform).describe(waveform, said),
    ].filter(Boolean)
    return words.length > 0 ? words.join(', ') : said(0)
  }
