import { insideOf, withInside } from '../../circuit/blocks.js'
import type { Circuit, GridPoint } from '../../circuit/circuit.js'
import { circuitEdit, type EditCall } from '../../circuit/edit/index.js'
import { partKind } from '../../circuit/parts/index.js'
import { type Patches, withOwnValue } from '../../circuit/patch.js'
import { VoskelError } from '../../errors/VoskelError.js'
import type { FilterSpec } from '../../specification/filterSpec.js'
import type { ValueRequirement } from '../../specification/requirements/value.js'
import { asked } from './asked.js'
import type { Cursor } from './cursors.js'
import { type Diagram, diagramsOf, outputOf, withDiagramSignals } from './diagrams.js'
import type { Design } from './Design.js'
import { designedCircuit } from './designedCircuit.js'
import type { Expected } from './expected.js'
import { openedLoop, renamedBy, withLookedAtRenamed, withNetsNamed } from './lookedAt.js'

/** What can be done to a design as a whole. Each gives another design; what was typed stays in all of them. */

/** Another specification, with its requirements. A drawn circuit stays; a derived one is computed anew, patches and all. */
export function withSpecification(design: Design, specification: FilterSpec): Design {
  const { specification: _before, requirements: _asked, ...rest } = design
  return { ...rest, ...asked(specification), circuit: unwitnessed(design.circuit) }
}

/** Other values for synthesis to take. */
export const withValueChoice = (design: Design, values: Design['values']): Design => ({
  ...design,
  values,
  circuit: unwitnessed(design.circuit),
})

/**
 * Something done to the circuit: to a drawn one as it stands, said of a derived one where it can be said of one of its
 * parts. What adds, removes or rewires makes a derived circuit a drawn one, as it was shown.
 *
 * @throws VoskelError as `circuitEdit` and the edit; `CIRCUIT_INVALID` where the design has no circuit
 */
export function withCircuitEdit(design: Design, call: EditCall): Design {
  const next = withEditedCircuit(design, call)
  // What is looked at follows a name.
  const renamed = renamedBy(call)
  return renamed ? withLookedAtRenamed(next, renamed.what, renamed.from, renamed.to) : next
}

/**
 * Something done inside a block, wherever it is used.
 *
 * @throws VoskelError as `withCircuitEdit`; `CIRCUIT_INVALID` where there is no such block, or it would contain itself
 */
export function withBlockEdit(design: Design, block: string, call: EditCall): Design {
  const circuit = design.circuit.origin === 'drawn' ? design.circuit.circuit : circuitShown(design).circuit
  const inside = circuitEdit(call).apply(insideOf(circuit, block))
  return withDrawnCircuit(design, withInside(circuit, block, inside))
}

function withEditedCircuit(design: Design, call: EditCall): Design {
  const { circuit } = design
  const edit = circuitEdit(call)
  if (circuit.origin === 'drawn') return { ...design, circuit: { ...circuit, circuit: edit.apply(circuit.circuit) } }
  const shown = circuitShown(design)
  // Done even where it is only said, so that what cannot be done is refused here and not listed as lost.
  const drawn = edit.apply(shown.circuit)
  const says = edit.says(shown.circuit)
  if (!says) return { ...design, circuit: { origin: 'drawn', circuit: drawn } }
  const patches = says.reduce<Patches>((all, { part, patch }) => {
    const { [part]: before = {}, ...others } = all
    const said = patch(before)
    return Object.keys(said).length > 0 ? { ...others, [part]: said } : others
  }, circuit.patches)
  return withPatches(design, patches)
}

function circuitShown(design: Design) {
  const shown = designedCircuit(design)
  if (shown) return shown
  throw new VoskelError('CIRCUIT_INVALID', {
    problem: 'This design has no circuit yet.',
    fix: 'Choose a realization, or draw a circuit.',
  })
}

/** The design with another drawn circuit; what was computed and what was said of it goes. */
export const withDrawnCircuit = (design: Design, circuit: Circuit): Design => ({
  ...design,
  circuit: { origin: 'drawn', circuit },
})

/** The design with its driving source named, where its circuit has several and none is called V1: the one with an AC value. */
export function withSourceNamed(design: Design): Design {
  const { circuit, study = {} } = design
  if (circuit.origin !== 'drawn' || study.input !== undefined) return design
  const sources = circuit.circuit.parts.filter((p) => partKind(p.kind, p.id).takesWaveform)
  const driving = sources.filter((p) => (p.values.acMagnitude ?? 0) !== 0)
  if (sources.length < 2 || driving.length !== 1 || sources.some((p) => p.id.toUpperCase() === 'V1')) return design
  return withStudy(design, { input: driving[0].id })
}

/** Other things said about the parts of a derived circuit; a drawn one has nothing to say them of. */
export function withPatches(design: Design, patches: Patches): Design {
  if (design.circuit.origin === 'drawn') return design
  return { ...design, circuit: { ...design.circuit, patches: { ...patches } } }
}

/** Other cursors. */
export function withCursors(design: Design, cursors: readonly Cursor[]): Design {
  const { cursors: _before, ...rest } = design
  return cursors.length > 0 ? { ...rest, cursors: [...cursors] } : rest
}

/** One promise more; one of the same name goes. */
export function withPromise(design: Design, promise: ValueRequirement): Design {
  const others = (design.requirements ?? []).filter((r) => r.kind !== 'value' || r.id !== promise.id)
  return { ...design, requirements: [...others, promise] }
}

/** The design without a promise of a name. */
export function withoutPromise(design: Design, id: string): Design {
  const { requirements = [], ...rest } = design
  const others = requirements.filter((r) => r.kind !== 'value' || r.id !== id)
  return others.length > 0 ? { ...rest, requirements: others } : rest
}

/** One expected number more; one of the same name goes. */
export function withExpected(design: Design, expected: Expected): Design {
  return { ...design, expected: [...(design.expected ?? []).filter((e) => e.id !== expected.id), expected] }
}

/** The design without the expected number of a name. */
export function withoutExpected(design: Design, id: string): Design {
  const { expected = [], ...rest } = design
  const others = expected.filter((e) => e.id !== id)
  return others.length > 0 ? { ...rest, expected: others } : rest
}

/** Views whose diagrams show whatever is pointed at. */
const TAKES_MORE: ReadonlySet<Diagram['view']> = new Set(['db', 'phase', 'value'])

/** Puts a signal into the diagrams over frequency and over time, or takes it out of all of them. */
export function withSignalShown(design: Design, signal: string, shows: boolean): Design {
  const diagrams = diagramsOf(design).map((d) =>
    withDiagramSignals(d, (signals, axis) => {
      const without = signals.filter((s) => s !== signal)
      return shows && axis === d && TAKES_MORE.has(d.view) ? [...without, signal] : without
    }),
  )
  return { ...(shows ? withNamesFor(design, signal) : design), diagrams }
}

/** The design with names of their own for the nets of a signal, where its circuit is drawn. */
function withNamesFor(design: Design, signal: string): Design {
  const { circuit } = design
  if (circuit.origin !== 'drawn') return design
  return { ...design, circuit: { ...circuit, circuit: withNetsNamed(circuit.circuit, signal) } }
}

/**
 * A loop opened at a place on a wire, as the input and the output that are looked at.
 *
 * @throws VoskelError as `openedLoop`; `CIRCUIT_INVALID` where the design has no circuit
 */
export function withLoopOpened(design: Design, wire: string, at: GridPoint): Design {
  const before = design.circuit.origin === 'drawn' ? design.circuit.circuit : circuitShown(design).circuit
  const { circuit, input, output } = openedLoop(before, wire, at)
  return withStudy({ ...design, circuit: { origin: 'drawn', circuit } }, { input, output })
}

/** Another output, input, temperature or start; diagrams that drew the output draw the new one. */
export function withStudy(last: Design, change: Partial<NonNullable<Design['study']>>): Design {
  const design = change.output === undefined ? last : withNamesFor(last, change.output)
  const { study, diagrams, ...rest } = design
  const said = Object.fromEntries(Object.entries({ ...study, ...change }).filter(([, v]) => v !== undefined))
  const next: Design = { ...rest, ...(Object.keys(said).length > 0 && { study: said }) }
  if (!diagrams) return next
  const [before, after] = [outputOf(design), outputOf(next)]
  const follow = (signals: readonly string[]) => signals.map((s) => (s === before ? after : s))
  return { ...next, diagrams: diagrams.map((d) => withDiagramSignals(d, follow)) }
}

/** Gives up what an earlier version computed. */
export const computedAnew = (design: Design): Design => ({ ...design, circuit: unwitnessed(design.circuit) })

/**
 * Keeps what an earlier version computed: other values as if they were typed, another structure as a drawn circuit.
 *
 * @throws VoskelError as `designedCircuit`
 */
export function keptAsShown(design: Design): Design {
  const { circuit } = design
  const found = designedCircuit(design)
  if (circuit.origin === 'drawn' || !found?.outdated) return design
  if (found.outdated.kind !== 'values') return { ...design, circuit: { origin: 'drawn', circuit: found.circuit } }
  const patches = found.outdated.changes.reduce<Patches>(
    (all, { part, field, shown }) => ({ ...all, [part]: withOwnValue(all[part] ?? {}, field, shown) }),
    circuit.patches,
  )
  return { ...design, circuit: { origin: 'derived', patches: { ...patches } } }
}

/** The design with the circuit that was computed of it, as it is to be kept. */
export function witnessed(design: Design, base: Circuit): Design {
  return design.circuit.origin === 'drawn' ? design : { ...design, circuit: { ...design.circuit, witness: base } }
}

function unwitnessed(circuit: Design['circuit']): Design['circuit'] {
  if (circuit.origin === 'drawn') return circuit
  const { witness: _gone, ...rest } = circuit
  return rest
}
