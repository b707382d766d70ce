import type { DeviceState } from '../parts/PartKind.js'
import type { Depletion, Flicker } from './junction.js'

export interface MosModel {
  /** Threshold at zero bulk bias, V, positive for an enhancement device of either type. */
  readonly vto: number
  /** KP·W/Leff, A/V². */
  readonly beta: number
  readonly gamma: number
  readonly phi: number
  readonly lambda: number
  /** The slope factor of weak inversion; 0 for the square law, which has none. */
  readonly slopeFactor: number
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

// Control voltages of a MOS transistor and the flows between its nets, by place.
export const GS = 0
export const GD = 1
export const BS = 2
export const BD = 3
export const CONTROLS = 4
export const CHANNEL = 0
export const GATE_SOURCE = 1
export const GATE_DRAIN = 2
export const GATE_BULK = 3
export const BULK_SOURCE = 4
export const BULK_DRAIN = 5

/** What a channel is said to do at some voltages: all but what its surroundings add. */
export interface ChannelReading {
  readonly region: 'cutoff' | 'triode' | 'saturation'
  /** V, as of an n channel. */
  readonly vth: number
  readonly vdsat: number
  readonly gm: number
  readonly gds: number
  readonly gmb: number
  /** Words and numbers of one law alone. */
  readonly own?: Readonly<Record<string, number | string>>
}

/**
 * The law of a channel: what flows between drain and source, and what the gate stores over it. Each stands in a file of its
 * own. Voltages are those of the circuit, as `Device.evaluate` has them: a p channel's law turns them over.
 */
export interface MosChannel {
  /**
   * Adds charges and capacitances of the flows from the gate, where there is an oxide, and writes the channel's current and
   * all its derivatives.
   */
  evaluate(u: Float64Array, state: DeviceState): void
  /** Thermal noise of the channel, A²/Hz. */
  noise(u: Float64Array): number
  read(u: Float64Array): ChannelReading
  /** A sentence on what the law does not say truly; null where it holds. */
  doubt(u: Float64Array, current: number): string | null
}
