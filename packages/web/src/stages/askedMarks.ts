import { type AskedRequirement, formatQuantity, REQUIREMENT_KINDS, type RequirementKind } from '@voskel/core'
import type { AnnotationOptions } from 'chartjs-plugin-annotation'
import type { Palette } from '../diagram/palette'

/** Where marks may be drawn: the diagram's level of 0 dB, its bounds, and whether it shows the phase instead. */
interface Place {
  readonly gain: number
  readonly bounds: { readonly min: number; readonly max: number }
  readonly palette: Palette
  readonly phase: boolean
}

/** Height of a bracket's row and width of what stands at one frequency, as parts of the diagram. */
const ROW = 0.055
const BESIDE = 1.03

/**
 * Marks of what is asked besides the bands: attenuation as a part of the mask, gain (or phase) at a frequency as the stretch
 * it may lie in, everything else along the frequencies as a bracket with its limit at the lower edge.
 */
export function askedMarks(
  requirements: readonly AskedRequirement[],
  { gain, bounds: { min, max }, palette, phase }: Place,
): Record<string, AnnotationOptions> {
  const marks: Record<string, AnnotationOptions> = {}
  let rows = 0
  requirements.forEach((asked, k) => {
    const kind: RequirementKind = REQUIREMENT_KINDS.find((r) => r.kind === asked.kind)!
    if (kind.decided !== 'frequency') return
    // Decibels have no place along degrees.
    if (phase && kind.unit === 'dB') return
    const line = { type: 'line' as const, borderColor: palette.maskEdge }
    if (asked.kind === 'attenuation' && !phase) {
      marks[`asked${k}`] = {
        type: 'box',
        xMin: asked.from,
        xMax: asked.to,
        yMin: gain - asked.limit,
        yMax: max,
        backgroundColor: palette.mask,
        borderColor: palette.maskEdge,
        borderWidth: 1,
        borderDash: [4, 3],
        drawTime: 'beforeDatasetsDraw',
      }
      return
    }
    if (asked.kind === (phase ? 'phase-at' : 'gain-at')) {
      const middle = asked.target! + (phase ? 0 : gain)
      const stretch = { yMin: middle - asked.limit, yMax: middle + asked.limit, borderWidth: 6 }
      marks[`asked${k}`] = { ...line, xMin: asked.at, xMax: asked.at, ...stretch }
      return
    }
    const [from, to] = endsOf(asked)
    if (from === undefined || to === undefined) return
    const y = min + (rows++ + 0.6) * ROW * (max - min)
    const wanted = asked.target === undefined ? '' : ` ${formatQuantity(asked.target, kind.target ?? '')} ±`
    const sign = asked.target === undefined ? (kind.sense === 'at most' ? ' ≤' : ' ≥') : ''
    marks[`asked${k}`] = {
      ...line,
      xMin: from,
      xMax: to,
      yMin: y,
      yMax: y,
      borderWidth: 3,
      label: {
        display: true,
        content: `${kind.name}${wanted}${sign} ${formatQuantity(asked.limit, kind.unit)}`,
        position: 'start',
        yAdjust: -9,
        color: palette.ink,
        backgroundColor: 'transparent',
        padding: 0,
        font: { size: 12, weight: 'normal' },
      },
    }
  })
  return marks
}

/** The stretch of frequencies that a requirement is about; around its frequency where it has one. */
function endsOf({ kind, at, from, to, target }: AskedRequirement): [number?, number?] {
  const place = at ?? (kind === 'cutoff' ? target : undefined)
  return place === undefined ? [from, to] : [place / BESIDE, place * BESIDE]
}
