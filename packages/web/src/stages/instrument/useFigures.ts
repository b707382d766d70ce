import { type FigureFrame, withFigureFramed, withoutFigure } from '@voskel/core'
import { computed } from 'vue'
import type { FigureOnSheet } from '../../circuit/FigureLayer.vue'
import { useDesignStore } from '../../stores/design'
import { captioned } from './captioned'
import { overFrequency } from './overFrequency'
import { overTime } from './overTime'
import { useKnown } from './useKnown'

/** Diagrams that lie on the drawing of the open design, as they are now, and what can be done to them. */
export function useFigures() {
  const design = useDesignStore()
  const known = useKnown()
  const figures = computed(() =>
    (design.document?.figures ?? []).map(({ diagram, ...figure }): FigureOnSheet => {
      const side = diagram.over === 'time' ? overTime : overFrequency
      const plot = captioned(side.plot(diagram, known.value), diagram, side.scales(diagram, known.value))
      return { ...figure, plot, says: side.describe(diagram, known.value) }
    }),
  )

  /** @param group changes of one gesture, undone together */
  function frameFigure(id: string, frame: FigureFrame, group: string) {
    if (design.document) design.edit('diagram moved', withFigureFramed(design.document, id, frame), group)
  }
  function removeFigure(id: string) {
    if (design.document) design.edit('diagram off the drawing', withoutFigure(design.document, id))
  }
  return { figures, frameFigure, removeFigure }
}
