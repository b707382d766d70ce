/**
 * Widths of letters at the bold weight of the font that ships with the application, in em, rounded up: measured in the
 * browser, and held against it by a browser test.
 */
const WIDTHS: readonly (readonly [letters: string, em: number])[] = [
  [' \u00a0\u202f', 0.2],
  ["iljI.,:;'|·›‹", 0.3],
  ['ftr()[]{}/\\-°!', 0.39],
  ['czs*?', 0.47],
  ['0123456789+−–_<>=#$~^"aegvxyEFJLY', 0.53],
  ['bdhknopquµSTVXZA', 0.58],
  ['BCKPR&↑↓ßé', 0.62],
  ['DGHNOQU√', 0.68],
  ['ΩMw', 0.76],
  ['mW%∞→←', 0.85],
]

const widthOf = new Map(WIDTHS.flatMap(([letters, em]) => [...letters].map((letter) => [letter, em] as const)))

/** Of a letter that is not in the table: none is wider. */
const WIDEST = 1

/** How wide a text is written, in em. */
export const textWidth = (text: string): number =>
  [...text].reduce((sum, letter) => sum + (widthOf.get(letter) ?? WIDEST), 0)
