import {
  askedSpec,
  type Design,
  type DesignedCircuit,
  designedCircuit,
  type Evidence,
  evidenceOf,
  type FilterSpec,
  formulate,
  type Ideal,
  idealOf,
  type Mna,
  ofResponse,
  outputOf,
  parseSignal,
  polesAndZeros,
  referenceLevel,
  type CurveRange,
  type Signal,
  SignalCurve,
  signalText,
  smallSignal,
  type TransferFunction,
  VoskelError,
  ZERO_CELSIUS,
} from '@voskel/core'
import { sameKey } from './Job'

/** What is asked about: what a design says of its response and its circuit. */
export type DesignQuestion = Pick<Design, 'specification' | 'requirements' | 'values' | 'circuit' | 'study'>

export const designKey = ({
  specification,
  requirements,
  values,
  circuit,
  study,
}: DesignQuestion): readonly unknown[] => [specification, requirements, values, circuit, study]

/** Unknowns up to which the interface looks for poles and zeros: beyond, they take seconds. */
const MOST_UNKNOWNS = 120

/** What several jobs need of one design: each piece is computed when it is first asked for, and fails by itself. */
export class Study {
  readonly spec: FilterSpec | null
  /** The signal that is the output, and the source that is the input: left out, the first that drives. */
  readonly output: string
  readonly input: string | undefined

  constructor(readonly question: DesignQuestion) {
    this.spec = askedSpec(question)
    this.output = outputOf(question)
    this.input = question.study?.input
  }

  /** The ideal response; null without a specification. */
  readonly ideal = once((): Ideal | null => this.spec && idealOf(this.spec))

  /** null where the design has none. */
  readonly designed = once((): DesignedCircuit | null => designedCircuit(this.question, this.ideal() ?? undefined))

  /** The circuit's level where the ideal response has 0 dB. */
  readonly referenceDb = once((): number => {
    const [ideal, designed] = [this.ideal(), this.designed()]
    return designed?.realized?.referenceDb ?? (this.spec && ideal ? referenceLevel(this.spec, ideal) : 0)
  })

  /** The circuit's equations, and those of small signals around its operating point. */
  readonly equations = once((): { mna: Mna; linear: Mna } | null => {
    const designed = this.designed()
    if (!designed) return null
    const { temperature } = this.question.study ?? {}
    const mna = formulate(
      designed.circuit,
      temperature === undefined ? {} : { temperature: temperature + ZERO_CELSIUS },
    )
    return { mna, linear: smallSignal(mna) }
  })

  /** out over the input, by its roots. */
  readonly transfer = once((): TransferFunction | null => {
    const equations = this.equations()
    return (
      equations &&
      polesAndZeros(equations.linear, {
        most: MOST_UNKNOWNS,
        output: parseSignal(this.output),
        ...(this.input && { input: this.input }),
      }).transfer
    )
  })

  /** What the requirements are judged by: the circuit where there is one, else the ideal response; null without either. */
  readonly evidence = once((): Evidence | null => {
    const [spec, ideal, designed] = [this.spec, this.ideal(), this.designed()]
    const promised = spec && ideal ? { spec, ideal } : null
    const { requirements } = this.question
    if (!designed) {
      // What only a circuit decides has no verdict yet.
      const ofIdeal = requirements?.filter(ofResponse) ?? []
      return promised && evidenceOf({ promised, requirements: ofIdeal, transfer: promised.ideal.transfer })
    }
    return evidenceOf({
      promised,
      requirements: requirements ?? [],
      transfer: () => this.transfer()!,
      circuit: designed.circuit,
      equations: this.equations()!.linear,
      whole: this.equations()!.mna,
      output: this.output,
      ...(this.input && { input: this.input }),
      referenceDb: this.referenceDb(),
      lenient: true,
    })
  })

  private readonly curves = new Map<string, SignalCurve>()

  /** One of the circuit's signals, to be asked anywhere; kept, since cursors ask again and again. */
  curve(signal: Signal, range: Omit<CurveRange, 'input'>): SignalCurve {
    const name = JSON.stringify([signalText(signal), range.from, range.to])
    let curve = this.curves.get(name)
    if (!curve) {
      const asked = { ...range, ...(this.input && { input: this.input }) }
      curve = new SignalCurve(this.equations()!.linear, signal, asked)
      this.curves.set(name, curve)
    }
    return curve
  }

  /** A piece, or null where it cannot be had: for those that are the better for it and do without. */
  maybe<T>(piece: () => T): T | null {
    try {
      return piece()
    } catch (error) {
      if (error instanceof VoskelError) return null
      throw error
    }
  }
}

/** Computes when it is first asked for; what it throws it throws each time. */
function once<T>(make: () => T): () => T {
  let made: { value: T } | { error: unknown } | null = null
  return () => {
    if (!made) {
      try {
        made = { value: make() }
      } catch (error) {
        made = { error }
      }
    }
    if ('error' in made) throw made.error
    return made.value
  }
}

/** Studies that are kept: the jobs of one design come one after the other, and an undo asks for the one before. */
const MOST_KEPT = 4
const kept = new Map<string, Study>()

let last: Study | null = null

/** The study of a design. What crosses into a worker is often a copy, so that it is known by what it says. */
export function studyOf({ specification, requirements, values, circuit, study: settings }: DesignQuestion): Study {
  const question = { specification, requirements, values, circuit, study: settings }
  if (last && sameKey(designKey(question), designKey(last.question))) return last
  last = keptStudy(question)
  return last
}

function keptStudy(question: DesignQuestion): Study {
  const name = JSON.stringify(question)
  const study = kept.get(name) ?? new Study(question)
  kept.delete(name)
  kept.set(name, study)
  if (kept.size > MOST_KEPT) kept.delete(kept.keys().next().value!)
  return study
}
