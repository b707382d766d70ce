import { waveformKind } from '../circuit/waveforms/index.js'
import { dcLinks, NetSets } from '../circuit/checks/links.js'
import { type FlatElement, GROUND } from '../circuit/parts/PartKind.js'
import { VoskelError } from '../errors/VoskelError.js'
import { type ActiveDevice, DeviceSet } from './deviceSet.js'
import type { Mna } from './mna.js'
import { RealSystem } from './realSystem.js'

/** The DC solution of a circuit. */
export interface OperatingPoint {
  /** One value an unknown: V for nets, A for branches. */
  readonly x: Float64Array
  /** Each nonlinear device at its point. */
  readonly devices: readonly ActiveDevice[]
}

export interface OperatingPointOptions {
  /** What each independent source gives; its bias when left out. */
  value?: (source: FlatElement) => number
  /** A solution nearby to start from. */
  start?: Float64Array
  /** Nets held at voltages, V, by unknown. */
  held?: ReadonlyMap<number, number>
  /** Nets behind capacitors alone stand where their charges put them, from nothing stored on; else they are an error. */
  fromRest?: boolean
}

/** Inductances and capacitances, taken along as if the sources rose slowly, count by this part of what conducts. */
const SLOW = 1e-9

/** A current this many times what the voltages drive through the largest conductance is one that nothing bounds. */
const UNBOUNDED = 1e6

const MOST_ITERATIONS = 100

/** Further iterations after the first settled one, as long as they come nearer. */
const POLISHING = 8

/** Settled: no unknown moves by more than this part of its size. */
const SETTLED = 1e-6
const POLISHED = 1e-12

/** What a solution may leave of its equations, relative to their terms: beyond the first it is refined, beyond the second ordered anew. */
const [EXACT, SOUND] = [1e-14, 1e-11]
const REFINEMENTS = 2

/** Sizes below which movements do not count, V and A. */
const NO_VOLTAGE = 1e-6
const NO_CURRENT = 1e-9

/** Holds a net at its voltage: conductance of the source that does so, S. */
const HOLD = 1e9

/**
 * The DC solution: inductors short, capacitors open. Circuits with devices are searched by Newton's method with damped
 * junctions; where that fails, from where amplifiers without bounds would stand, by conductances across junctions that are
 * taken away step by step, by sources turned up step by step, and at last by letting the circuit settle as if every net had
 * a capacitor.
 *
 * Where inductors close a loop, their flux from rest on divides the current among them.
 *
 * @throws VoskelError `SINGULAR` where a net has no DC path to ground, or ideal sources form a loop; `NO_CONVERGENCE`
 */
export function operatingPoint(mna: Mna, options: OperatingPointOptions = {}): OperatingPoint {
  try {
    return new Search(mna, options, []).run()
  } catch (error) {
    if (!(error instanceof VoskelError) || error.code !== 'SINGULAR') throw error
    const slow = slowEntries(mna, options.fromRest ?? false)
    if (slow.length === 0) throw error
    const found = maybeFound(mna, options, slow)
    if (!found) throw error
    return found
  }
}

function maybeFound(mna: Mna, options: OperatingPointOptions, slow: readonly Slow[]): OperatingPoint | null {
  let found: OperatingPoint
  try {
    found = new Search(mna, options, slow).run()
  } catch (error) {
    if (error instanceof VoskelError && error.kind === 'analysis') return null
    throw error
  }
  let [volts, amperes] = [0, 0]
  mna.unknowns.forEach((name, k) => {
    const size = Math.abs(found.x[k])
    if (name.startsWith('v(')) volts = Math.max(volts, size)
    else amperes = Math.max(amperes, size)
  })
  return amperes <= UNBOUNDED * volts * largestConductance(mna) || amperes === 0 ? found : null
}

/** An entry of the equations and what is added to it. */
type Slow = readonly [entry: number, value: number]

const isBranch = (mna: Mna, row: number) => !mna.unknowns[row].startsWith('v(')

function largestConductance(mna: Mna): number {
  let most = 0
  mna.g.forEach((g, e) => {
    if (!isBranch(mna, mna.pattern.rows[e]) && !isBranch(mna, mna.pattern.cols[e])) most = Math.max(most, Math.abs(g))
  })
  return most
}

/** s·C for an s so slow that it matters only where nothing else determines a current (or, from rest, a voltage). */
function slowEntries(mna: Mna, capacitors: boolean): Slow[] {
  const { rows } = mna.pattern
  const chosen = [...mna.c.keys()].filter((e) => mna.c[e] !== 0 && (capacitors || isBranch(mna, rows[e])))
  const most = (branch: boolean) =>
    chosen.reduce((size, e) => (isBranch(mna, rows[e]) === branch ? Math.max(size, Math.abs(mna.c[e])) : size), 0)
  const conductance = largestConductance(mna) || 1
  // Ω against the smallest resistance, S against the largest conductance.
  const rates = [SLOW / (conductance * most(true)), (SLOW * conductance) / most(false)].filter(Number.isFinite)
  if (rates.length === 0) return []
  const s = Math.min(...rates)
  return chosen.map((e) => [e, s * mna.c[e]] as const)
}

class Search {
  private readonly n: number
  private readonly devices: DeviceSet
  private readonly g: Float64Array
  private readonly c: Float64Array
  private readonly system: RealSystem
  private readonly sources: Float64Array
  private readonly b: Float64Array
  private readonly next: Float64Array
  private readonly lack: Float64Array
  private readonly sizes: Float64Array
  private readonly correction: Float64Array
  private readonly isVoltage: Uint8Array
  /** Diagonal slot of each node's row, for conductances to ground; −1 where there is none. */
  private readonly diagonal: Int32Array
  /** Equations of inductors that held nets put others in the place of. */
  private readonly replaced: readonly Replaced[]
  private x: Float64Array
  /** The unknown that moved most, by its size, and how far the voltages alone did. */
  private worst = 0
  private movedVolts = 0
  private damped = -1

  constructor(
    private readonly mna: Mna,
    private readonly options: OperatingPointOptions,
    private readonly slow: readonly Slow[],
  ) {
    this.n = mna.size
    this.devices = new DeviceSet(mna)
    this.g = mna.g.slice()
    this.c = mna.c.slice()
    this.b = new Float64Array(this.n)
    this.next = new Float64Array(this.n)
    this.lack = new Float64Array(this.n)
    this.sizes = new Float64Array(this.n)
    this.correction = new Float64Array(this.n)
    this.sources = new Float64Array(this.n)
    this.replaced = replacedBranches(mna, options)
    const value = options.value ?? ((s: FlatElement) => s.values.bias)
    for (const { row, sign, element } of mna.sources) this.sources[row] += sign * value(mna.circuit.elements[element])
    this.isVoltage = Uint8Array.from(mna.unknowns, (u) => Number(u.startsWith('v(')))
    this.diagonal = new Int32Array(this.n).fill(-1)
    mna.pattern.rows.forEach((row, e) => {
      if (row === mna.pattern.cols[e]) this.diagonal[row] = e
    })
    this.x = options.start?.slice() ?? new Float64Array(this.n)
    this.devices.evaluate(this.x, false)
    this.load(0, null, 0)
    this.system = new RealSystem({ ...mna, g: this.g, c: this.c }, [0], 'at DC')
  }

  run(): OperatingPoint {
    const tried: string[] = []
    const methods: [string, () => boolean][] = [
      ['Newton steps', () => this.newton(0, 1, null, 0)],
      ['amplifiers without bounds at first', () => this.fromUnbounded()],
      ['conductances taken away step by step', () => this.conductanceStepping()],
      ['sources turned up step by step', () => this.sourceStepping()],
      ['settling with a capacitor on every net', () => this.settling()],
    ]
    const start = this.x.slice()
    for (const [name, method] of methods) {
      this.x.set(start)
      this.devices.evaluate(this.x, false)
      if (method()) return this.result()
      tried.push(name)
    }
    throw this.failure(tried)
  }

  /** Newton's method from the present x; true where it settled. */
  private newton(gmin: number, scale: number, anchor: Float64Array | null, weight: number): boolean {
    let settledFor = 0
    let before = Infinity
    let last = Infinity
    for (let k = 0; k < MOST_ITERATIONS; k++) {
      this.damped = this.devices.evaluate(this.x, true, gmin)
      this.load(scale, anchor, weight)
      this.devices.offset(this.b, 0)
      // x as it stands, in its equations as they are there.
      const isSolution = k > 0 && this.damped < 0 && this.residual() <= EXACT
      this.system.factor(0)
      this.solve()
      const moved = this.movement()
      this.x.set(this.next)
      if (!Number.isFinite(moved)) return false
      if (this.mna.devices.length === 0) return true
      // A current that is a small difference of large ones moves by rounding and never stands still.
      if (isSolution && this.movedVolts <= SETTLED && moved > last / 4) return true
      last = moved
      if (this.damped >= 0) {
        settledFor = 0
        before = Infinity
        continue
      }
      if (moved > SETTLED) continue
      settledFor++
      if (moved <= POLISHED || settledFor > POLISHING || moved > before) return true
      before = moved
    }
    return false
  }

  /**
   * Solves for the next x. Pivots that were chosen for other values of the devices may be none for these: what the solution
   * leaves of its equations says so, and a repeated solution would be wrong alike.
   */
  private solve(): void {
    for (let round = 0; ; round++) {
      this.lack.set(this.b)
      this.system.solve(this.lack, this.next)
      for (let k = 0; this.residual() > EXACT && k < REFINEMENTS; k++) {
        this.system.solve(this.lack, this.correction)
        for (let r = 0; r < this.n; r++) this.next[r] += this.correction[r]
      }
      if (round > 0 || this.residual() <= SOUND) return
      this.system.replan(0)
    }
  }

  /** b − G·next into `lack`; the largest of it against the terms of its equation. */
  private residual(): number {
    const { rows, cols } = this.mna.pattern
    this.lack.set(this.b)
    for (let r = 0; r < this.n; r++) this.sizes[r] = Math.abs(this.b[r])
    for (let e = 0; e < rows.length; e++) {
      const term = this.g[e] * this.next[cols[e]]
      this.lack[rows[e]] -= term
      this.sizes[rows[e]] += Math.abs(term)
    }
    let worst = 0
    for (let r = 0; r < this.n; r++)
      if (this.sizes[r] > 0) worst = Math.max(worst, Math.abs(this.lack[r]) / this.sizes[r])
    return worst
  }

  /** Amplifiers of a filter are meant to stay within their bounds: from where they do, bounds change nothing. */
  private fromUnbounded(): boolean {
    if (this.mna.devices.every(({ device }) => !device.evaluateUnbounded)) return false
    this.devices.unbounded = true
    try {
      this.devices.evaluate(this.x, false)
      if (!this.newton(0, 1, null, 0)) return false
    } catch (error) {
      // Without its bounds a circuit may have no solution, such as one that keeps to one of them.
      if (error instanceof VoskelError && error.code === 'SINGULAR') return false
      throw error
    } finally {
      this.devices.unbounded = false
    }
    this.devices.evaluate(this.x, false)
    return this.newton(0, 1, null, 0)
  }

  private conductanceStepping(): boolean {
    const kept = new Float64Array(this.n)
    let gmin = 1e-2
    let factor = 10
    if (!this.newton(gmin, 1, null, 0)) return false
    while (gmin > 1e-15) {
      kept.set(this.x)
      if (this.newton(gmin / factor, 1, null, 0)) {
        gmin /= factor
        factor = Math.min(100, factor * factor)
      } else {
        this.restart(kept)
        factor = Math.sqrt(factor)
        if (factor < 1.01) return false
      }
    }
    return this.newton(0, 1, null, 0)
  }

  private sourceStepping(): boolean {
    const kept = new Float64Array(this.n)
    this.restart(kept)
    let scale = 0
    let step = 0.1
    if (!this.newton(0, 0, null, 0)) return false
    while (scale < 1) {
      kept.set(this.x)
      const next = Math.min(1, scale + step)
      if (this.newton(0, next, null, 0)) {
        scale = next
        step *= 1.8
      } else {
        this.restart(kept)
        step /= 4
        if (step < 1e-6) return false
      }
    }
    return true
  }

  /** Pseudo-transient: each round ties every net to where it was, ever more loosely. */
  private settling(): boolean {
    const anchor = new Float64Array(this.n)
    this.restart(anchor)
    let weight = 1
    for (let round = 0; round < 400; round++) {
      anchor.set(this.x)
      if (this.newton(0, 1, anchor, weight)) weight /= 2
      else {
        this.restart(anchor)
        weight *= 8
      }
      if (weight > 1e9) return false
      if (weight < 1e-14) return this.newton(0, 1, null, 0)
    }
    return false
  }

  private restart(x: Float64Array): void {
    this.x.set(x)
    this.devices.evaluate(this.x, false)
  }

  private load(scale: number, anchor: Float64Array | null, weight: number): void {
    this.g.set(this.mna.g)
    this.c.set(this.mna.c)
    this.devices.linearize(this.g, this.c)
    for (const [entry, value] of this.slow) this.g[entry] += value
    for (let r = 0; r < this.n; r++) this.b[r] = scale * this.sources[r]
    if (anchor) {
      for (let r = 0; r < this.n; r++) {
        if (!this.isVoltage[r] || this.diagonal[r] < 0) continue
        this.g[this.diagonal[r]] += weight
        this.b[r] += weight * anchor[r]
      }
    }
    for (const { branch, terms, value } of this.replaced) {
      for (let e = 0; e < this.g.length; e++) if (this.mna.pattern.rows[e] === branch) this.g[e] = 0
      for (const [entry, factor] of terms) this.g[entry] += factor
      this.b[branch] = value
    }
    for (const [unknown, volts] of this.options.held ?? []) {
      if (this.diagonal[unknown] < 0 || this.replaced.some((r) => r.holds === unknown)) continue
      this.g[this.diagonal[unknown]] += HOLD
      this.b[unknown] += HOLD * volts
    }
  }

  /** Largest movement of an unknown against its size. */
  private movement(): number {
    let largest = 0
    this.movedVolts = 0
    for (let k = 0; k < this.n; k++) {
      const size = Math.max(Math.abs(this.x[k]), Math.abs(this.next[k]), this.isVoltage[k] ? NO_VOLTAGE : NO_CURRENT)
      const moved = Math.abs(this.next[k] - this.x[k]) / size
      if (this.isVoltage[k]) this.movedVolts = Math.max(this.movedVolts, moved)
      if (!(moved <= largest)) {
        largest = moved
        this.worst = k
      }
    }
    return largest
  }

  private result(): OperatingPoint {
    this.devices.evaluate(this.x, false)
    return { x: this.x, devices: this.devices.active }
  }

  private failure(tried: readonly string[]): VoskelError {
    const suspect = this.damped >= 0 ? this.damped : this.nearestDevice()
    const device = suspect < 0 ? null : this.mna.circuit.elements[this.mna.devices[suspect].element].name
    const unknown = this.mna.unknowns[this.worst]
    return new VoskelError('NO_CONVERGENCE', { unknown, device, tried, at: 'at DC' }, device ? { part: device } : {})
  }

  /** A device that has to do with the unknown that moves most. */
  private nearestDevice(): number {
    return this.mna.devices.findIndex(({ device }) => device.controls.some((pair) => pair.includes(this.worst)))
  }
}

/** An equation that stands for an inductor's own, which reads v(a) − v(b) = 0 at DC. */
interface Replaced {
  readonly branch: number
  /** [entry of the equations, factor] */
  readonly terms: readonly (readonly [entry: number, factor: number])[]
  readonly value: number
  /** The net that it holds at its voltage; null where it holds a current. */
  readonly holds: number | null
}

/**
 * Inductors across which held nets put a voltage: as shorts they would take a current without bound. One whose net has a
 * capacitance keeps the current that it has without held nets; else the net's voltage is what the inductor's current
 * makes of it, whatever that is.
 */
function replacedBranches(mna: Mna, { held, ...options }: OperatingPointOptions): Replaced[] {
  if (!held || held.size === 0) return []
  const sets = new NetSets(mna.circuit.nodes.length)
  for (const link of dcLinks(mna.circuit))
    if (link.by === 'voltage' && mna.circuit.elements[link.element].kind.id !== 'inductor') sets.join(...link.nets)
  for (const net of held.keys()) sets.join(net, GROUND)
  const { rows, cols } = mna.pattern
  const entry = (row: number, col: number) => rows.findIndex((r, e) => r === row && cols[e] === col)
  const absorbing = new Set<number>()
  let free: Float64Array | null | undefined
  return dcLinks(mna.circuit).flatMap((link): Replaced[] => {
    const branch = mna.branches.get(link.element)
    if (mna.circuit.elements[link.element].kind.id !== 'inductor' || branch === undefined) return []
    // A winding's resistance lies between: the current is bounded.
    const ends = [...rows.keys()].filter((e) => rows[e] === branch && cols[e] !== branch && mna.g[e] !== 0)
    if (ends.some((e) => cols[e] >= mna.circuit.nodes.length)) return []
    if (sets.join(...link.nets)) return []
    const own = entry(branch, branch)
    if (own < 0) return []
    const net = ends.map((e) => cols[e]).find((n) => held.has(n) && !absorbing.has(n) && !hasCapacitance(mna, n))
    if (net !== undefined) {
      absorbing.add(net)
      return [{ branch, terms: [[entry(branch, net), 1]], value: held.get(net)!, holds: net }]
    }
    free ??= freePoint(mna, options)
    return [{ branch, terms: [[own, 1]], value: free?.[branch] ?? 0, holds: null }]
  })
}

/** The operating point without held nets; null where there is none. */
function freePoint(mna: Mna, options: OperatingPointOptions): Float64Array | null {
  try {
    return operatingPoint(mna, options).x
  } catch (error) {
    if (error instanceof VoskelError && error.kind === 'analysis') return null
    throw error
  }
}

const hasCapacitance = (mna: Mna, net: number): boolean =>
  mna.places.some((p, k) => 'plus' in p && (p.plus === net || p.minus === net) && mna.stores.some((s) => s.at === k))

/** What a source gives before a transient begins. */
export function initialValue(source: FlatElement): number {
  return source.waveform ? waveformKind(source.waveform).initial(source.waveform) : source.values.bias
}
