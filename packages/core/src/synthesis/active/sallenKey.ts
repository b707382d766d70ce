import { z } from 'zod'
import type { End } from '../../circuit/circuit.js'
import { IDEAL_OPAMP_GAIN } from '../../circuit/parts/PartKind.js'
import { VoskelError } from '../../errors/VoskelError.js'
import { formatQuantity } from '../../quantity/formatQuantity.js'
import { abs, complex } from '../../numeric/complex.js'
import { evaluate } from '../../numeric/transferFunction.js'
import { HALF, Sketch } from '../Sketch.js'
import type { Topology } from '../Topology.js'
import type { ValuePolicy } from '../values.js'

const schema = z.strictObject({
  family: z.literal('sallen-key'),
  capacitor: z
    .number({ error: 'The capacitor size is missing or is not a number.' })
    .positive({ error: 'The capacitor size must be above 0 F.' })
    .max(1, { error: 'The capacitor size is above 1 F.' }),
  source: z
    .number({ error: 'The source resistance is not a number.' })
    .min(0, { error: 'The source resistance must not be negative.' })
    .default(0),
  load: z
    .union([z.number().positive({ error: 'The load resistance must be above 0 Ω.' }), z.literal('open')], {
      error: 'The load is a resistance in Ω, or "open".',
    })
    .default('open'),
})
type SallenKeyRealization = z.output<typeof schema>

/** A gain this little above 1 is rounding. */
const ROUNDING = 1e-9

/**
 * A chain of unity-gain second-order sections with one amplifier each, the lowest Q first (so that no section clips
 * before the output does: common practice, no source), after a buffered first-order section where the order is odd.
 */
export const sallenKey: Topology<SallenKeyRealization> = {
  id: 'sallen-key',
  name: 'Sallen–Key, unity gain',
  family: 'active',
  character:
    'One amplifier as a follower for each pole pair: no coils, gain exact, amplifier must be much faster than the filter.',
  source: 'R. P. Sallen, E. L. Key, "A practical method of designing RC active filters", IRE Trans. CT-2, 1955, 74–85',
  formulas: ['H = 1/(1 + s·C₂(R₁ + R₂) + s²·R₁R₂C₁C₂): C₁ = 2Q·C, C₂ = C/2Q, R = 1/(ω₀·C)'],
  schema,
  fields: [
    { id: 'capacitor', name: 'Capacitor size', kind: 'quantity', unit: 'F', default: 10e-9 },
    { id: 'source', name: 'Source resistance', kind: 'quantity', unit: 'Ω', default: 0 },
    { id: 'load', name: 'Load resistance', kind: 'quantity', unit: 'Ω', default: 0, optional: true },
  ],

  realize({ spec, ideal, realization, values }) {
    const { transfer } = ideal
    if (spec.response !== 'lowpass') {
      throw new VoskelError(
        'REALIZATION_IMPOSSIBLE',
        {
          problem: `These sections are low-pass ones; a ${spec.response} response is not offered with them yet.`,
          fix: 'Choose the lowpass response, or the family lc-ladder.',
        },
        { path: 'response' },
      )
    }
    if (transfer.zeros.length > 0) {
      throw new VoskelError(
        'REALIZATION_IMPOSSIBLE',
        {
          problem: ideal.equalizer
            ? 'Unity-gain sections cannot be all-pass, as the delay equaliser is.'
            : 'Unity-gain sections have no stop-band zeros.',
          fix: 'Choose an approximation without them, or a family that has them: lc-ladder.',
        },
        { path: 'approximation' },
      )
    }
    const dc = evaluate(transfer, complex(0)).re
    if (dc > 1 + ROUNDING) throw tooMuchGain(dc, ideal.order, 20 * Math.log10(dc))
    const pairs = transfer.poles.filter((p) => p.im > 0).map((p) => ({ omega: abs(p), q: abs(p) / (-2 * p.re) }))
    // Real poles go two to a section, too, as long as there are two.
    const reals = transfer.poles.flatMap((p) => (p.im === 0 ? [-p.re] : []))
    while (reals.length > 1) {
      const [a, b] = reals.splice(0, 2)
      pairs.push({ omega: Math.sqrt(a * b), q: Math.sqrt(a * b) / (a + b) })
    }
    pairs.sort((a, b) => a.q - b.q)
    const real = reals.at(0)

    const chain = new Chain(values, realization, Math.min(1, dc))
    if (real) chain.firstOrder(real)
    for (const pair of pairs) chain.secondOrder(pair.omega, pair.q)
    chain.finish()
    return {
      circuit: chain.sketch.circuit(`Sallen–Key sections, order ${ideal.order}`),
      referenceDb: 0,
      inverting: false,
    }
  },
}

function tooMuchGain(dc: number, order: number, db: number): VoskelError {
  return new VoskelError(
    'REALIZATION_IMPOSSIBLE',
    {
      problem: `Unity-gain sections cannot amplify: this response of order ${order} has ${db.toFixed(3)} dB (a gain of ${dc.toPrecision(4)}) at DC.`,
      fix: `Ask for a gain that is lower by at least ${db.toFixed(3)} dB, and amplify elsewhere.`,
    },
    { path: 'gain' },
  )
}

/** Grid units below the signal line: middle of parts to ground, and the row of the follower's feedback. */
const DEPTH = 4
const FEEDBACK_ROW = 5
const UPPER_ROW = -4

/** Draws section after section; `end` is where the signal has come to, at (x, y). */
class Chain {
  readonly sketch: Sketch
  private end: End
  private x = 0
  private y = 0
  private first = true

  constructor(
    private readonly values: ValuePolicy,
    private readonly realization: SallenKeyRealization,
    /** What the input is divided down to before anything else, ≤ 1. */
    private readonly division: number,
  ) {
    this.sketch = new Sketch(values)
    this.end = this.sketch.input(0, DEPTH)
    this.sketch.label('in', this.end, 0, 0)
    if (realization.source > 0) {
      const rs = this.sketch.part('RS', 'resistor', { resistance: realization.source }, 3 + HALF, 0)
      this.sketch.wire(this.end, { part: rs, pin: 'a' }, [0, 0])
      this.end = { part: rs, pin: 'b' }
      this.x = 3 + 2 * HALF
    }
  }

  /** R to the follower's input, C from there to ground: ω = 1/(RC). */
  firstOrder(omega: number): void {
    const c = this.values.nearest(this.realization.capacitor)
    const node = this.entrance(1 / (omega * c))
    this.toGround('C', 'capacitor', 'capacitance', this.realization.capacitor, node, c)
    this.follower(node, this.x)
  }

  /**
   * R1 and R2 to the follower's input, C1 from between them to its output, C2 from its input to ground. With equal
   * resistors R, C1 = 2Q·C and C2 = C/(2Q): ω = 1/(RC), Q = √(C1/C2)/2. With preferred capacitors C1 ≥ 4Q²·C2 is kept
   * and the resistors take up the rest: R1, R2 = (1 ± √(1 − 4Q²C2/C1)) / (2Qω·C2).
   */
  secondOrder(omega: number, q: number): void {
    const size = this.realization.capacitor
    const c2 = this.values.nearest(size / (2 * q))
    const c1 = this.values.choice === 'exact' ? 2 * q * size : this.values.atLeast(4 * q * q * c2)
    // Exact values make the root vanish; rounding must not make it imaginary.
    const root = this.values.choice === 'exact' ? 0 : Math.sqrt(Math.max(0, 1 - (4 * q * q * c2) / c1))
    const half = 1 / (2 * q * omega * c2)
    const a = this.entrance(half * (1 + root))
    const { sketch } = this
    const [ax, ay] = [this.x, this.y]
    const r2 = sketch.valued(sketch.name('R'), 'resistor', 'resistance', half * (1 - root), [ax + 2 + HALF, ay])
    sketch.wire(a, { part: r2, pin: 'a' })
    const b = sketch.junction(ax + 7, ay)
    sketch.wire({ part: r2, pin: 'b' }, b)
    this.x = ax + 7
    const feedback = sketch.valued(
      sketch.name('C'),
      'capacitor',
      'capacitance',
      2 * q * size,
      [ax + 10, ay + UPPER_ROW],
      c1,
    )
    sketch.wire(a, { part: feedback, pin: 'a' }, [ax, ay + UPPER_ROW])
    this.toGround('C', 'capacitor', 'capacitance', size / (2 * q), b, c2)
    const out = this.follower(b, this.x)
    sketch.wire({ part: feedback, pin: 'b' }, out, [this.x, ay + UPPER_ROW])
  }

  finish(): void {
    const { sketch, realization } = this
    let out = this.end
    if (realization.load !== 'open') {
      const at = sketch.junction(this.x + 4, this.y)
      sketch.wire(out, at)
      const rl = sketch.part('RL', 'resistor', { resistance: realization.load }, this.x + 4, this.y + DEPTH, 90)
      sketch.wire(at, { part: rl, pin: 'a' })
      sketch.ground({ part: rl, pin: 'b' }, this.x + 4, this.y + DEPTH + HALF + 1)
      out = at
      this.x += 4
    }
    sketch.label('out', out, this.x, this.y)
  }

  /**
   * The resistance through which a section is driven, ending at a junction. The first section's also absorbs the
   * source resistance and divides the input down where the response asks for less than unity at DC.
   */
  private entrance(resistance: number): End {
    const { sketch } = this
    const divides = this.first && this.division < 1 - ROUNDING
    const driven = divides ? resistance / this.division : resistance
    const own = this.first ? driven - this.realization.source : driven
    if (own <= 0) {
      throw new VoskelError(
        'REALIZATION_IMPOSSIBLE',
        {
          problem: `The source resistance of ${formatQuantity(this.realization.source, 'Ω')} is more than the ${formatQuantity(driven, 'Ω')} through which the first section is driven.`,
          fix: `Choose a capacitor below ${formatQuantity((this.realization.capacitor * driven) / this.realization.source, 'F', 3)}, or buffer the source.`,
        },
        { path: 'realization.capacitor' },
      )
    }
    const gap = this.first && this.realization.source === 0 ? 3 : 2
    const id = sketch.valued(sketch.name('R'), 'resistor', 'resistance', own, [this.x + gap + HALF, 0])
    // Each section's line lies level with the input's; the follower's output lies one unit lower.
    const bends: [number, number][] =
      this.y === 0
        ? this.first && this.realization.source === 0
          ? [[0, 0]]
          : []
        : [
            [this.x + 1, this.y],
            [this.x + 1, 0],
          ]
    sketch.wire(this.end, { part: id, pin: 'a' }, ...bends)
    this.x += gap + 2 * HALF + 1
    this.y = 0
    let node = sketch.junction(this.x, 0)
    sketch.wire({ part: id, pin: 'b' }, node)
    if (divides) {
      this.toGround('R', 'resistor', 'resistance', resistance / (1 - this.division), node)
      this.x += 4
      const next = sketch.junction(this.x, 0)
      sketch.wire(node, next)
      node = next
    }
    this.first = false
    return node
  }

  private toGround(letter: string, kind: string, field: string, computed: number, from: End, chosen?: number): void {
    const { sketch } = this
    const id = sketch.valued(sketch.name(letter), kind, field, computed, [this.x, this.y + DEPTH, 90], chosen)
    sketch.wire(from, { part: id, pin: 'a' })
    sketch.ground({ part: id, pin: 'b' }, this.x, this.y + DEPTH + HALF + 1)
  }

  /** An amplifier whose output is its inverting input; leaves x, y and end at its output. */
  private follower(input: End, x: number): End {
    const { sketch } = this
    const y = this.y
    const u = sketch.part(sketch.name('U'), 'opamp', { gain: IDEAL_OPAMP_GAIN }, x + 10, y + 1)
    sketch.wire(input, { part: u, pin: 'plus' })
    const out = sketch.junction(x + 14, y + 1)
    sketch.wire({ part: u, pin: 'out' }, out)
    sketch.wire({ part: u, pin: 'minus' }, out, [x + 6, y + 2], [x + 6, y + FEEDBACK_ROW], [x + 14, y + FEEDBACK_ROW])
    this.end = out
    this.x = x + 14
    this.y = y + 1
    return out
  }
}
