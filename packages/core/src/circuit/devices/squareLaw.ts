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

/** Channel current and its derivatives by vgs, vds, vbs. */
interface Channel {
  i: number
  gm: number
  gds: number
  gmb: number
  vth: number
  /** ∂vth/∂vbs */
  slope: number
  vgst: number
}

const newChannel = (): Channel => ({ i: 0, gm: 0, gds: 0, gmb: 0, vth: 0, slope: 0, vgst: 0 })

/** The threshold at a bulk bias, V, and its slope. */
function threshold(m: MosModel, vbs: number): { vth: number; slope: number } {
  // Beyond forward bias the root goes on as its tangent.
  const flat = Math.sqrt(m.phi)
  const root = vbs <= 0 ? Math.sqrt(m.phi - vbs) : Math.max(0, flat - vbs / (2 * flat))
  const slope = vbs <= 0 ? -m.gamma / (2 * root) : root > 0 ? -m.gamma / (2 * flat) : 0
  return { vth: m.vto + m.gamma * (root - flat), slope }
}

/** Works the channel out for vds ≥ 0, into the caller's place. */
function channel(m: MosModel, vgs: number, vds: number, vbs: number, into: Channel): Channel {
  const { vth, slope } = threshold(m, vbs)
  into.slope = slope
  into.vth = vth
  const vgst = (into.vgst = vgs - into.vth)
  if (vgst <= 0) {
    into.i = into.gm = into.gds = into.gmb = 0
    return into
  }
  const early = 1 + m.lambda * vds
  const triode = vds < vgst
  const shape = triode ? vds * (vgst - vds / 2) : (vgst * vgst) / 2
  into.i = m.beta * early * shape
  into.gm = m.beta * early * (triode ? vds : vgst)
  into.gds = m.beta * ((triode ? early * (vgst - vds) : 0) + m.lambda * shape)
  into.gmb = -into.gm * into.slope
  return into
}

/**
 * Channel charge, split between source and drain, by the two gate overdrives a of vgs and b of vgd (`onset`), neither
 * below 0 and a ≥ b: together the gate charge of the long channel, 2/3·Cox·(a² + ab + b²)/(a + b). The split
 * a²(a + 2b)/(a + b)² against b²(2a + b)/(a + b)² is symmetric, smooth into saturation (where the drain keeps none)
 * and conserves charge. Its derivatives by vgs and vgd sum to the capacitances of J. E. Meyer, RCA Review 32, 1971, 42–63.
 */
function channelCharge(cox: number, a: number, b: number) {
  const k = (2 / 3) * cox
  const sum = a + b
  if (sum <= 0) return { qs: 0, qd: 0, sa: 0, sb: 0, da: 0, db: 0 }
  const s2 = sum * sum
  const s3 = s2 * sum
  return {
    qs: (k * a * a * (a + 2 * b)) / s2,
    qd: (k * b * b * (2 * a + b)) / s2,
    sa: (k * a * (a * a + 3 * a * b + 4 * b * b)) / s3,
    sb: (-2 * k * a * a * b) / s3,
    da: (-2 * k * b * b * a) / s3,
    db: (k * b * (b * b + 3 * a * b + 4 * a * a)) / s3,
  }
}

/** Below threshold the gate looks at the bulk: its charge grows from the whole oxide in accumulation to none at threshold. */
function bulkCharge({ cox, phi }: MosModel, vgst: number): { q: number; c: number } {
  if (vgst >= 0) return { q: 0, c: 0 }
  if (vgst < -phi) return { q: cox * (vgst + phi / 2), c: cox }
  return { q: (-cox * vgst * vgst) / (2 * phi), c: (-cox * vgst) / phi }
}

/** V to either side of threshold within which the channel takes the gate's charge over. */
const ONSET = 0.1

/** The greater of two voltages, with a parabola where they change places, and its slopes by both. */
function smoothMaximum(x: number, y: number): { v: number; dx: number; dy: number } {
  const apart = x - y
  if (Math.abs(apart) >= ONSET) return apart > 0 ? { v: x, dx: 1, dy: 0 } : { v: y, dx: 0, dy: 1 }
  const dx = 0.5 + apart / (2 * ONSET)
  return { v: Math.max(x, y) + (ONSET - Math.abs(apart)) ** 2 / (4 * ONSET), dx, dy: 1 - dx }
}

/**
 * The overdrive that the channel's charge follows, and its slope: that of the current but for a parabola around threshold,
 * so that capacitances do not jump there. With a jump the currents through an ideal source would jump in time, which no
 * step is small enough for.
 */
function onset(vgst: number): { v: number; d: number } {
  if (vgst >= ONSET) return { v: vgst, d: 1 }
  if (vgst <= -ONSET) return { v: 0, d: 0 }
  const into = vgst + ONSET
  return { v: (into * into) / (4 * ONSET), d: into / (2 * ONSET) }
}

/**
 * The square law of the channel in strong inversion; drain and source change places where the voltage between them is turned
 * over.
 *
 * Source: H. Shichman, D. A. Hodges, IEEE J. Solid-State Circuits SC-3, 1968, 285–289.
 *
 * @param polarity 1 for n, −1 for p
 */
export function squareLaw(model: MosModel, polarity: 1 | -1, temperature: number): MosChannel {
  // One place for the channel's values, so that an evaluation allocates nothing.
  const at = newChannel()
  const channelAt = (u: Float64Array) => {
    const forward = polarity * u[GS] >= polarity * u[GD]
    const [own, other, body] = forward ? [GS, GD, BS] : [GD, GS, BD]
    return channel(model, polarity * u[own], polarity * (u[own] - u[other]), polarity * u[body], newChannel())
  }
  return {
    evaluate(u, s) {
      const vgs = polarity * u[GS]
      const vgd = polarity * u[GD]
      const vbs = polarity * u[BS]
      const vbd = polarity * u[BD]
      const forward = vgs >= vgd
      const near = forward ? vgs : vgd
      const far = forward ? vgd : vgs
      const own = forward ? GS : GD
      const other = forward ? GD : GS
      const body = forward ? BS : BD
      const sign = forward ? 1 : -1
      channel(model, near, near - far, forward ? vbs : vbd, at)
      s.current[CHANNEL] = polarity * sign * at.i
      // vds is the difference of the two gate voltages.
      s.conductance[CHANNEL * CONTROLS + own] = sign * (at.gm + at.gds)
      s.conductance[CHANNEL * CONTROLS + other] = -sign * at.gds
      s.conductance[CHANNEL * CONTROLS + body] = sign * at.gmb
      s.conductance[CHANNEL * CONTROLS + (forward ? BD : BS)] = 0

      if (model.cox > 0) {
        const slope = at.slope
        const a = onset(at.vgst)
        const b = onset(at.vgst - (near - far))
        const q = channelCharge(model.cox, a.v, b.v)
        const place = (flow: number, charge: number, da: number, db: number) => {
          s.charge[flow] += polarity * charge
          s.capacitance[flow * CONTROLS + own] += da
          s.capacitance[flow * CONTROLS + other] += db
          s.capacitance[flow * CONTROLS + body] -= (da + db) * slope
        }
        place(forward ? GATE_SOURCE : GATE_DRAIN, q.qs, q.sa * a.d, q.sb * b.d)
        place(forward ? GATE_DRAIN : GATE_SOURCE, q.qd, q.da * a.d, q.db * b.d)
        // Beneath the channel the gate sees the bulk from the end that is nearer to conducting.
        const ends = [
          { v: vgs, body: vbs, gate: GS, bulk: BS },
          { v: vgd, body: vbd, gate: GD, bulk: BD },
        ].map((end) => ({ ...end, ...threshold(model, end.body) }))
        const [x, y] = ends.map((end) => end.v - end.vth)
        const higher = smoothMaximum(x, y)
        const beneath = bulkCharge(model, higher.v)
        s.charge[GATE_BULK] += polarity * beneath.q
        ends.forEach(({ gate, bulk, slope }, k) => {
          const c = beneath.c * (k === 0 ? higher.dx : higher.dy)
          s.capacitance[GATE_BULK * CONTROLS + gate] += c
          s.capacitance[GATE_BULK * CONTROLS + bulk] -= c * slope
        })
      }
    },
    // 4kT·2/3·gm of the saturated long channel (common practice, no source).
    noise: (u) => (8 / 3) * BOLTZMANN * temperature * channelAt(u).gm,
    read(u) {
      const c = channelAt(u)
      const across = Math.abs(u[GS] - u[GD])
      return {
        region: c.vgst <= 0 ? 'cutoff' : across < c.vgst ? 'triode' : 'saturation',
        vth: c.vth,
        vdsat: Math.max(0, c.vgst),
        gm: c.gm,
        gds: c.gds,
        gmb: c.gmb,
      }
    },
    // Diffusion sets the bound: no barrier passes more than e-fold current a kT/q (common practice, no source).
    doubt(u, current) {
      const { gm } = channelAt(u)
      const vt = thermalVoltage(temperature)
      if (!(gm * vt > current) || current === 0) return null
      const [has, most] = [gm / current, 1 / vt].map((ratio) => Number(ratio.toPrecision(3)))
      return `gm/I comes out as ${has}/V where physics allows at most q/kT = ${most}/V; it is below strong inversion, where this model does not hold, and what rests on it is wrong. A model with a slope factor N holds there.`
    },
  }
}
