import { BOLTZMANN, thermalVoltage } from './constants.js'
import {
  BD,
  BS,
  CHANNEL,
  CONTROLS,
  GATE_BULK,
  GATE_DRAIN,
  GATE_SOURCE,
  GD,
  GS,
  type MosChannel,
  type MosModel,
} from './mosChannel.js'

/** One end of the channel: what would flow from it alone, and the charge there, both normalised, with their slopes by y. */
interface End {
  i: number
  di: number
  q: number
  dq: number
}

/** The end whose pinch-off voltage is y·kT/q above its own: i = ln²(1 + e^(y/2)), and q the root of q² + q = i. */
function endAt(y: number, into: End): void {
  const e = Math.exp(-Math.abs(y) / 2)
  // Neither form loses digits on its side of 0, nor overflows.
  const l = y > 0 ? y / 2 + Math.log1p(e) : Math.log1p(e)
  const slope = y > 0 ? 1 / (1 + e) : e / (1 + e)
  const i = l * l
  const x = Math.sqrt(0.25 + i)
  into.i = i
  into.di = l * slope
  into.q = i / (x + 0.5)
  into.dq = (l * slope) / (2 * x)
}

/**
 * The charge that belongs to the end with p of a channel from p to q, in units of N·Cox·kT/q, and its slopes by both
 * (D. E. Ward, R. W. Dutton, IEEE J. Solid-State Circuits SC-13, 1978, 703–708, in the form of the source below, written so
 * that nothing cancels in weak inversion).
 */
function shareOf(p: number, q: number, into: Share): void {
  const s = 1 + p + q
  const s2 = s * s
  const cubes = (4 / 15) * (3 * p * p * p + 6 * p * p * q + 4 * p * q * q + 2 * q * q * q)
  const d = (2 / 3) * p + q / 3 + 1.5 * p * p + (5 / 3) * p * q + (5 / 6) * q * q + cubes
  const dp = 2 / 3 + 3 * p + (5 / 3) * q + (4 / 15) * (9 * p * p + 12 * p * q + 4 * q * q)
  const dq = 1 / 3 + (5 / 3) * (p + q) + (4 / 15) * (6 * p * p + 8 * p * q + 6 * q * q)
  into.value = d / s2
  into.dp = dp / s2 - (2 * d) / (s2 * s)
  into.dq = dq / s2 - (2 * d) / (s2 * s)
}

interface Share {
  value: number
  dp: number
  dq: number
}

/** All of the channel's charge, in the same units. */
const wholeCharge = (p: number, q: number): number => (p + q + (4 / 3) * (p * p + p * q + q * q)) / (1 + p + q)

/** Inversion coefficients at which weak inversion ends and strong inversion begins (as the source below has them). */
const WEAK = 0.1
const STRONG = 10

/**
 * The channel from weak to strong inversion, by the charge at its two ends: source and drain are the same to it, and current
 * and charges are smooth everywhere. Beneath the channel the oxide is seen through the depletion layer, (N − 1)/N of it, also
 * where the surface would accumulate. The body effect is that of N; GAMMA and PHI have no part in it.
 *
 * Source: C. C. Enz, F. Krummenacher, E. A. Vittoz, Analog Integrated Circuits and Signal Processing 8, 1995, 83–114.
 *
 * @param polarity 1 for n, −1 for p
 */
export function chargeLaw(model: MosModel, polarity: 1 | -1, temperature: number): MosChannel {
  const { slopeFactor: n, beta, vto, lambda, cox } = model
  const vt = thermalVoltage(temperature)
  const specific = 2 * n * beta * vt * vt
  // Places of their own, so that an evaluation allocates nothing.
  const [source, drain]: End[] = [
    { i: 0, di: 0, q: 0, dq: 0 },
    { i: 0, di: 0, q: 0, dq: 0 },
  ]
  const [atSource, atDrain]: Share[] = [
    { value: 0, dp: 0, dq: 0 },
    { value: 0, dp: 0, dq: 0 },
  ]
  /** y of an end, from the gate's and the bulk's voltage against it. */
  const above = (gate: number, bulk: number) => ((polarity * (gate - bulk) - vto) / n + polarity * bulk) / vt
  const solve = (u: Float64Array) => {
    endAt(above(u[GS], u[BS]), source)
    endAt(above(u[GD], u[BD]), drain)
  }
  return {
    evaluate(u, s) {
      solve(u)
      const across = polarity * (u[GS] - u[GD])
      const early = 1 + lambda * Math.abs(across)
      const core = specific * (source.i - drain.i)
      const lengthening = lambda * Math.sign(across) * core
      const [forth, back] = [(specific * early * source.di) / vt, (specific * early * drain.di) / vt]
      const c = CHANNEL * CONTROLS
      s.current[CHANNEL] = polarity * core * early
      s.conductance[c + GS] = forth / n + lengthening
      s.conductance[c + BS] = forth * (1 - 1 / n)
      s.conductance[c + GD] = -back / n - lengthening
      s.conductance[c + BD] = -back * (1 - 1 / n)
      if (cox === 0) return
      shareOf(source.q, drain.q, atSource)
      shareOf(drain.q, source.q, atDrain)
      // In volts: by how much each end's charge moves with its own y.
      const [ds, dd] = [source.dq / vt, drain.dq / vt]
      const unit = n * cox * vt
      const place = (flow: number, charge: number, bySource: number, byDrain: number) => {
        s.charge[flow] += polarity * charge
        const e = flow * CONTROLS
        s.capacitance[e + GS] += bySource / n
        s.capacitance[e + BS] += bySource * (1 - 1 / n)
        s.capacitance[e + GD] += byDrain / n
        s.capacitance[e + BD] += byDrain * (1 - 1 / n)
      }
      place(GATE_SOURCE, unit * atSource.value, unit * atSource.dp * ds, unit * atSource.dq * dd)
      place(GATE_DRAIN, unit * atDrain.value, unit * atDrain.dq * ds, unit * atDrain.dp * dd)
      const beneath = -(1 - 1 / n)
      place(
        GATE_BULK,
        beneath * unit * (atSource.value + atDrain.value),
        beneath * unit * (atSource.dp + atDrain.dq) * ds,
        beneath * unit * (atSource.dq + atDrain.dp) * dd,
      )
      // The depletion layer: its charge follows the pinch-off voltage.
      const layer = cox * (1 - 1 / n)
      s.charge[GATE_BULK] += layer * (u[GS] - u[BS] - polarity * vto)
      s.capacitance[GATE_BULK * CONTROLS + GS] += layer
      s.capacitance[GATE_BULK * CONTROLS + BS] -= layer
    },
    // 4kT·μ·|Q|/L²: 2q·I in weak inversion, and 4kT·2/3·gm·n where the saturated channel is strong.
    noise(u) {
      solve(u)
      return 4 * BOLTZMANN * temperature * beta * n * vt * wholeCharge(source.q, drain.q)
    },
    read(u) {
      solve(u)
      const forward = polarity * u[GS] >= polarity * u[GD]
      const [near, far, bulk] = forward ? [source, drain, u[BS]] : [drain, source, u[BD]]
      const across = Math.abs(u[GS] - u[GD])
      const early = 1 + lambda * across
      const slope = (end: End) => (specific * early * end.di) / vt
      const vdsat = vt * (2 * Math.sqrt(near.i) + 4)
      return {
        region: across < vdsat ? 'triode' : 'saturation',
        vth: vto - (n - 1) * polarity * bulk,
        vdsat,
        gm: (slope(near) - slope(far)) / n,
        gds: slope(far) + lambda * specific * (near.i - far.i),
        gmb: (slope(near) - slope(far)) * (1 - 1 / n),
        own: {
          inversion: near.i < WEAK ? 'weak' : near.i > STRONG ? 'strong' : 'moderate',
          ic: near.i,
        },
      }
    },
    doubt: () => null,
  }
}
