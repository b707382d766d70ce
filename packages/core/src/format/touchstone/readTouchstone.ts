import { VoskelError } from '../../errors/VoskelError.js'

/** What the numbers of a Touchstone text are. */
export type NetworkParameter = 'S' | 'Y' | 'Z' | 'G' | 'H'

/** Parameters of a one- or two-port over frequency. */
export interface TouchstoneData {
  readonly ports: 1 | 2
  readonly parameter: NetworkParameter
  /** Ω, one a port */
  readonly references: readonly number[]
  /** Hz, ascending */
  readonly frequency: Float64Array
  /** By entry: `11`, and of two ports `21`, `12`, `22`. */
  readonly entries: Readonly<Record<string, { readonly re: Float64Array; readonly im: Float64Array }>>
  readonly notes: readonly string[]
}

const UNITS: Readonly<Record<string, number>> = { HZ: 1, KHZ: 1e3, MHZ: 1e6, GHZ: 1e9 }
const FORMATS = ['DB', 'MA', 'RI'] as const

/** Numbers of a line of noise parameters. */
const NOISE_NUMBERS = 5

/**
 * A Touchstone text of one or two ports, versions 1.0 to 2.0.
 *
 * Source: Touchstone File Format Specification, versions 1.1 (2003) and 2.0 (2009), IBIS Open Forum.
 *
 * @param ports what the file's name says (`.s1p`, `.s2p`); left out, what the text itself does: by a keyword, or by the numbers of its
 *   first line
 * @throws VoskelError `TABLE_INVALID` with the line, for numbers too many or too few, what is no number, frequencies that do not
 *   ascend, and what is not offered: more ports, mixed modes, half matrices
 */
export function readTouchstone(text: string, ports?: number): TouchstoneData {
  return new Reader(text, ports).read()
}

class Reader {
  private unit = 1e9
  private parameter: NetworkParameter = 'S'
  private format: (typeof FORMATS)[number] = 'MA'
  private references: number[] = [50]
  private version = 1
  private order: '21_12' | '12_21' | null = null
  private announced: number | null = null
  private hasOptions = false
  private readonly rows: { readonly line: number; readonly numbers: readonly number[] }[] = []
  private readonly notes: string[] = []

  constructor(
    private readonly text: string,
    private ports: number | undefined,
  ) {}

  read(): TouchstoneData {
    /** What the lines belong to now: data, noise, or a keyword whose numbers go on. */
    let part: 'head' | 'data' | 'noise' | 'information' | 'reference' = 'head'
    let noise = 0
    this.text.split(/\r\n|\r|\n/).forEach((whole, k) => {
      const line = k + 1
      const bare = whole
        .replace(/^\ufeff/, '')
        .split('!')[0]
        .trim()
      if (bare === '') return
      const keyword = /^\[([^\]]*)\]\s*(.*)$/.exec(bare)
      if (part === 'information' && keyword?.[1].toLowerCase() !== 'end information') return
      if (keyword) {
        part = this.keyword(keyword[1].toLowerCase(), keyword[2].trim(), line, part)
        return
      }
      if (bare.startsWith('#')) {
        // The first option line counts, others are to be ignored.
        if (!this.hasOptions) this.options(bare.slice(1), line)
        return
      }
      const numbers = this.numbers(bare, line)
      if (part === 'reference') {
        this.references.push(...numbers)
        if (this.references.length >= (this.ports ?? 1)) part = 'head'
        return
      }
      if (part === 'noise') {
        noise++
        return
      }
      if (!this.hasOptions)
        throw invalid(line, 'numbers stand before the option line', 'Write a line such as # MHz S RI R 50 above them.')
      if (this.isNoise(numbers)) {
        part = 'noise'
        noise++
        return
      }
      part = 'data'
      this.row(numbers, line)
    })
    if (noise > 0) this.notes.push(`${noise} lines of noise parameters are not read.`)
    return this.finished()
  }

  private keyword(
    name: string,
    value: string,
    line: number,
    part: 'head' | 'data' | 'noise' | 'information' | 'reference',
  ): typeof part {
    const wrong = (fix: string) => invalid(line, `[${name}] ${value} is not offered`, fix)
    switch (name) {
      case 'version':
        if (!/^[12](\.\d+)?$/.test(value)) throw wrong('Write the file as version 1.1 or 2.0.')
        this.version = Number(value)
        return part
      case 'number of ports':
        if (!/^\d+$/.test(value)) throw wrong('Write how many there are, 1 or 2.')
        this.ports = Number(value)
        this.checkPorts(line)
        return part
      case 'two-port data order':
        if (value !== '21_12' && value !== '12_21') throw wrong('The order is 21_12 or 12_21.')
        this.order = value
        return part
      case 'number of frequencies':
        this.announced = Number(value)
        return part
      case 'matrix format':
        if (value.toLowerCase() !== 'full') throw wrong('Write the whole matrix: [Matrix Format] Full.')
        return part
      case 'reference':
        this.references = value === '' ? [] : this.numbers(value, line)
        return this.references.length >= (this.ports ?? 1) ? part : 'reference'
      case 'mixed-mode order':
        throw wrong('Write single-ended ports.')
      case 'network data':
        return 'data'
      case 'noise data':
        return 'noise'
      case 'begin information':
        return 'information'
      case 'end information':
        return 'head'
      case 'number of noise frequencies':
      case 'end':
        return part
      default:
        throw invalid(
          line,
          `[${name}] is no keyword of versions 1.0 to 2.0`,
          'Take the line out, or write the file as version 2.0.',
        )
    }
  }

  private options(text: string, line: number): void {
    this.hasOptions = true
    const words = text.toUpperCase().split(/\s+/).filter(Boolean)
    for (let k = 0; k < words.length; k++) {
      const word = words[k]
      if (word in UNITS) this.unit = UNITS[word]
      else if (/^[SYZGH]$/.test(word)) this.parameter = word as NetworkParameter
      else if ((FORMATS as readonly string[]).includes(word)) this.format = word as 'DB'
      else if (word === 'R') {
        const reference = Number(words[++k])
        if (!(reference > 0)) throw invalid(line, `R ${words[k] ?? ''} is no resistance`, 'Write for example R 50.')
        this.references = [reference]
      } else
        throw invalid(
          line,
          `"${word}" is none of a unit, a parameter, a format and R`,
          'Write for example # GHz S MA R 50; formats are DB, MA and RI.',
        )
    }
  }

  private numbers(text: string, line: number): number[] {
    return text.split(/\s+/).map((word) => {
      const number = Number(word)
      if (Number.isFinite(number) && !/x/i.test(word)) return number
      throw invalid(
        line,
        `"${word}" is not a number`,
        'Write numbers such as 1.5e-3, divided by blanks; a remark begins with !.',
      )
    })
  }

  private checkPorts(line: number): void {
    if (this.ports !== 1 && this.ports !== 2)
      throw invalid(line, `it has ${this.ports} ports`, 'One- and two-ports are read: .s1p and .s2p.')
  }

  /** Noise parameters follow the data of version 1 without a word: five numbers, from a frequency on that lies no higher. */
  private isNoise(numbers: readonly number[]): boolean {
    const last = this.rows.at(-1)
    return (
      this.version < 2 &&
      this.ports === 2 &&
      numbers.length === NOISE_NUMBERS &&
      last !== undefined &&
      last.numbers.length === 9 &&
      numbers[0] <= last.numbers[0]
    )
  }

  private row(numbers: readonly number[], line: number): void {
    if (this.ports === undefined) {
      if (numbers.length !== 3 && numbers.length !== 9)
        throw invalid(
          line,
          `it has ${numbers.length} numbers`,
          'A one-port has 3 a line (frequency and one pair), a two-port 9 (frequency and four pairs).',
        )
      this.ports = numbers.length === 3 ? 1 : 2
    }
    this.checkPorts(line)
    const wanted = 1 + 2 * this.ports ** 2
    if (numbers.length !== wanted)
      throw invalid(
        line,
        `it has ${numbers.length} numbers`,
        `A ${this.ports === 1 ? 'one-port has 3 a line: frequency and one pair' : 'two-port has 9 a line: frequency and four pairs'}.`,
      )
    const last = this.rows.at(-1)
    if (numbers[0] < 0) throw invalid(line, `the frequency ${numbers[0]} is negative`, 'Frequencies are 0 or above.')
    if (last && !(numbers[0] > last.numbers[0]))
      throw invalid(
        line,
        `the frequency ${numbers[0]} does not lie above ${last.numbers[0]} of line ${last.line}`,
        'Sort the lines by frequency, each once.',
      )
    this.rows.push({ line, numbers })
  }

  private finished(): TouchstoneData {
    const { rows, format, unit } = this
    if (rows.length === 0) throw invalid(1, 'it holds no data', 'Give a line a frequency below the option line.')
    if (this.announced !== null && this.announced !== rows.length)
      this.notes.push(`${this.announced} frequencies are announced and ${rows.length} are there.`)
    const ports = this.ports as 1 | 2
    const references =
      this.references.length === ports ? this.references : Array.from({ length: ports }, () => this.references[0])
    // Frequencies of 0 have no place among decades.
    const kept = rows.filter(({ numbers }) => numbers[0] > 0)
    if (kept.length < rows.length)
      this.notes.push(`Line ${rows[0].line} is at 0 Hz, which has no place among decades; it is left out.`)
    const names = ports === 1 ? ['11'] : this.order === '12_21' ? ['11', '12', '21', '22'] : ['11', '21', '12', '22']
    const scales = names.map((name) => (this.version < 2 ? normalized(this.parameter, name, references[0]) : 1))
    const entries = Object.fromEntries(
      names.map((name, j) => {
        const [re, im] = [new Float64Array(kept.length), new Float64Array(kept.length)]
        kept.forEach(({ numbers }, k) => {
          const value = complexOf(numbers[1 + 2 * j], numbers[2 + 2 * j], format)
          re[k] = scales[j] * value.re
          im[k] = scales[j] * value.im
        })
        return [name, { re, im }]
      }),
    )
    return {
      ports,
      parameter: this.parameter,
      references,
      frequency: Float64Array.from(kept, ({ numbers }) => numbers[0] * unit),
      entries,
      notes: this.notes,
    }
  }
}

/** What a number of version 1 is to be multiplied by: impedances and admittances stand there over the reference. */
function normalized(parameter: NetworkParameter, entry: string, reference: number): number {
  if (parameter === 'Z') return reference
  if (parameter === 'Y') return 1 / reference
  // H: h11 in Ω, h22 in S; G the other way round.
  const isImpedance = (parameter === 'H' && entry === '11') || (parameter === 'G' && entry === '22')
  const isAdmittance = (parameter === 'H' && entry === '22') || (parameter === 'G' && entry === '11')
  return isImpedance ? reference : isAdmittance ? 1 / reference : 1
}

function complexOf(a: number, b: number, format: 'DB' | 'MA' | 'RI'): { re: number; im: number } {
  if (format === 'RI') return { re: a, im: b }
  const size = format === 'DB' ? 10 ** (a / 20) : a
  const angle = (b * Math.PI) / 180
  return { re: size * Math.cos(angle), im: size * Math.sin(angle) }
}

function invalid(row: number, problem: string, fix: string): VoskelError {
  return new VoskelError('TABLE_INVALID', { row, problem, fix }, { line: row, column: 1 })
}
