import { z } from 'zod'

/** What of the signals a diagram shows over frequency, and over time. */
export const FREQUENCY_VIEWS = [
  'db',
  'value',
  'phase',
  'phase-delay',
  'delay',
  're',
  'im',
  'nyquist',
  'nichols',
  'smith',
  'roots',
  'noise',
  'influence',
] as const
export const TIME_VIEWS = ['value', 'spectrum', 'against'] as const

/** Most signals along one axis. */
export const MOST_SIGNALS = 20

const range = (text: string) =>
  z
    .tuple([z.number({ error: text }), z.number({ error: text })])
    .refine(([from, to]) => to > from, { error: 'A range ends above its begin.' })

const LABEL = z.string().max(80, 'A label has at most 80 characters.').optional()
export const MOST_NOTES = 30

/** What is drawn along one vertical axis. */
const AXIS = {
  /** Over frequency and over time `value` is the quantity itself, in its own unit; the first of `against` stands along x. */
  view: z.enum([...new Set([...FREQUENCY_VIEWS, ...TIME_VIEWS])]),
  /** As `parseSignal` reads them. */
  signals: z
    .array(z.string().min(1).max(1000))
    .min(1)
    .max(MOST_SIGNALS, `A diagram shows at most ${MOST_SIGNALS} curves.`),
  /** What the magnitude is read in; left out, dB over the input. `log`: a quantity's own unit along even decades. */
  scale: z.enum(['db-relative', 'factor', 'percent', 'log']).optional(),
  /** Phase in radians instead of degrees. */
  radians: z.boolean().optional(),
  /** Phase between −180° and 180°. */
  wrapped: z.boolean().optional(),
  /** Instead of the curves, how far the circuit is from what stands beside it. */
  difference: z.boolean().optional(),
  /** Ends of the axis; left out, as the curves want it. */
  y: range('The ends of an axis are numbers.').optional(),
}

/** One diagram of a design: which signals are drawn, over what, and as what. */
export const DiagramSchema = z
  .strictObject({
    over: z.enum(['frequency', 'time']),
    ...AXIS,
    signals: AXIS.signals.default(['v(out)']),
    /** What is read off the axis at the right. */
    right: z.strictObject(AXIS).optional(),
    /** Hz or s that are shown; left out, where something happens. */
    x: range('The ends of a range are numbers.').optional(),
    /** Even frequencies instead of even decades. */
    linear: z.boolean().optional(),
    /** Frequencies as ω in rad/s instead of f in Hz. */
    angular: z.boolean().optional(),
    /** Whether the passband is magnified in a lens; left out, where its ripple could not be seen otherwise. */
    lens: z.boolean().optional(),
    /** The points that were computed are marked. */
    points: z.boolean().optional(),
    /** The straight lines that magnitude and phase follow far from poles and zeros. */
    asymptotes: z.boolean().optional(),
    /** A straight line of so many dB a decade, through the first cursor or the cutoff. */
    ruler: z.number({ error: 'A slope is a number of dB a decade.' }).min(-1000).max(1000).optional(),
    /** What is promised stands behind the curves; left out, it does. */
    mask: z.boolean().optional(),
    /** Stands above the curves. */
    title: z.string().max(120, 'A title has at most 120 characters.').optional(),
    /** Names of the curves in a frame of their own, rather than at their ends. */
    legend: z.boolean().optional(),
    /** What stands along the axes, where it is not the usual. */
    labels: z.strictObject({ x: LABEL, y: LABEL, right: LABEL }).optional(),
    /** Free words at places: Hz or s, and what is along the left axis. */
    notes: z
      .array(
        z.strictObject({
          text: z.string().min(1, 'A note needs words.').max(200),
          at: z.tuple([z.number(), z.number()]),
        }),
      )
      .max(MOST_NOTES, `A diagram has at most ${MOST_NOTES} notes.`)
      .optional(),
  })
  .superRefine(({ over, view, right, x }, context) => {
    const views: readonly string[] = over === 'frequency' ? FREQUENCY_VIEWS : TIME_VIEWS
    const check = (of: string, path: string[]) => {
      if (!views.includes(of))
        context.addIssue({ code: 'custom', path, message: `Over ${over} the view is one of ${views.join(', ')}.` })
    }
    check(view, ['view'])
    if (right) check(right.view, ['right', 'view'])
    if (x && !(over === 'frequency' ? x[0] > 0 : x[0] >= 0))
      context.addIssue({
        code: 'custom',
        path: ['x'],
        message: over === 'frequency' ? 'A range of frequencies begins above 0 Hz.' : 'A time is 0 s or later.',
      })
  })
export type Diagram = z.output<typeof DiagramSchema>
/** What is drawn along one vertical axis of a diagram. */
export type DiagramAxis = NonNullable<Diagram['right']>

/** What is drawn of a design that says nothing of it. */
export const DEFAULT_DIAGRAMS: readonly Diagram[] = [
  { over: 'frequency', view: 'db', signals: ['v(out)'] },
  { over: 'frequency', view: 'phase', signals: ['v(out)'] },
  { over: 'time', view: 'value', signals: ['v(out)'] },
]

/** The output of a design that says nothing of it. */
export const USUAL_OUTPUT = 'v(out)'

interface Drawn {
  readonly diagrams?: readonly Diagram[]
  readonly study?: { readonly output?: string }
}

/** The signal that is a design's output. */
export const outputOf = ({ study }: Drawn): string => study?.output ?? USUAL_OUTPUT

/** The diagrams of a design, in their order; where it says nothing of them, those of its output. */
export const diagramsOf = (design: Drawn): readonly Diagram[] =>
  design.diagrams ?? DEFAULT_DIAGRAMS.map((d) => ({ ...d, signals: [outputOf(design)] }))

/** Everything that a diagram draws. */
export const signalsOf = ({ signals, right }: Pick<Diagram, 'signals' | 'right'>): readonly string[] => [
  ...signals,
  ...(right?.signals ?? []),
]

/** The diagram with other signals along each of its axes; an axis that would have none keeps its own. */
export function withDiagramSignals(
  diagram: Diagram,
  change: (signals: readonly string[], axis: DiagramAxis) => readonly string[],
): Diagram {
  const of = (axis: DiagramAxis) => [...new Set(change(axis.signals, axis))]
  const left = of(diagram)
  const right = diagram.right && of(diagram.right)
  const { right: before, ...rest } = diagram
  return {
    ...rest,
    signals: left.length > 0 ? left : diagram.signals,
    ...(before && right && right.length > 0 && { right: { ...before, signals: right } }),
  }
}

/** The signals that diagrams over one quantity draw as curves of their own, each once. */
export const drawnSignals = (diagrams: readonly Diagram[], over: Diagram['over']): readonly string[] => [
  ...new Set(diagrams.filter((d) => d.over === over).flatMap(signalsOf)),
]

/** The range that diagrams over one quantity want to see, Hz or s; null where one of them leaves it open. */
export function drawnRange(
  diagrams: readonly Diagram[],
  over: Diagram['over'],
): { readonly from: number; readonly to: number } | null {
  const own = diagrams.filter((d) => d.over === over)
  const ranges = own.flatMap(({ x }) => (x ? [x] : []))
  if (ranges.length === 0 || ranges.length < own.length) return null
  return { from: Math.min(...ranges.map(([from]) => from)), to: Math.max(...ranges.map(([, to]) => to)) }
}
