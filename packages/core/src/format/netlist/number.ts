/**
 * The netlist's own rule for numbers (common practice, no source): case-insensitive, `M` is milli and `MEG` mega,
 * letters after the scale are a unit and are ignored.
 */
const SCALES: readonly (readonly [suffix: string, exponent: number])[] = [
  ['meg', 6],
  ['mil', Number.NaN],
  ['t', 12],
  ['g', 9],
  ['k', 3],
  ['m', -3],
  ['u', -6],
  ['\u00b5', -6],
  ['\u03bc', -6],
  ['n', -9],
  ['p', -12],
  ['f', -15],
  ['a', -18],
]

/** A mil is a thousandth of an inch, 25.4 µm exactly. */
const MIL = 25.4e-6

const NUMBER = /^([+-]?(?:\d+\.?\d*|\.\d+))(?:e([+-]?\d+))?([a-zµμ°%Ω]*)$/iu

/** The value of a netlist number, or undefined where the text is not one. */
export function netlistNumber(text: string): number | undefined {
  const m = NUMBER.exec(text)
  if (!m) return undefined
  const tail = m[3].toLowerCase()
  const scale = SCALES.find(([suffix]) => tail.startsWith(suffix))
  const typed = Number(m[2] ?? 0)
  if (!scale) return Number(`${m[1]}e${typed}`)
  if (scale[0] === 'mil') return Number(`${m[1]}e${typed}`) * MIL
  return Number(`${m[1]}e${typed + scale[1]}`)
}

/** A number as the shortest netlist text that reads back to the same double; exponents, so no scale is mistaken. */
export function writeNumber(value: number): string {
  return Object.is(value, -0) ? '-0' : String(value)
}
