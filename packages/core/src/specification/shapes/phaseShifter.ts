import { complex } from '../../numeric/complex.js'
import { frequencyField, type Shape } from './Shape.js'

/** Lag that one first-order section is given at the most, where the order is left open, °. */
const MOST_LAG = 150

type Shift = {
  frequency: number
  lag: number
  order?: number
}

const orderOf = ({ lag, order }: Shift) => order ?? Math.max(1, Math.ceil(lag / MOST_LAG))

/** Equal first-order all-pass sections (a − s)/(a + s), each turning the phase by −2·atan(ω/a). */
export const phaseShifter: Shape<Shift> = {
  id: 'phase-shifter',
  name: 'phase-shifting',
  character: 'Lets every frequency pass alike and turns the phase to a wanted lag at one.',
  source: 'common practice, no source',
  formulas: ['H = ((a − s)/(a + s))ⁿ, a = ω/tan(lag/2n)'],
  turnsPhase: true,
  fields: [
    frequencyField('frequency', 'At', 1000),
    { id: 'lag', name: 'Phase lag', kind: 'quantity', unit: '°', default: 90, above: 0, most: 1800 },
    {
      id: 'order',
      name: 'Order',
      kind: 'quantity',
      unit: '',
      default: 1,
      least: 1,
      most: 20,
      whole: true,
      optional: true,
      empty: 'as the lag needs',
    },
  ],
  problem: ({ lag, order }) =>
    order !== undefined && lag >= 180 * order
      ? {
          field: 'order',
          problem: `An all-pass of order ${order} turns the phase by less than ${180 * order}°, not by ${lag}°.`,
          fix: `Take order ${Math.floor(lag / 180) + 1} or more, or leave the order open.`,
        }
      : null,
  transfer(shift) {
    const order = orderOf(shift)
    const a = (2 * Math.PI * shift.frequency) / Math.tan((shift.lag * Math.PI) / (360 * order))
    const roots = (re: number) => Array.from({ length: order }, () => complex(re))
    return { poles: roots(-a), zeros: roots(a), gain: (-1) ** order }
  },
  marks: ({ frequency }) => [frequency, frequency / 4, frequency * 4],
}
