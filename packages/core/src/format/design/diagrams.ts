import { z } from 'zod'

/** One diagram of a design: which signals are drawn, over what, and as what. */
export const DiagramSchema = z.strictObject({
  over: z.enum(['frequency', 'time']),
  /** Over frequency: magnitude, phase, group delay. Over time: the value itself. */
  view: z.enum(['db', 'phase', 'delay', 'value']),
  /** As `parseSignal` reads them. */
  signals: z.array(z.string().min(1).max(1000)).min(1).max(20).default(['v(out)']),
  /** Even frequencies instead of even decades. */
  linear: z.boolean().optional(),
  /** Frequencies as ω in rad/s instead of f in Hz. */
  angular: z.boolean().optional(),
  /** What the magnitude is read in, over the input or over its own highest value; left out, dB over the input. */
  scale: z.enum(['db-relative', 'factor', 'percent']).optional(),
  /** Phase in radians instead of degrees. */
  radians: z.boolean().optional(),
  /** Phase between −180° and 180°. */
  wrapped: z.boolean().optional(),
  /** Whether the passband is magnified in a lens; left out, where its ripple could not be seen otherwise. */
  lens: z.boolean().optional(),
})
export type Diagram = z.output<typeof DiagramSchema>

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

/** The signals that diagrams over one quantity draw, each once. */
export const drawnSignals = (diagrams: readonly Diagram[], over: Diagram['over']): readonly string[] => [
  ...new Set(diagrams.filter((d) => d.over === over).flatMap((d) => d.signals)),
]
