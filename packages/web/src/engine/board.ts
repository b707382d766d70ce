import { type Design, type Diagram, diagramsOf, drawnRange, drawnSignals, type Failure } from '@voskel/core'
import { Asking } from './asking'
import { sameKey, type Topic } from './Job'
import { type CircuitAnswer, circuitTopic } from './jobs/circuit'
import { frequencyTopic, type FrequencyAnswer } from './jobs/frequency'
import { type IdealAnswer, idealTopic } from './jobs/ideal'
import { type InfluenceCurves, influenceCurvesTopic } from './jobs/influenceCurves'
import { type NoiseAnswer, noiseTopic } from './jobs/noise'
import { rootsTopic, type RootsAnswer } from './jobs/roots'
import { type TimeAnswer, timeTopic } from './jobs/time'
import { type VerdictsAnswer, verdictsTopic } from './jobs/verdicts'
import type { Lane } from './lane'
import { keepResult, type LastResult } from './lastResult'
import { lanes } from './lanes'
import type { SignalsQuestion } from './jobs/frequency'
import { type DesignQuestion, designKey } from './study'

/** What the stages show of a design, piece by piece. */
export interface Answers {
  readonly ideal: IdealAnswer | null
  readonly circuit: CircuitAnswer | null
  readonly roots: RootsAnswer | null
  readonly frequency: FrequencyAnswer | null
  readonly time: TimeAnswer | null
  /** Of the signals whose diagrams ask for them. */
  readonly noise: readonly NoiseAnswer[] | null
  readonly influence: readonly InfluenceCurves[] | null
  readonly verdicts: VerdictsAnswer
}
export type Piece = keyof Answers

/** A design, as far as something is computed of it. */
export type BoardQuestion = DesignQuestion & Pick<Design, 'diagrams' | 'figures'>

/** What is kept of answers, to be known again by their question another time. */
export const resultOf = (question: BoardQuestion, answers: Answers): Omit<LastResult, 'engine'> => ({
  of: textOf(question),
  answers,
})

/** A question as text. */
const textOf = ({ specification, requirements, values, circuit, study, diagrams, figures }: BoardQuestion) =>
  JSON.stringify([specification, requirements, values, circuit, study, diagrams, figures])

/** Where a diagram lies on the drawing changes no curve. */
const drawnOf = ({ figures }: BoardQuestion) => (figures ? JSON.stringify(figures.map((f) => f.diagram)) : undefined)
const boardKey = (question: BoardQuestion) => [...designKey(question), question.diagrams, drawnOf(question)]

/** What follows every edit, in the order in which it is answered. */
const TOPICS: { readonly [P in Piece]: Topic<SignalsQuestion, Answers[P]> } = {
  ideal: idealTopic,
  circuit: circuitTopic,
  roots: rootsTopic,
  frequency: frequencyTopic,
  time: timeTopic,
  noise: noiseTopic,
  influence: influenceCurvesTopic,
  verdicts: verdictsTopic,
}
const PIECES = Object.keys(TOPICS) as Piece[]
const NO_VERDICTS: VerdictsAnswer = { verdicts: [], ofIdeal: false }

/** What of the diagrams a piece is asked for: all signals of a side, or those of one view, and what stretch is seen. */
function seen(diagrams: readonly Diagram[], piece: Piece): Pick<SignalsQuestion, 'signals' | 'wanted'> {
  if (piece === 'noise' || piece === 'influence') {
    const own = diagrams.filter((d) => d.view === piece)
    return { signals: drawnSignals(own, 'frequency'), wanted: drawnRange(diagrams, 'frequency') }
  }
  const over = piece === 'frequency' || piece === 'ideal' ? 'frequency' : piece === 'time' ? 'time' : null
  return { signals: over ? drawnSignals(diagrams, over) : [], wanted: over && drawnRange(diagrams, over) }
}

/** What is on the screen at one moment. */
export interface Shown {
  /** The question that the answers belong to; of one that is still being answered, some of them. */
  readonly question: BoardQuestion | null
  readonly answers: Answers
  /** Why a piece cannot be had. */
  readonly failures: Partial<Record<Piece, Failure>>
  /** Something shown belongs to an older question, for long enough to be seen. */
  readonly isStale: boolean
  /** It has been computed for so long that one may want to stop it. */
  readonly isSlow: boolean
  /** Its user has stopped it. */
  readonly isStopped: boolean
  /** It was computed when the design was last open, and is being computed anew. */
  readonly isRecalled: boolean
}

export const NOTHING: Shown = {
  question: null,
  answers: {
    ideal: null,
    circuit: null,
    roots: null,
    frequency: null,
    time: null,
    noise: null,
    influence: null,
    verdicts: NO_VERDICTS,
  },
  failures: {},
  isStale: false,
  isSlow: false,
  isStopped: false,
  isRecalled: false,
}

/** ms during which the screen waits for all pieces, so that an edit is one change of it */
export const GRACE = 150
/** ms after which a computation is long */
export const SLOW_AFTER = 1500

/**
 * What is known of the open design. An edit asks everything anew; when all have answered the screen changes once. What
 * takes long is shown piece by piece, marked as it is.
 */
export class Board {
  shown: Shown = NOTHING
  private question: BoardQuestion | null = null
  private readonly askings: { readonly [P in Piece]: Asking<SignalsQuestion, Answers[P]> }
  private began = 0
  private timer: ReturnType<typeof setTimeout> | undefined
  private asking = false
  private isRecalled = false
  private subject: string | null = null
  /** Called when `shown` is another one. */
  changed = () => {}
  /** Called when all of a question has been answered. */
  answered = (_subject: string, _question: BoardQuestion, _answers: Answers) => {}

  constructor(
    private readonly lane: Pick<Lane, 'ask' | 'supersede' | 'stop'>,
    private readonly now: () => number = () => performance.now(),
  ) {
    const make = <P extends Piece>(piece: P) => new Asking(TOPICS[piece], lane, () => this.heard())
    this.askings = Object.fromEntries(PIECES.map((piece) => [piece, make(piece)])) as never
  }

  get running(): boolean {
    return PIECES.some((piece) => this.askings[piece].running)
  }

  /** @param subject the design's name: of another one nothing is known */
  ask(question: BoardQuestion, subject: string): void {
    if (subject !== this.subject) this.forget()
    this.subject = subject
    if (this.question && sameKey(boardKey(question), boardKey(this.question)) && !this.shown.isStopped) return
    if (this.question) this.isRecalled = false
    this.question = question
    this.began = this.now()
    this.asking = true
    const diagrams = [...diagramsOf(question), ...(question.figures ?? []).map((f) => f.diagram)]
    for (const piece of PIECES) {
      this.askings[piece].ask({ ...question, ...seen(diagrams, piece) })
    }
    this.asking = false
    this.heard()
  }

  /** Shows what was computed of the open design when it was last open, as long as nothing else is known of it. */
  recall({ of, answers }: LastResult, subject: string): void {
    if (subject !== this.subject || !this.question || this.shown !== NOTHING || of !== textOf(this.question)) return
    const pieces = answers as Answers
    // What lies on a device may have been laid there by anybody.
    if (!PIECES.every((piece) => typeof pieces[piece] === 'object')) return
    for (const piece of PIECES) this.askings[piece].recall(pieces[piece] as never)
    this.isRecalled = true
    this.show({ ...this.taken(), isRecalled: true })
  }

  private forget(): void {
    clearTimeout(this.timer)
    this.isRecalled = false
    for (const piece of PIECES) this.askings[piece].forget()
    this.question = null
    this.show(NOTHING)
  }

  /** Ends what is under way. */
  stop(): void {
    this.lane.stop()
  }

  /** A piece has been answered, or is no longer asked. */
  private heard(): void {
    if (this.asking || !this.question) return
    clearTimeout(this.timer)
    const waited = this.now() - this.began
    if (!this.running) {
      this.isRecalled = false
      this.show(this.taken())
      const { answers, isStopped } = this.shown
      if (!isStopped) this.answered(this.subject!, this.question, answers)
      return
    }
    const { isRecalled } = this
    if (waited >= GRACE) this.show({ ...this.taken(), isStale: !isRecalled, isRecalled, isSlow: waited >= SLOW_AFTER })
    const next = waited < GRACE ? GRACE : SLOW_AFTER
    if (waited < SLOW_AFTER) this.timer = setTimeout(() => this.heard(), next - waited)
  }

  /** Every piece as far as it is known: of the question, else the last there was. */
  private taken(): Shown {
    const failures: Partial<Record<Piece, Failure>> = {}
    const answers: Partial<Record<Piece, unknown>> = {}
    let isStopped = false
    for (const piece of PIECES) {
      const asking = this.askings[piece]
      const { known, last } = asking
      isStopped ||= asking.stopped
      if (asking.isFresh && known!.failure) failures[piece] = known!.failure
      answers[piece] = asking.isFresh ? known!.answer : (last?.answer ?? null)
    }
    answers.verdicts ??= NO_VERDICTS
    return {
      question: this.question,
      answers: answers as unknown as Answers,
      failures,
      isStale: isStopped,
      isSlow: false,
      isStopped,
      isRecalled: false,
    }
  }

  private show(next: Shown): void {
    if (next === this.shown) return
    this.shown = next
    this.changed()
  }
}

/** The page's board. */
export const board = new Board(lanes.live)

/** ms after the last answer: what is typed in a row is kept once. */
const KEEP_AFTER = 1000
let keeping: ReturnType<typeof setTimeout> | undefined
board.answered = (design, question, answers) => {
  clearTimeout(keeping)
  keeping = setTimeout(() => void keepResult(design, resultOf(question, answers)), KEEP_AFTER)
}
