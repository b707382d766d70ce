/** SI prefixes on screen and on the command line, case-sensitive. Source: SI Brochure, 9th edition 2019, table 7. */
export const PREFIX_EXPONENTS: Readonly<Record<string, number>> = {
  a: -18,
  f: -15,
  p: -12,
  n: -9,
  u: -6,
  '\u00b5': -6, // U+00B5, the micro sign of keyboards
  '\u03bc': -6, // U+03BC, the Greek letter that the SI means
  m: -3,
  k: 3,
  K: 3, // IEC 60062 marks kilo with a capital letter
  M: 6,
  Meg: 6,
  G: 9,
  T: 12,
}

/** The prefix that is written for an exponent that is a multiple of three. */
export const PREFIX_OF_EXPONENT: ReadonlyMap<number, string> = new Map([
  [-18, 'a'],
  [-15, 'f'],
  [-12, 'p'],
  [-9, 'n'],
  [-6, 'µ'],
  [-3, 'm'],
  [0, ''],
  [3, 'k'],
  [6, 'M'],
  [9, 'G'],
  [12, 'T'],
])

/** Units that may follow a value. `ohm` and `Ohm` are the typed forms of Ω (U+03A9, and U+2126 from older texts). */
export const UNIT_SPELLINGS: Readonly<Record<string, string>> = {
  Hz: 'Hz',
  'rad/s': 'rad/s',
  '\u03a9': 'Ω',
  '\u2126': 'Ω',
  ohm: 'Ω',
  Ohm: 'Ω',
  ohms: 'Ω',
  F: 'F',
  H: 'H',
  s: 's',
  V: 'V',
  A: 'A',
  W: 'W',
  S: 'S',
  dB: 'dB',
  '°': '°',
  deg: '°',
  '%': '%',
}
