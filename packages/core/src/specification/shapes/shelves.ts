import { circleRoots } from '../../numeric/roots.js'
import { frequencyField, type Shape, type ShapeField } from './Shape.js'

type Shelf = {
  corner: number
  boost: number
  order: number
}

const fields: readonly ShapeField[] = [
  frequencyField('corner', 'Corner', 1000),
  { id: 'boost', name: 'Boost', kind: 'quantity', unit: 'dB', default: 6, least: -60, most: 60 },
  { id: 'order', name: 'Order', kind: 'quantity', unit: '', default: 1, least: 1, most: 10, whole: true },
]

const source = 'S. J. Orfanidis, J. Audio Eng. Soc. 53, 2005, 1026–1046 (from memory): poles and zeros on two circles'

const marks = ({ corner }: Shelf) => [corner, corner / 4, corner * 4]

/** Zeros and poles on two circles around the corner, as far from it as makes half of the boost (in dB) come there. */
function circles({ corner, boost, order }: Shelf) {
  const w = 2 * Math.PI * corner
  const apart = 10 ** (boost / (40 * order))
  return { outer: circleRoots(order, w * apart), inner: circleRoots(order, w / apart) }
}

/** Raises or lowers everything below its corner. */
export const lowShelf: Shape<Shelf> = {
  id: 'low-shelf',
  name: 'low-shelf',
  character: 'Raises or lowers everything below its corner; at the corner half of the boost, in dB, has come.',
  source,
  formulas: ['zeros on a circle of ω·g^(1/2n), poles on one of ω/g^(1/2n), angles of Butterworth; g = 10^(boost/20)'],
  fields,
  transfer(shelf) {
    const { outer, inner } = circles(shelf)
    return { zeros: outer, poles: inner, gain: 1 }
  },
  marks,
}

/** Raises or lowers everything above its corner. */
export const highShelf: Shape<Shelf> = {
  id: 'high-shelf',
  name: 'high-shelf',
  character: 'Raises or lowers everything above its corner; at the corner half of the boost, in dB, has come.',
  source,
  formulas: ['g times: zeros on a circle of ω/g^(1/2n), poles on one of ω·g^(1/2n); g = 10^(boost/20)'],
  fields,
  transfer(shelf) {
    const { outer, inner } = circles(shelf)
    return { zeros: inner, poles: outer, gain: 10 ** (shelf.boost / 20) }
  },
  marks,
}
