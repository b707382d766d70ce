import { type Diagram, diagramsOf, signalsOf, withNewFigure } from '@voskel/core'
import { ElMessage } from 'element-plus'
import type { Ref } from 'vue'
import { keptRun, partTexts, useComparedStore } from '../../stores/compared'
import { useDesignStore } from '../../stores/design'
import { useResultsStore } from '../../stores/results'
import type { Computed } from './Over'
import { measuresOf } from './reading'
import { runCurves } from './runCurves'

/**
 * What is laid beside the curves of the open design, and where its diagrams go.
 *
 * @param read opens what is read of the curves
 */
export function useBeside(known: Ref<Computed>, read: () => void) {
  const design = useDesignStore()
  const results = useResultsStore()
  const compared = useComparedStore()

  /** What is on the screen, kept under a name: every curve, every measure, the parts' values. */
  async function pin(name: string, note: string): Promise<string | null> {
    const { document } = design
    if (!document) return 'There is no design.'
    const curves = runCurves(known.value)
    if (curves.length === 0) return 'There is no curve yet.'
    const measures = Object.fromEntries(
      (['frequency', 'time'] as const).flatMap((over) => measuresOf(over, known.value)).map((m) => [m.path, m.value]),
    )
    const parts = partTexts(results.circuit?.circuit)
    const kept = keptRun({ name, ...(note && { note }), from: document.name, measures, parts }, curves)
    const failure = await compared.keep(kept, `${name} pinned`)
    if (failure === null) read()
    return failure
  }

  /** What was laid over is to be seen: where no diagram shows it, one is added. */
  function showTaken(taken: readonly { signal: string; over: Diagram['over']; unit: string }[]) {
    const document = design.document
    if (!document) return
    const missing = taken.filter(
      ({ signal, over }) => !diagramsOf(document).some((d) => d.over === over && signalsOf(d).includes(signal)),
    )
    const added = [...new Map(missing.map((m) => [`${m.over} ${m.signal}`, m])).values()].map(
      ({ signal, over, unit }): Diagram =>
        over === 'time' || unit === 'V' || unit === ''
          ? { over, view: over === 'time' ? 'value' : 'db', signals: [signal] }
          : { over, view: 'value', signals: [signal], scale: 'log' },
    )
    if (added.length > 0) design.edit('diagram added', { ...document, diagrams: [...diagramsOf(document), ...added] })
    read()
  }

  /** Lays a diagram on the drawing, below what is there. */
  function placeOnDrawing(diagram: Diagram) {
    const { document } = design
    const circuit = results.circuit?.circuit
    if (!document || !circuit) return
    const below = [
      ...circuit.parts.map((p) => (p.at ? p.at.y + 6 : 0)),
      ...(document.figures ?? []).map((f) => f.at.y + f.height + 2),
    ]
    const left = circuit.parts.reduce((least, p) => Math.min(least, p.at?.x ?? 0), Infinity)
    const at = { x: Number.isFinite(left) ? left - 2 : 0, y: below.reduce((a, b) => Math.max(a, b), 0) }
    design.edit('diagram on the drawing', withNewFigure(document, diagram, at))
    ElMessage.success('It lies on the drawing, below the circuit.')
  }

  return { pin, showTaken, placeOnDrawing }
}
