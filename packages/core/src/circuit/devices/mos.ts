import type { Device, DeviceState } from '../parts/PartKind.js'
import { chargeLaw } from './chargeLaw.js'
import { NOMINAL_TEMPERATURE, OXIDE_PERMITTIVITY, thermalVoltage } from './constants.js'
import {
  criticalVoltage,
  type Depletion,
  depletion,
  exponential,
  flickerOf,
  LEAST_EXPONENT,
  limitJunction,
  saturationFactor,
} from './junction.js'
import {
  BD,
  BS,
  BULK_DRAIN,
  BULK_SOURCE,
  CHANNEL,
  CONTROLS,
  GATE_BULK,
  GATE_DRAIN,
  GATE_SOURCE,
  GD,
  GS,
  type MosModel,
} from './mosChannel.js'
import { squareLaw } from './squareLaw.js'

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
    slopeFactor: p.n,
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

/**
 * A MOS transistor between inner nets, polarity 1 for n, −1 for p: its channel by the square law, or, where the model has a
 * slope factor, by the one that holds from weak to strong inversion; overlaps, and the bulk's junctions.
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
  const channel = (model.slopeFactor > 0 ? chargeLaw : squareLaw)(model, polarity, temperature)

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
      channel.evaluate(u, s)
      if (model.cgs > 0) overlap(s, GATE_SOURCE, GS, model.cgs, u)
      if (model.cgd > 0) overlap(s, GATE_DRAIN, GD, model.cgd, u)
      if (model.cgb > 0) {
        // The gate–bulk voltage is the difference of two controls.
        overlap(s, GATE_BULK, GS, model.cgb, u)
        overlap(s, GATE_BULK, BS, -model.cgb, u)
      }
      bulkJunction(s, BULK_SOURCE, BS, polarity * u[BS], model.source, model.sourceSide)
      bulkJunction(s, BULK_DRAIN, BD, polarity * u[BD], model.drain, model.drainSide)
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
    noise: (u, s) => [[drain, source, channel.noise(u), flickerOf(model.flicker, s.current[CHANNEL])]],
    doubt: (u, s) => channel.doubt(u, Math.abs(s.current[CHANNEL])),
    describe(u, s) {
      const { region, vth, vdsat, gm, gds, gmb, own } = channel.read(u)
      const cap = (flow: number, control: number) => s.capacitance[flow * CONTROLS + control]
      return {
        region,
        ...own,
        id: s.current[CHANNEL],
        vgs: u[GS],
        vds: u[GS] - u[GD],
        vbs: u[BS],
        vth: polarity * vth,
        vdsat: polarity * vdsat,
        gm,
        gds,
        gmb,
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
