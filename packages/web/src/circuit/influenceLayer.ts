import { type Box, formatQuantity, type Influence } from '@voskel/core'
import { type LayerTag, tagsAt } from './operatingLayer'
import type { Scene } from './scene'

/** Of the greatest: parts that decide less are not named, and so many at most are. */
const NAMED = 0.05
const MOST = 12

/** What one per cent more of each part does to a requirement, at those that decide it most. */
export function influenceLayer(
  scene: Scene,
  list: readonly Influence[],
  unit: string,
  taken: readonly Box[],
): LayerTag[] {
  const most = Math.abs(list[0]?.perPercent ?? 0)
  const texts = list
    .slice(0, MOST)
    .filter((i) => Math.abs(i.perPercent) >= NAMED * most)
    .flatMap(({ part, perPercent }) => {
      const at = scene.drawing.circuit.parts.find((p) => p.id.toUpperCase() === part.toUpperCase())?.at
      const sign = perPercent > 0 ? '+' : ''
      return at ? [{ lines: [`${sign}${formatQuantity(perPercent, unit, 3)}`], at, kind: 'influence' as const }] : []
    })
  return tagsAt(scene, taken, texts)
}

/** How much each part decides, 0 … 1, by its name. */
export function weightsOf(list: readonly Influence[]): ReadonlyMap<string, number> {
  const most = Math.abs(list[0]?.perPercent ?? 0) || 1
  return new Map(list.map((i) => [i.part, Math.abs(i.perPercent) / most]))
}
