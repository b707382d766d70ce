/**
 * The netlist's own rule for numbers (common practice, no source): case-insensitive, `M` is milli and `MEG` mega, a unit
 * after the scale is left out of account. A word that is not read to its end is no number.
 */
const SCALES: Readonly<Record<string, number>> = {
  t: 12,
  g: 9,
  meg: 6,
  k: 3,
  m: -3,
  u: -6,
  '\u00b5': -6,
  '\u03bc': -6,
  n: -9,
  p: -12,
  f: -15,
}

/** Scales that stand before a unit only: alone, the letter is the unit. */
const SCALES_OF_UNITS: Readonly<Record<string, number>> = { ...SCALES, a: -18 }

const UNITS = new Set(
  (
    'ohm ohms Ω v volt volts a amp amps ampere amperes f farad farads h henry henries henrys s sec second seconds ' +
    'hz hertz w watt watts c degc degk ° deg degree degrees rad m'
  )
    .toLowerCase()
    .split(' '),
)

/** A thousandth of an inch, m, exactly. */
const MIL = 25.4e-6

const NUMBER = /^([+-]?(?:\d+\.?\d*|\.\d+))(?:e([+-]?\d+))?([\p{L}°]*)$/iu

/** The value of a netlist number, or undefined where the text is not one. */
export function netlistNumber(text: string): number | undefined {
  const m = NUMBER.exec(text)
  if (!m) return undefined
  const tail = m[3].toLowerCase()
  const typed = Number(m[2] ?? 0)
  if (tail === 'mil') return Number(`${m[1]}e${typed}`) * MIL
  const exponent = scaleOf(tail)
  return exponent === undefined ? undefined : Number(`${m[1]}e${typed + exponent}`)
}

/** The letters behind a number that are a unit alone, in small letters; undefined where they scale it or there are none. */
export function unitOf(text: string): string | undefined {
  const tail = NUMBER.exec(text)?.[3].toLowerCase()
  return tail && UNITS.has(tail) && !Object.hasOwn(SCALES, tail) ? tail : undefined
}

/** The power of ten that the letters behind a number stand for; undefined where they are neither scale nor unit. */
function scaleOf(tail: string): number | undefined {
  if (tail === '') return 0
  if (Object.hasOwn(SCALES, tail)) return SCALES[tail]
  if (UNITS.has(tail)) return 0
  for (const length of [3, 1]) {
    const scale = tail.slice(0, length)
    if (Object.hasOwn(SCALES_OF_UNITS, scale) && UNITS.has(tail.slice(length))) return SCALES_OF_UNITS[scale]
  }
  return undefined
}

/** A number as the shortest netlist text that reads back to the same double; exponents, so no scale is mistaken. */
export function writeNumber(value: number): string {
  return Object.is(value, -0) ? '-0' : String(value)
}

/** Scales of a thousand, and what they are called. */
const THOUSANDS: readonly (readonly [exponent: number, scale: string])[] = [
  [9, 'g'],
  [6, 'meg'],
  [3, 'k'],
  [-3, 'm'],
  [-6, 'u'],
  [-9, 'n'],
  [-12, 'p'],
  [-15, 'f'],
]

/** A number as people write one, with a scale where it has one and reads back to the same double. */
export function writeScaled(value: number): string {
  const plain = writeNumber(value)
  const [digits, power = '0'] = Math.abs(value).toExponential().split('e')
  const exponent = 3 * Math.floor(Number(power) / 3)
  const scale = THOUSANDS.find(([e]) => e === exponent)?.[1]
  if (scale === undefined) return plain
  const shifted = Number(`${digits}e${Number(power) - exponent}`)
  const written = `${value < 0 ? '-' : ''}${shifted}${scale}`
  return written.length <= plain.length && netlistNumber(written) === value ? written : plain
}
