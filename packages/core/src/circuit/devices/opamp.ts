import { type Device, type DeviceState, GROUND } from '../parts/PartKind.js'

/** Conductance, S, that holds the stage between the output's limits; the most current there is moves it by millivolts. */
const HOLD = 1e3

/** Width, V, of the bend into a limit. */
const BEND = 2e-3

// Controls and flows by place.
const INPUT = 0
const STAGE = 1
const DRIVE = 0
const LIMIT = 1
const BIAS_PLUS = 2
const BIAS_MINUS = 3

/** ln(1 + e^x), and its derivative. */
function softplus(x: number): { value: number; slope: number } {
  if (x > 0) return { value: x + Math.log1p(Math.exp(-x)), slope: 1 / (1 + Math.exp(-x)) }
  const e = Math.exp(x)
  return { value: Math.log1p(e), slope: e / (1 + e) }
}

/**
 * The first stage of an operational amplifier: a transconductance of 1 S whose current tends to ±slew·C1 by a hyperbolic
 * tangent, into a net that is held between the output's limits; input offset, what it rests at, and bias. What is linear besides (gain,
 * poles) is stamped by the part.
 *
 * Source: G. R. Boyle, B. M. Cohn, D. O. Pederson, J. E. Solomon, IEEE J. Solid-State Circuits SC-9, 1974, 353–364, for
 * the idea of a current-limited first stage into the dominant capacitance (from memory); the smooth limits are our own.
 *
 * @param values of the part `opamp`
 */
export function operationalAmplifier(
  values: Readonly<Record<string, number>>,
  plus: number,
  minus: number,
  stage: number,
): Device {
  const { slewRate, gainBandwidth, outputHigh, outputLow, offset, resting, biasCurrent, biasOffset } = values
  // Behind the limited stage: what it rests at takes nothing of what it can drive.
  const held = resting / values.gain
  const most = slewRate > 0 ? slewRate / (2 * Math.PI * gainBandwidth) : Infinity
  const limited = outputHigh !== outputLow
  const takeBias = ({ current }: DeviceState) => {
    current[BIAS_PLUS] = biasCurrent + biasOffset / 2
    current[BIAS_MINUS] = biasCurrent - biasOffset / 2
  }
  return {
    controls: [
      [plus, minus],
      [stage, GROUND],
    ],
    flows: [
      [stage, GROUND],
      [stage, GROUND],
      [plus, GROUND],
      [minus, GROUND],
    ],
    couplings: { current: [[DRIVE, INPUT], ...(limited ? [[LIMIT, STAGE] as const] : [])], charge: [] },
    junctions: [],
    evaluate(u, s) {
      const wanted = u[INPUT] + offset
      const bent = most < Infinity ? Math.tanh(wanted / most) : 0
      s.current[DRIVE] = (most < Infinity ? -most * bent : -wanted) - held
      s.conductance[2 * DRIVE + INPUT] = bent * bent - 1
      if (limited) {
        const above = softplus((u[STAGE] - outputHigh) / BEND)
        const below = softplus((outputLow - u[STAGE]) / BEND)
        s.current[LIMIT] = HOLD * BEND * (above.value - below.value)
        s.conductance[2 * LIMIT + STAGE] = HOLD * (above.slope + below.slope)
      }
      takeBias(s)
    },
    ...((limited || most < Infinity) && {
      evaluateUnbounded(u, s) {
        s.current[DRIVE] = -(u[INPUT] + offset) - held
        s.conductance[2 * DRIVE + INPUT] = -1
        s.current[LIMIT] = s.conductance[2 * LIMIT + STAGE] = 0
        takeBias(s)
      },
    }),
    // A jump from one saturated end to the other stops in the middle, where the amplifier amplifies.
    limit(u, last) {
      const [wanted, before] = [u[INPUT] + offset, last[INPUT] + offset]
      if (!(Math.abs(wanted) > 2 * most && Math.abs(before) > most && wanted * before < 0)) return false
      u[INPUT] = -offset
      return true
    },
    noise: () => [],
    describe(u, s) {
      const drive = Math.abs(s.current[DRIVE] + held)
      const v = u[STAGE]
      const nearest = limited ? Math.min(outputHigh - v, v - outputLow) : Infinity
      const region =
        nearest < 10 * BEND
          ? outputHigh - v < v - outputLow
            ? 'high limit'
            : 'low limit'
          : drive > most / 2
            ? 'slewing'
            : 'linear'
      return { region, vin: u[INPUT] + offset, gm: -s.conductance[2 * DRIVE + INPUT] }
    },
  }
}
