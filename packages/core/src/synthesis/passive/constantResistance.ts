import { abs, type Complex } from '../../numeric/complex.js'
import type { TransferFunction } from '../../numeric/transferFunction.js'
import { plainPlan } from '../Plan.js'
import { topology } from '../Topology.js'
import { impossible, Line, resistanceField } from '../Line.js'
import { capacitor, coil, drawTwoPole, dual, parallel, resistor, series, sizeOf, type TwoPole } from '../twoPole.js'

/** A section H/max = 1/(1 + Z/R): the admittance of Z for R = 1 Ω, and the greatest magnitude that is taken out. */
interface Section {
  readonly bridge: TwoPole
  readonly top: number
}

/** A part this much smaller than the others is rounding. */
const ROUNDING = 1e-12

/**
 * Bridged-T sections that each look like the resistance that ends them, so that they follow each other without loading:
 * loss is shaped, and what a boost raises is what everything else loses.
 */
export const constantResistance = topology({
  id: 'constant-resistance',
  name: 'Constant-resistance sections',
  family: 'passive',
  character: 'Bridged-T equalisers in a chain, each as good as its termination: bells, dips, shelves, weightings.',
  source: 'O. J. Zobel, Bell System Technical Journal 7, 1928, 438–534 (from memory)',
  formulas: ['H/max = 1/(1 + Z/R): Z over the line, R²/Z to ground'],
  fields: [resistanceField('resistance', 'Source and load', 600)],

  plan({ ideal, realization: { resistance: r } }) {
    const found = sectionsOf(ideal.transfer)
    const top = found.reduce((product, s) => product * s.top, Math.abs(ideal.transfer.gain))
    return plainPlan((sketch) => {
      const line = new Line(sketch)
      line.resistor('RS', r)
      for (const { bridge } of found) drawSection(line, scaled(bridge, r), r)
      line.finish(r)
      return {
        circuit: sketch.circuit(`Constant-resistance sections, order ${ideal.order}`),
        referenceDb: -20 * Math.log10(2 * top),
        inverting: ideal.transfer.gain < 0,
      }
    })
  },
})

/** Values for R instead of 1 Ω. */
function scaled(pole: TwoPole, r: number): TwoPole {
  if ('series' in pole) return { series: pole.series.map((p) => scaled(p, r)) }
  if ('parallel' in pole) return { parallel: pole.parallel.map((p) => scaled(p, r)) }
  return { ...pole, value: pole.kind === 'C' ? pole.value / r : pole.value * r }
}

/**
 * Real roots two by two, a zero with the pole next to it; pairs of complex roots where the level far below and far above is
 * one.
 */
function sectionsOf({ poles, zeros }: TransferFunction): Section[] {
  if (zeros.some((z) => z.re > 0))
    throw impossible(
      'realization.family',
      'Sections of constant resistance shape loss; this response has zeros to the right of the axis.',
      'Choose the lattice or bridged-t family.',
    )
  const pairs = poles.filter((p) => p.im > 0)
  const zeroPairs = zeros.filter((z) => z.im > 0)
  if (pairs.length > 0 || zeroPairs.length > 0) return [pairOf(poles, zeros)]
  const down = (a: Complex, b: Complex) => b.re - a.re
  const rest = zeros.filter((z) => z.re < 0).sort(down)
  const atOrigin = zeros.length - rest.length
  return [...poles].sort(down).map((p, k) => {
    if (k < atOrigin) return real(-p.re, 0)
    // Of the zeros that are left the nearest.
    const nearest = rest.reduce<number>((best, z, i) => (best < 0 || ratio(z, p) < ratio(rest[best], p) ? i : best), -1)
    return real(-p.re, nearest < 0 ? Infinity : -rest.splice(nearest, 1)[0].re)
  })
}

const ratio = (z: Complex, p: Complex) => Math.abs(Math.log(z.re / p.re))

/** (s + z)/(s + p), or 1/(s + p) where z is infinite. */
function real(p: number, z: number): Section {
  if (z === Infinity) return { bridge: coil(1 / p), top: 1 / p }
  // max·(s + p) − (s + z) over s + z is Z.
  if (z > p) return { bridge: parallel(resistor(z / p - 1), coil((z / p - 1) / z)), top: z / p }
  if (z === 0) return { bridge: capacitor(1 / p), top: 1 }
  return { bridge: parallel(resistor((p - z) / z), capacitor(1 / (p - z))), top: 1 }
}

/** (s² + n·s + ω²)/(s² + d·s + ω²) */
function pairOf(poles: readonly Complex[], zeros: readonly Complex[]): Section {
  const product = (roots: readonly Complex[]) => roots.reduce((size, r) => size * abs(r), 1)
  const [below, above] = [product(poles), product(zeros)]
  if (poles.length !== 2 || zeros.length !== 2 || Math.abs(above / below - 1) > ROUNDING)
    throw impossible(
      'realization.family',
      'Of complex roots one pair of poles and one of zeros at the same frequency can be had: a bell, a dip or a notch.',
      'Choose a shelf of order 1, or an active family.',
    )
  const sum = (roots: readonly Complex[]) => -(roots[0].re + roots[1].re)
  const [d, n, w2] = [sum(poles), sum(zeros), below]
  if (n > d) {
    const boost = n / d - 1
    // Z = boost·(s² + ω²)/(s² + n·s + ω²)
    return { bridge: parallel(resistor(boost), series(coil(boost / n), capacitor(n / (boost * w2)))), top: n / d }
  }
  // Z = (d − n)·s/(s² + n·s + ω²)
  const [l, c] = [coil((d - n) / w2), capacitor(1 / (d - n))]
  return { bridge: n === 0 ? parallel(l, c) : parallel(resistor((d - n) / n), l, c), top: 1 }
}

/** R and R in the line, Z over both, R²/Z from between them to ground. */
function drawSection(line: Line, bridge: TwoPole, r: number): void {
  const { sketch } = line
  const leg = dual(bridge, r)
  const left = line.tap(2)
  const from = line.x
  line.across(resistor(r))
  const middle = line.tap(2)
  const at = line.x
  line.across(resistor(r))
  const length = sizeOf(bridge, 'across').length
  const right = line.tap(Math.max(2, from + length + 2 - line.x))
  line.hang(middle, leg, at)
  const above = -4
  const room = line.x - from
  const start = from + (room - length) / 2
  const drawn = drawTwoPole(sketch, bridge, { x: start, y: line.y + above, direction: 'across' })
  sketch.wire(left, drawn.from, [from, line.y + above])
  sketch.wire(drawn.to, right, [line.x, line.y + above])
  const beyond = at + sizeOf(leg, 'down').width - line.x
  if (beyond > 0) line.tap(beyond)
}
