import { computed } from 'vue'
import type { Palette } from '../diagram/palette'
import { useViewStore } from './view'

/** Follows the appearance. */
export function usePalette() {
  const view = useViewStore()
  return computed<Palette>(() => {
    // Read for its dependency: the custom properties change with it.
    void view.appearance
    return paletteOf(document.documentElement)
  })
}

/** Ink on white paper, whatever the appearance. */
export function printPalette(): Palette {
  const paper = document.createElement('div')
  paper.className = 'print-look'
  document.body.append(paper)
  try {
    return paletteOf(paper)
  } finally {
    paper.remove()
  }
}

function paletteOf(element: Element): Palette {
  const style = getComputedStyle(element)
  const get = (name: string) => style.getPropertyValue(name).trim()
  return {
    ink: get('--ink'),
    soft: get('--ink-soft'),
    line: get('--line-strong'),
    grid: get('--grid'),
    paper: get('--paper'),
    mask: get('--mask'),
    maskEdge: get('--mask-edge'),
    met: get('--met'),
    missed: get('--missed'),
    curves: ['--curve-1', '--curve-2', '--curve-3', '--curve-4', '--curve-5'].map(get),
  }
}
