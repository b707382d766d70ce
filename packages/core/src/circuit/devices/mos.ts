import type { Device, DeviceState } from '../parts/PartKind.js'
import { BOLTZMANN, NOMINAL_TEMPERATURE, OXIDE_PERMITTIVITY, thermalVoltage } from './constants.js'
import {
  criticalVoltage,
  type Depletion,
  depletion,
  exponential,
  type Flicker,
  flickerOf,
  LEAST_EXPONENT,
  limitJunction,
  saturationFactor,
} from './junction.js'

export interface MosModel {
  /** Threshold at zero bulk bias, V, positive for an enhancement device of either type. */
  readonly vto: number
  /** KP·W/Leff, A/V². */
  readonly beta: number
  readonly gamma: number
  readonly phi: number
  readonly lambda: number
  /** Oxide capacitance over the channel, F; 0 where no oxide thickness is given. */
  readonly cox: number
  /** Overlap capacitances, F. */
  readonly cgs: number
  readonly cgd: number
  readonly cgb: number
  readonly is: number
  readonly drain: Depletion
  readonly source: Depletion
  readonly drainSide: Depletion
  readonly sourceSide: Depletion
  /** Over the channel's length squared and the oxide's capacitance. */
  readonly flicker: Flicker
}

/** The model of a MOS transistor, from its parameters by name; polarity 1 for n, −1 for p. */
export function mosModel(p: Readonly<Record<string, number>>, polarity: 1 | -1, temperature: number): MosModel {
  const length = p.l - 2 * p.ld
  const oxide = p.tox > 0 ? OXIDE_PERMITTIVITY / p.tox : 0
  const kp = p.kp > 0 ? p.kp : oxide > 0 ? p.uo * 1e-4 * oxide : DEFAULT_KP
  const bottom = (given: number, area: number): Depletion => ({
    cj0: given > 0 ? given : p.cj * area,
    vj: p.pb,
    m: p.mj,
    fc: p.fc,
  })
  const side = (perimeter: number): Depletion => ({ cj0: p.cjsw * perimeter, vj: p.pb, m: p.mjsw, fc: p.fc })
  return {
    vto: polarity * p.vto,
    // Mobility falls with temperature by its 3/2 power.
    beta: (p.m * kp * (p.w / length)) / (temperature / NOMINAL_TEMPERATURE) ** 1.5,
    gamma: p.gamma,
    phi: p.phi,
    lambda: p.lambda,
    cox: p.m * oxide * p.w * length,
    cgs: p.m * p.cgso * p.w,
    cgd: p.m * p.cgdo * p.w,
    cgb: p.m * p.cgbo * length,
    is: p.m * p.is * saturationFactor(temperature, 1.11, 3, 1),
    drain: bottom(p.m * p.cbd, p.m * p.ad),
    source: bottom(p.m * p.cbs, p.m * p.as),
    drainSide: side(p.m * p.pd),
    sourceSide: side(p.m * p.ps),
    // m transistors side by side carry m times the current and make m times one's power.
    flicker: { kf: (p.kf * p.m ** (1 - p.af)) / ((oxide || OXIDE_PERMITTIVITY / USUAL_OXIDE) * length ** 2), af: p.af },
  }
}

/** Oxide thickness, m, where flicker needs one and none is given (common practice, no source). */
const USUAL_OXIDE = 1e-7

/** A/V², where a model gives neither KP nor an oxide thickness (common practice, no source). */
const DEFAULT_KP = 2e-5

// Controls and flows by place.
const GS = 0
const GD = 1
const BS = 2
const BD = 3
const CONTROLS = 4
const CHANNEL = 0
const GATE_SOURCE = 1
const GATE_DRAIN = 2
const GATE_BULK = 3
const BULK_SOURCE = 4
const BULK_DRAIN = 5

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
 * A MOS transistor of level 1 between inner nets, polarity 1 for n, −1 for p; drain and source change places where the
 * voltage between them is turned over.
 *
 * Source: H. Shichman, D. A. Hodges, IEEE J. Solid-State Circuits SC-3, 1968, 285–289.
 */
export function mos(
  model: MosModel,
  polarity: 1 | -1,
  [drain, gate, source, bulk]: readonly [number, number, number, number],
  temperature = NOMINAL_TEMPERATURE,
): Device {
  const vt = thermalVoltage(temperature)
  const critical = criticalVoltage(model.is, vt)
  const blocked = LEAST_EXPONENT * vt

  /** Adds a capacitance between the nets of one control to the flow that runs between them. */
  const overlap = (s: DeviceState, flow: number, control: number, c: number, u: Float64Array) => {
    s.charge[flow] += c * u[control]
    s.capacitance[flow * CONTROLS + control] += c
  }

  const bulkJunction = (
    s: DeviceState,
    flow: number,
    control: number,
    v: number,
    bottom: Depletion,
    side: Depletion,
  ) => {
    const e = flow * CONTROLS + control
    if (v < blocked) {
      s.current[flow] = -polarity * model.is
      s.conductance[e] = 0
    } else {
      const { i, g } = exponential(model.is, v, vt)
      s.current[flow] = polarity * i
      s.conductance[e] = g
    }
    if (bottom.cj0 + side.cj0 === 0) return
    const [b, w] = [depletion(bottom, v), depletion(side, v)]
    s.charge[flow] = polarity * (b.q + w.q)
    s.capacitance[e] = b.c + w.c
  }
  const stores =
    model.cox > 0 ||
    [model.cgs, model.cgd, model.cgb, model.drain.cj0, model.source.cj0].some((c) => c > 0) ||
    model.drainSide.cj0 + model.sourceSide.cj0 > 0
  // One place for the channel's values, so that an evaluation allocates nothing.
  const at = newChannel()

  return {
    controls: [
      [gate, source],
      [gate, drain],
      [bulk, source],
      [bulk, drain],
    ],
    flows: [
      [drain, source],
      [gate, source],
      [gate, drain],
      [gate, bulk],
      [bulk, source],
      [bulk, drain],
    ],
    couplings: {
      current: [...every(CHANNEL), [BULK_SOURCE, BS], [BULK_DRAIN, BD]],
      charge: [
        ...(model.cox > 0 ? [GATE_SOURCE, GATE_DRAIN, GATE_BULK].flatMap(every) : overlaps(model)),
        ...(model.source.cj0 + model.sourceSide.cj0 > 0 ? [[BULK_SOURCE, BS] as const] : []),
        ...(model.drain.cj0 + model.drainSide.cj0 > 0 ? [[BULK_DRAIN, BD] as const] : []),
      ],
    },
    junctions: [
      [BULK_SOURCE, BS],
      [BULK_DRAIN, BD],
    ],
    evaluate(u, s) {
      // What has no coupling stays zero from the begin; the channel and the junctions are written whole below.
      if (stores) {
        s.charge.fill(0)
        s.capacitance.fill(0)
      }
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
      if (model.cgs > 0) overlap(s, GATE_SOURCE, GS, model.cgs, u)
      if (model.cgd > 0) overlap(s, GATE_DRAIN, GD, model.cgd, u)
      if (model.cgb > 0) {
        // The gate–bulk voltage is the difference of two controls.
        overlap(s, GATE_BULK, GS, model.cgb, u)
        overlap(s, GATE_BULK, BS, -model.cgb, u)
      }
      bulkJunction(s, BULK_SOURCE, BS, vbs, model.source, model.sourceSide)
      bulkJunction(s, BULK_DRAIN, BD, vbd, model.drain, model.drainSide)
    },
    limit(u, last) {
      let changed = false
      for (let k = GS; k <= GD; k++) {
        const most = LARGEST_GATE_STEP + Math.abs(last[k])
        if (Math.abs(u[k] - last[k]) <= most) continue
        u[k] = last[k] + Math.sign(u[k] - last[k]) * most
        changed = true
      }
      for (let k = BS; k <= BD; k++) {
        const wanted = polarity * u[k]
        if (wanted <= critical) continue
        const taken = limitJunction(wanted, polarity * last[k], vt, critical)
        if (taken === wanted) continue
        u[k] = polarity * taken
        changed = true
      }
      return changed
    },
    // Channel noise 4kT·2/3·gm of the saturated long channel (common practice, no source).
    noise(u, s) {
      const forward = polarity * u[GS] >= polarity * u[GD]
      const [own, other, body] = forward ? [GS, GD, BS] : [GD, GS, BD]
      const { gm } = channel(model, polarity * u[own], polarity * (u[own] - u[other]), polarity * u[body], newChannel())
      const flicker = flickerOf(model.flicker, s.current[CHANNEL])
      return [[drain, source, (8 / 3) * BOLTZMANN * temperature * gm, flicker]]
    },
    // Diffusion sets the bound: no barrier passes more than e-fold current a kT/q (common practice, no source).
    doubt(u, s) {
      const current = Math.abs(s.current[CHANNEL])
      const forward = polarity * u[GS] >= polarity * u[GD]
      const [own, other, body] = forward ? [GS, GD, BS] : [GD, GS, BD]
      const { gm } = channel(model, polarity * u[own], polarity * (u[own] - u[other]), polarity * u[body], newChannel())
      if (!(gm * vt > current) || current === 0) return null
      const [has, most] = [gm / current, 1 / vt].map((ratio) => Number(ratio.toPrecision(3)))
      return `gm/I comes out as ${has}/V where physics allows at most q/kT = ${most}/V; it is below strong inversion, where this model does not hold, and what rests on it is wrong.`
    },
    describe(u, s) {
      const [vgs, vgd, vbs, vbd] = [polarity * u[GS], polarity * u[GD], polarity * u[BS], polarity * u[BD]]
      const forward = vgs >= vgd
      const [near, far, body] = forward ? [vgs, vgd, vbs] : [vgd, vgs, vbd]
      const c = channel(model, near, near - far, body, newChannel())
      const cap = (flow: number, control: number) => s.capacitance[flow * CONTROLS + control]
      const region = c.vgst <= 0 ? 'cutoff' : near - far < c.vgst ? 'triode' : 'saturation'
      return {
        region,
        id: s.current[CHANNEL],
        vgs: u[GS],
        vds: u[GS] - u[GD],
        vbs: u[BS],
        vth: polarity * c.vth,
        vdsat: polarity * Math.max(0, c.vgst),
        gm: c.gm,
        gds: c.gds,
        gmb: c.gmb,
        // What the gate's whole charge does as one voltage moves.
        cgs: cap(GATE_SOURCE, GS) + cap(GATE_DRAIN, GS),
        cgd: cap(GATE_SOURCE, GD) + cap(GATE_DRAIN, GD),
        cgb: cap(GATE_BULK, GS) + cap(GATE_BULK, GD),
        cbs: cap(BULK_SOURCE, BS),
        cbd: cap(BULK_DRAIN, BD),
      }
    },
  }
}

/** A flow with each control. */
const every = (flow: number): (readonly [number, number])[] =>
  [GS, GD, BS, BD].map((control) => [flow, control] as const)

/** The charges of overlaps alone. */
const overlaps = (m: MosModel): (readonly [number, number])[] => [
  ...(m.cgs > 0 ? [[GATE_SOURCE, GS] as const] : []),
  ...(m.cgd > 0 ? [[GATE_DRAIN, GD] as const] : []),
  ...(m.cgb > 0 ? [[GATE_BULK, GS] as const, [GATE_BULK, BS] as const] : []),
]

/** V by which a gate voltage may move in an iteration, besides its own size. */
const LARGEST_GATE_STEP = 1
