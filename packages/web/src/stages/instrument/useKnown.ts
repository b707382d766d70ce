import { askedSpec, diagramsOf, drawnRange, outputOf } from '@voskel/core'
import { computed } from 'vue'
import { useComparedStore } from '../../stores/compared'
import { useDesignStore } from '../../stores/design'
import { useLargeSignalStore } from '../../stores/largeSignal'
import { useResultsStore } from '../../stores/results'
import type { Computed } from './Over'

/** What was computed of the open design, and what stands beside it, as diagrams draw it. */
export function useKnown() {
  const design = useDesignStore()
  const results = useResultsStore()
  const compared = useComparedStore()
  const large = useLargeSignalStore()
  const diagrams = computed(() => (design.document ? diagramsOf(design.document) : []))

  /** Unit of what the input source gives. */
  const inputUnit = computed(() => {
    const source = results.time?.source.toUpperCase()
    const kind = results.circuit?.circuit?.parts.find((p) => p.id.toUpperCase() === source)?.kind
    return kind === 'current-source' ? 'A' : 'V'
  })

  return computed<Computed>(() => ({
    spec: results.shown.question && askedSpec(results.shown.question),
    output: outputOf(results.shown.question ?? {}),
    ideal: results.ideal,
    circuit: results.circuit,
    roots: results.roots,
    frequency: results.frequency,
    time: results.time,
    noise: results.noise,
    influence: results.influence,
    compared: compared.shown,
    largeSignal: large.asked && { amplitude: large.asked.amplitude, unit: inputUnit.value, points: large.points },
    verdicts: results.verdicts,
    range: drawnRange(diagrams.value, 'frequency') ?? results.range ?? { from: 1, to: 1e6 },
    window: drawnRange(diagrams.value, 'time')?.to ?? results.window ?? 1,
    begin: drawnRange(diagrams.value, 'time')?.from ?? 0,
  }))
}
