import type { Device } from '../parts/PartKind.js'
import { CHARGE, NOMINAL_TEMPERATURE, thermalVoltage } from './constants.js'
import {
  criticalVoltage,
  type Depletion,
  depletion,
  exponential,
  type Flicker,
  flickerOf,
  limitJunction,
  saturationFactor,
} from './junction.js'

export interface BipolarModel {
  readonly is: number
  readonly bf: number
  readonly br: number
  readonly nf: number
  readonly nr: number
  /** Early voltages, V; Infinity for none. */
  readonly vaf: number
  readonly var: number
  /** Knee currents, A; Infinity for none. */
  readonly ikf: number
  readonly ikr: number
  readonly ise: number
  readonly ne: number
  readonly isc: number
  readonly nc: number
  readonly tf: number
  readonly tr: number
  readonly emitter: Depletion
  readonly collector: Depletion
  readonly substrate: Depletion
  readonly flicker: Flicker
}

const orInfinity = (value: number) => (value > 0 ? value : Infinity)

/** The model of a bipolar transistor at a temperature, from its parameters by name. */
export function bipolarModel(p: Readonly<Record<string, number>>, temperature: number): BipolarModel {
  const { area } = p
  const factor = (n: number) => saturationFactor(temperature, p.eg, p.xti, n)
  const beta = (temperature / NOMINAL_TEMPERATURE) ** p.xtb
  return {
    is: p.is * area * factor(1),
    bf: p.bf * beta,
    br: p.br * beta,
    nf: p.nf,
    nr: p.nr,
    vaf: orInfinity(p.vaf),
    var: orInfinity(p.var),
    ikf: orInfinity(p.ikf * area),
    ikr: orInfinity(p.ikr * area),
    ise: (p.ise * area * factor(p.ne)) / beta,
    ne: p.ne,
    isc: (p.isc * area * factor(p.nc)) / beta,
    nc: p.nc,
    tf: p.tf,
    tr: p.tr,
    emitter: { cj0: p.cje * area, vj: p.vje, m: p.mje, fc: p.fc },
    collector: { cj0: p.cjc * area, vj: p.vjc, m: p.mjc, fc: p.fc },
    substrate: { cj0: p.cjs * area, vj: p.vjs, m: p.mjs, fc: 0 },
    flicker: { kf: p.kf, af: p.af },
  }
}

/** Order of the flows: transport from collector to emitter, the two junctions, the substrate. */
const TRANSPORT = 0
const BASE_EMITTER = 1
const BASE_COLLECTOR = 2
const SUBSTRATE = 3
const CONTROLS = 3

/**
 * A bipolar transistor between inner nets, npn for polarity 1, pnp for −1.
 *
 * Source: J. J. Ebers, J. L. Moll, Proc. IRE 42, 1954, 1761–1772 (the two junctions and their transport); H. K. Gummel,
 * H. C. Poon, Bell Syst. Tech. J. 49, 1970, 827–852 (base charge: Early effect and knee).
 */
export function bipolar(
  model: BipolarModel,
  polarity: 1 | -1,
  [collector, base, emitter, substrate]: readonly [number, number, number, number],
  temperature = NOMINAL_TEMPERATURE,
): Device {
  const vt = thermalVoltage(temperature)
  const [vtf, vtr] = [model.nf * vt, model.nr * vt]
  const critical = criticalVoltage(model.is, vt)
  return {
    controls: [
      [base, emitter],
      [base, collector],
      [substrate, collector],
    ],
    flows: [
      [collector, emitter],
      [base, emitter],
      [base, collector],
      [substrate, collector],
    ],
    couplings: {
      current: [
        [TRANSPORT, 0],
        [TRANSPORT, 1],
        [BASE_EMITTER, 0],
        [BASE_COLLECTOR, 1],
      ],
      charge: [
        ...(model.emitter.cj0 > 0 || model.tf > 0 ? [[BASE_EMITTER, 0] as const] : []),
        ...(model.tf > 0 ? [[BASE_EMITTER, 1] as const] : []),
        ...(model.collector.cj0 > 0 || model.tr > 0 ? [[BASE_COLLECTOR, 1] as const] : []),
        ...(model.substrate.cj0 > 0 ? [[SUBSTRATE, 2] as const] : []),
      ],
    },
    junctions: [
      [BASE_EMITTER, 0],
      [BASE_COLLECTOR, 1],
    ],
    evaluate(u, s) {
      const vbe = polarity * u[0]
      const vbc = polarity * u[1]
      const f = exponential(model.is, vbe, vtf)
      const r = exponential(model.is, vbc, vtr)
      // Base charge qb = q1·(1 + √(1 + 4·q2))/2, with q1 from the Early effect and q2 from high injection.
      const q1 = 1 / (1 - vbc / model.vaf - vbe / model.var)
      const q2 = f.i / model.ikf + r.i / model.ikr
      const root = Math.sqrt(Math.max(0, 1 + 4 * q2))
      const qb = (q1 * (1 + root)) / 2
      const dq1e = (q1 * q1) / model.var
      const dq1c = (q1 * q1) / model.vaf
      const dqbe = (dq1e * (1 + root)) / 2 + (q1 * f.g) / (model.ikf * root)
      const dqbc = (dq1c * (1 + root)) / 2 + (q1 * r.g) / (model.ikr * root)
      const transport = (f.i - r.i) / qb
      s.current.fill(0)
      s.charge.fill(0)
      s.conductance.fill(0)
      s.capacitance.fill(0)
      s.current[TRANSPORT] = polarity * transport
      s.conductance[TRANSPORT * CONTROLS] = (f.g - transport * dqbe) / qb
      s.conductance[TRANSPORT * CONTROLS + 1] = (-r.g - transport * dqbc) / qb
      const leakE = exponential(model.ise, vbe, model.ne * vt)
      const leakC = exponential(model.isc, vbc, model.nc * vt)
      s.current[BASE_EMITTER] = polarity * (f.i / model.bf + leakE.i)
      s.conductance[BASE_EMITTER * CONTROLS] = f.g / model.bf + leakE.g
      s.current[BASE_COLLECTOR] = polarity * (r.i / model.br + leakC.i)
      s.conductance[BASE_COLLECTOR * CONTROLS + 1] = r.g / model.br + leakC.g
      // Diffusion charge of the forward transport follows the base charge, the reverse one the junction.
      const je = depletion(model.emitter, vbe)
      const jc = depletion(model.collector, vbc)
      s.charge[BASE_EMITTER] = polarity * (je.q + (model.tf * f.i) / qb)
      s.capacitance[BASE_EMITTER * CONTROLS] = je.c + (model.tf * (f.g - (f.i / qb) * dqbe)) / qb
      s.capacitance[BASE_EMITTER * CONTROLS + 1] = (-model.tf * (f.i / qb) * dqbc) / qb
      s.charge[BASE_COLLECTOR] = polarity * (jc.q + model.tr * r.i)
      s.capacitance[BASE_COLLECTOR * CONTROLS + 1] = jc.c + model.tr * r.g
      if (model.substrate.cj0 > 0) {
        const js = depletion(model.substrate, polarity * u[2])
        s.charge[SUBSTRATE] = polarity * js.q
        s.capacitance[SUBSTRATE * CONTROLS + 2] = js.c
      }
    },
    limit(u, last) {
      const [be, bc] = [u[0], u[1]]
      u[0] = polarity * limitJunction(polarity * be, polarity * last[0], vtf, critical)
      u[1] = polarity * limitJunction(polarity * bc, polarity * last[1], vtr, critical)
      return u[0] !== be || u[1] !== bc
    },
    noise: (_u, s) => [
      [collector, emitter, 2 * CHARGE * Math.abs(s.current[TRANSPORT])],
      [
        base,
        emitter,
        2 * CHARGE * Math.abs(s.current[BASE_EMITTER]),
        flickerOf(model.flicker, s.current[BASE_EMITTER]),
      ],
      [base, collector, 2 * CHARGE * Math.abs(s.current[BASE_COLLECTOR])],
    ],
    describe(u, s) {
      const vbe = polarity * u[0]
      const vbc = polarity * u[1]
      // A junction counts as conducting from where it carries what a designer would notice.
      const on = vt * Math.log(1e-9 / model.is + 1)
      const [e, c] = [vbe > on, vbc > on]
      const region = e ? (c ? 'saturation' : 'active') : c ? 'reverse' : 'cutoff'
      const g = s.conductance
      const transfer = g[TRANSPORT * CONTROLS]
      const feedback = -g[TRANSPORT * CONTROLS + 1]
      return {
        region,
        vbe: u[0],
        vbc: u[1],
        vce: u[0] - u[1],
        ic: s.current[TRANSPORT] - s.current[BASE_COLLECTOR],
        ib: s.current[BASE_EMITTER] + s.current[BASE_COLLECTOR],
        // Against vbe with vce held, and against vce with vbe held.
        gm: transfer - feedback,
        go: feedback,
        gpi: g[BASE_EMITTER * CONTROLS],
        gmu: g[BASE_COLLECTOR * CONTROLS + 1],
        cpi: s.capacitance[BASE_EMITTER * CONTROLS],
        cmu: s.capacitance[BASE_COLLECTOR * CONTROLS + 1],
      }
    },
  }
}
