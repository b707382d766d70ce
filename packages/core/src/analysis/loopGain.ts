import { GROUND } from '../circuit/parts/PartKind.js'
import { VoskelError } from '../errors/VoskelError.js'
import { abs, add, type Complex, complex, divide, multiply, scale, subtract } from '../numeric/complex.js'
import { ComplexSystem, testFrequencies } from './complexSystem.js'
import { adaptiveSweeps } from './adaptiveGrid.js'
import type { Mna } from './mna.js'
import { element } from './elements.js'
import { naturalFrequenciesOf } from './poles.js'
import type { Sweep } from './signalAnalysis.js'

export interface StabilityMargins {
  /** Hz; where |T| falls through 1, null where it does not */
  readonly gainCrossing: number | null
  /** 180° plus the phase of T there */
  readonly phaseMarginDeg: number | null
  /** Hz; where the phase passes −180°, null where it does not */
  readonly phaseCrossing: number | null
  readonly gainMarginDb: number | null
}

/**
 * The loop gain T of a feedback loop, found without opening it: a voltage source of 0 V marks the place, its plus pin
 * towards where the loop's signal comes from, and T follows from one injected voltage and one injected current. The
 * operating point stays as it is. T is positive where feedback is negative.
 *
 * Source: R. D. Middlebrook, "Measurement of loop gain in feedback systems", Int. J. Electronics 38, 1975, 485–512.
 */
export class LoopGain {
  private readonly system: ComplexSystem
  private readonly branch: number
  private readonly plus: number
  private readonly minus: number
  private swept: Sweep | null = null

  /**
   * @param mna of the linear(ised) circuit
   * @param marker name of the voltage source that marks the place
   * @param range lowest and highest frequency that will be asked, Hz
   * @throws VoskelError `ARGUMENT`, `SINGULAR`
   */
  constructor(
    private readonly mna: Mna,
    marker: string,
    private readonly range: readonly [number, number],
  ) {
    const found = element(mna, marker)
    const { kind, nodes, name } = found.element
    if (kind.id !== 'voltage-source' || nodes[0] === GROUND || nodes[1] === GROUND) {
      throw new VoskelError('ARGUMENT', {
        problem: `${name} does not mark a place in a loop.`,
        fix: 'Name a voltage source of 0 V between two nets, neither of them ground.',
      })
    }
    this.branch = mna.branches.get(found.index)!
    this.plus = nodes[0]
    this.minus = nodes[1]
    const tests = testFrequencies([2 * Math.PI * range[0], 2 * Math.PI * range[1]])
    this.system = new ComplexSystem(
      mna,
      tests.map((w) => complex(0, w)),
    )
  }

  /** T at a frequency, Hz. */
  at(frequency: number): Complex {
    const { system } = this
    const value = (k: number): Complex => ({ re: system.xRe[k], im: system.xIm[k] })
    system.factor(complex(0, 2 * Math.PI * frequency))
    system.solve([[this.branch, 1]])
    const [returned, sent] = [value(this.plus), value(this.minus)]
    system.solve([[this.minus, 1]])
    const back = value(this.branch)
    const forth = add(complex(1), back)
    // With Tv = −returned/sent and Ti = −back/forth: T = (Tv·Ti − 1)/(Tv + Ti + 2), kept free of either quotient, since
    // an input that draws no current makes the second one infinite.
    const above = subtract(multiply(returned, back), multiply(sent, forth))
    const below = subtract(scale(multiply(sent, forth), 2), add(multiply(returned, forth), multiply(back, sent)))
    return divide(above, below)
  }

  /**
   * T over the range, on as many points as it needs. A resonance of the loop, however narrow, leaves a natural frequency of the
   * circuit beside it: there points stand before anything is refined.
   */
  sweep(): Sweep {
    const at = (omega: number) => [{ value: this.at(omega / (2 * Math.PI)), slope: complex(0) }]
    return (this.swept ??= adaptiveSweeps({ points: at }, ...this.range, naturalFrequenciesOf(this.mna))[0])
  }

  /** Gain and phase margin inside the range; crossings are solved, not read off a grid. */
  margins(): StabilityMargins {
    const grid = this.sweep().frequency
    const phases = this.phases(grid)
    let gainCrossing: number | null = null
    let phaseCrossing: number | null = null
    let phaseMarginDeg: number | null = null
    for (let k = 0; k + 1 < grid.length; k++) {
      const above = abs(this.at(grid[k])) > 1
      if (above && abs(this.at(grid[k + 1])) <= 1) {
        gainCrossing = this.solve(grid[k], grid[k + 1], (t) => abs(t) - 1)
        // The last crossing decides.
        phaseMarginDeg = 180 + phaseDeg(this.at(gainCrossing), phases[k])
      }
      if (phaseCrossing === null && phases[k] > -180 && phases[k + 1] <= -180) {
        phaseCrossing = this.solve(grid[k], grid[k + 1], (t) => phaseDeg(t, phases[k]) + 180)
      }
    }
    const gainMarginDb = phaseCrossing === null ? null : -20 * Math.log10(abs(this.at(phaseCrossing)))
    return { gainCrossing, phaseMarginDeg, phaseCrossing, gainMarginDb }
  }

  /** Unwrapped phases of T, degrees, the first in (−180, 180]. */
  private phases(grid: Float64Array): number[] {
    let last = 0
    return Array.from(grid, (f) => (last = phaseDeg(this.at(f), last)))
  }

  private solve(a: number, b: number, f: (t: Complex) => number): number {
    let [lo, hi] = [a, b]
    const sign = f(this.at(lo)) > 0
    for (;;) {
      const middle = Math.sqrt(lo * hi)
      if (!(middle > lo && middle < hi) || hi / lo - 1 < 1e-14) return middle
      if (f(this.at(middle)) > 0 === sign) lo = middle
      else hi = middle
    }
  }
}

/** The phase of a value in degrees, in the turn that lies nearest to another. */
function phaseDeg(value: Complex, near: number): number {
  const degrees = (Math.atan2(value.im, value.re) * 180) / Math.PI
  return degrees - 360 * Math.round((degrees - near) / 360)
}
