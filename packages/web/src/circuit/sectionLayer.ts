import type { Box, FormulaStep } from '@voskel/core'
import { type LayerTag, tagsAt } from './operatingLayer'
import type { Scene } from './scene'

/** Characters of a line of words on the drawing. */
const LINE = 34

/** Words in lines that are not too long. */
function wrapped(text: string): string[] {
  const lines = ['']
  for (const word of text.split(' ')) {
    const last = lines.at(-1)!
    if (last && last.length + word.length >= LINE) lines.push(word)
    else lines[lines.length - 1] = last ? `${last} ${word}` : word
  }
  return lines
}

/** What a part does, as far as its section says it; empty otherwise. */
export const roleOf = (steps: readonly FormulaStep[], part: string): string =>
  steps.flatMap((s) => s.parts ?? []).find((p) => p.id === part)?.role ?? ''

/**
 * What each section of an active circuit makes, at its amplifier's place, and what the chosen part does.
 *
 * @param taken where something else is said already
 */
export function sectionLayer(
  scene: Scene,
  steps: readonly FormulaStep[],
  chosen: readonly string[],
  taken: readonly Box[],
): LayerTag[] {
  const { parts } = scene.drawing.circuit
  const placeOf = (id: string) => parts.find((p) => p.id === id)?.at
  const texts = steps.flatMap(({ lines, parts: own = [] }) => {
    const places = own.flatMap((p) => placeOf(p.id) ?? [])
    if (places.length === 0) return []
    const middle = places.reduce((sum, p) => sum + p.x, 0) / places.length
    const [nearest] = [...places].sort((a, b) => Math.abs(a.x - middle) - Math.abs(b.x - middle))
    return [{ lines: lines[0]!.split(', '), at: nearest!, kind: 'section' as const }]
  })
  const roles = chosen.flatMap((id) => {
    const [at, role] = [placeOf(id), roleOf(steps, id)]
    return at && role ? [{ lines: wrapped(`${id} ${role}`), at, kind: 'role' as const }] : []
  })
  return tagsAt(scene, taken, [...roles, ...texts])
}
