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

/** Voltage, V, current, A, and emission of the breakdown branch are those of the junction itself. */
export interface DiodeModel {
  readonly is: number
  readonly n: number
  readonly tt: number
  readonly depletion: Depletion
  /** Breakdown voltage, V; Infinity for none. */
  readonly bv: number
  readonly ibv: number
  readonly flicker: Flicker
}

/** The model of a diode at a temperature, from its parameters by name. */
export function diodeModel(p: Readonly<Record<string, number>>, temperature: number): DiodeModel {
  return {
    is: p.is * p.area * saturationFactor(temperature, p.eg, p.xti, p.n),
    n: p.n,
    tt: p.tt,
    depletion: { cj0: p.cjo * p.area, vj: p.vj, m: p.m, fc: p.fc },
    bv: p.bv > 0 ? p.bv : Infinity,
    ibv: p.ibv * p.area,
    flicker: { kf: p.kf, af: p.af },
  }
}

/**
 * A pn junction from anode to cathode: Shockley's exponential, breakdown, depletion and diffusion charge.
 * Source: W. Shockley, Bell Syst. Tech. J. 28, 1949, 435–489; charge storage common practice.
 */
export function diode(model: DiodeModel, anode: number, cathode: number, temperature = NOMINAL_TEMPERATURE): Device {
  const vt = model.n * thermalVoltage(temperature)
  const critical = criticalVoltage(model.is, vt)
  const pair = [anode, cathode] as const
  return {
    controls: [pair],
    flows: [pair],
    couplings: { current: [[0, 0]], charge: model.depletion.cj0 > 0 || model.tt > 0 ? [[0, 0]] : [] },
    junctions: [[0, 0]],
    evaluate(u, s) {
      const v = u[0]
      const { i, g } = exponential(model.is, v, vt)
      const { q, c } = depletion(model.depletion, v)
      s.current[0] = i
      s.conductance[0] = g
      s.charge[0] = q + model.tt * i
      s.capacitance[0] = c + model.tt * g
      if (model.bv < Infinity) {
        const back = exponential(model.ibv, -(v + model.bv), vt)
        s.current[0] -= back.i + model.ibv
        s.conductance[0] += back.g
      }
    },
    limit(u, last) {
      const wanted = u[0]
      if (wanted < -model.bv / 2) {
        // The breakdown branch is an exponential of its own, the other way round.
        u[0] =
          -model.bv - limitJunction(-(wanted + model.bv), -(last[0] + model.bv), vt, criticalVoltage(model.ibv, vt))
      } else {
        u[0] = limitJunction(wanted, last[0], vt, critical)
      }
      return u[0] !== wanted
    },
    // Shot noise; W. Schottky, Annalen der Physik 57, 1918, 541–567.
    noise: (_u, s) => [[anode, cathode, 2 * CHARGE * Math.abs(s.current[0]), flickerOf(model.flicker, s.current[0])]],
    describe(u, s) {
      const v = u[0]
      const region = v < -model.bv ? 'breakdown' : v > 0 ? 'forward' : 'reverse'
      return { region, v, i: s.current[0], gd: s.conductance[0], cd: s.capacitance[0] }
    },
  }
}
