import { linked, type PartKind, stampResistance } from './PartKind.js'
import { RESISTANCE, ZIGZAG } from './PartSymbol.js'

/** The part of the track below the wiper at half the way, for a logarithmic taper (common practice, no source). */
const LOG_MIDDLE = 0.1

/** What stays of the track at either end, so that the wiper never meets a pin. */
const END_PART = 1e-6

/**
 * Part of the track between pin a and the wiper.
 *
 * @param position 0 at pin a … 1 at pin b
 * @param taper 0 linear, 1 logarithmic: b^position, one tenth of the track at the middle
 */
export function trackPart(position: number, taper: number): number {
  const base = (1 / LOG_MIDDLE - 1) ** 2
  const part = taper === 1 ? (base ** position - 1) / (base - 1) : position
  return Math.min(1 - END_PART, Math.max(END_PART, part))
}

export const potentiometer: PartKind = {
  id: 'potentiometer',
  name: 'Potentiometer',
  letter: 'P',
  group: 'resist',
  words: ['pot'],
  pins: ['a', 'wiper', 'b'],
  pinPlaces: { a: [-2, 0], wiper: [0, 2], b: [2, 0] },
  symbol: {
    strokes: [...RESISTANCE, 'M0 2V.5'],
    zigzag: [...ZIGZAG, 'M0 2V.5'],
    filled: ['M0 .45L.3 1.1H-.3Z'],
    half: [2, 2],
  },
  values: [
    { id: 'resistance', name: 'Resistance', unit: 'Ω', default: 10e3, range: 'nonzero' },
    { id: 'position', name: 'Position of the wiper, 0 to 1', unit: '', default: 0.5, range: 'any' },
    { id: 'taper', name: 'Taper (0 linear, 1 logarithmic)', unit: '', default: 0, range: 'any' },
  ],
  mainValue: 'resistance',
  hand: { field: 'position', way: [0, 1] },
  sensitive: true,
  dcLinks: linked('resistance', ['a', 'wiper'], ['wiper', 'b']),
  usual: [1, 1e8],
  check: ({ position, taper }) =>
    position < 0 || position > 1
      ? { problem: `its position ${position} is outside the track`, fix: 'Give a position from 0 to 1.' }
      : taper !== 0 && taper !== 1
        ? { problem: `its taper ${taper} is not offered`, fix: 'Give 0 (linear) or 1 (logarithmic).' }
        : null,
  stamp(s, { nodes: [a, wiper, b], values: { resistance, position, taper } }) {
    const part = trackPart(position, taper)
    const [lower, upper] = [resistance * part, resistance * (1 - part)]
    stampResistance(s, a, wiper, lower)
    stampResistance(s, wiper, b, upper)
    s.current([
      [a, 1 / lower, 0],
      [wiper, -1 / lower, 0],
    ])
  },
  netlist({ resistance, position, taper }) {
    const part = trackPart(position, taper)
    return [
      { letter: 'R', suffix: 'a', pins: ['a', 'wiper'], value: resistance * part },
      { letter: 'R', suffix: 'b', pins: ['wiper', 'b'], value: resistance * (1 - part) },
    ]
  },
}
