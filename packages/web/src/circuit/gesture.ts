import type { EditCall, GridPoint, Spot } from '@voskel/core'
import { type Chosen, type Hit, NOTHING_CHOSEN, onGrid, toggled } from './hit'

/** What a hand is doing on the sheet. */
export type Gesture =
  | { readonly kind: 'idle' }
  | {
      readonly kind: 'pressed'
      readonly hit: Hit
      readonly at: GridPoint
      readonly adds: boolean
      readonly chosen: Chosen
    }
  | { readonly kind: 'moving'; readonly chosen: Chosen; readonly from: GridPoint; readonly by: GridPoint }
  | {
      readonly kind: 'pulling'
      readonly from: Spot
      readonly at: GridPoint
      readonly to: GridPoint
      readonly over: Hit | null
    }
  | { readonly kind: 'framing'; readonly from: GridPoint; readonly to: GridPoint; readonly adds: boolean }
  | {
      readonly kind: 'sliding'
      readonly wire: string
      readonly stretch: number
      readonly from: GridPoint
      readonly by: GridPoint
    }
  | {
      readonly kind: 'labelling'
      readonly what: Extract<Hit, { kind: 'label' | 'name' }>
      readonly from: GridPoint
      readonly by: GridPoint
    }

/** What a gesture came to. */
export type Outcome =
  | { readonly kind: 'nothing' }
  | { readonly kind: 'choose'; readonly chosen: Chosen; readonly tip?: Spot }
  /** A frame was drawn: what lies in it is chosen. */
  | { readonly kind: 'frame'; readonly from: GridPoint; readonly to: GridPoint; readonly adds: boolean }
  | { readonly kind: 'edit'; readonly call: EditCall }
  /** A wire was pulled to empty paper: what comes there is said next. */
  | { readonly kind: 'say'; readonly from: Spot; readonly at: GridPoint }
  | { readonly kind: 'slide'; readonly wire: string; readonly stretch: number; readonly by: GridPoint }
  | { readonly kind: 'label'; readonly what: Extract<Hit, { kind: 'label' | 'name' }>; readonly by: GridPoint }

/** Grid units that a hand moves before a press is a pull; pixels decide at small zooms. */
const TREMBLE_PX = 4

export const IDLE: Gesture = { kind: 'idle' }

/**
 * A press begins; what it will be is seen when the hand moves.
 *
 * @param adds the press adds to what is chosen
 */
export function pressed(hit: Hit, at: GridPoint, chosen: Chosen, adds: boolean): Gesture {
  return { kind: 'pressed', hit, at, adds, chosen }
}

/** The hand moved. @param scale pixels of a grid unit now */
export function moved(gesture: Gesture, at: GridPoint, scale: number, over: (at: GridPoint) => Hit): Gesture {
  const by = (from: GridPoint) => onGrid({ x: at.x - from.x, y: at.y - from.y })
  switch (gesture.kind) {
    case 'idle':
      return gesture
    case 'pressed': {
      const { hit, at: from, chosen, adds } = gesture
      if (Math.hypot(at.x - from.x, at.y - from.y) * scale < TREMBLE_PX) return gesture
      return moved(begun(hit, from, chosen, adds), at, scale, over)
    }
    case 'moving':
    case 'sliding':
      return { ...gesture, by: by(gesture.from) }
    case 'labelling':
      return { ...gesture, by: { x: at.x - gesture.from.x, y: at.y - gesture.from.y } }
    case 'pulling': {
      const hit = over(at)
      const to = hit.kind === 'pin' || hit.kind === 'wire' ? hit.at : onGrid(at)
      return { ...gesture, to, over: hit }
    }
    case 'framing':
      return { ...gesture, to: at }
  }
}

function begun(hit: Hit, from: GridPoint, chosen: Chosen, adds: boolean): Gesture {
  switch (hit.kind) {
    case 'pin':
      return { kind: 'pulling', from: hit.end, at: hit.at, to: hit.at, over: null }
    case 'wire':
      return hit.isHandle
        ? { kind: 'sliding', wire: hit.wire, stretch: hit.stretch, from, by: { x: 0, y: 0 } }
        : { kind: 'pulling', from: { wire: hit.wire, at: hit.at }, at: hit.at, to: hit.at, over: null }
    case 'label':
    case 'name':
      return { kind: 'labelling', what: hit, from, by: { x: 0, y: 0 } }
    case 'part':
    case 'note':
      return { kind: 'moving', chosen: isChosen(hit, chosen) ? chosen : only(hit), from, by: { x: 0, y: 0 } }
    case 'paper':
      return { kind: 'framing', from, to: from, adds }
  }
}

/** The hand was lifted. */
export function released(gesture: Gesture): Outcome {
  switch (gesture.kind) {
    case 'idle':
      return { kind: 'nothing' }
    case 'pressed':
      return clicked(gesture.hit, gesture.chosen, gesture.adds)
    case 'moving': {
      const { by, chosen } = gesture
      if (by.x === 0 && by.y === 0) return { kind: 'nothing' }
      const { parts, labels, notes } = chosen
      return {
        kind: 'edit',
        call: {
          edit: 'move-things',
          args: {
            parts: [...parts],
            ...(labels.size > 0 && parts.size === 0 && { labels: [...labels] }),
            ...(notes.size > 0 && { notes: [...notes] }),
            by,
          },
        },
      }
    }
    case 'pulling':
      return pulled(gesture)
    case 'framing':
      return { kind: 'frame', from: gesture.from, to: gesture.to, adds: gesture.adds }
    case 'sliding':
      return { kind: 'slide', wire: gesture.wire, stretch: gesture.stretch, by: gesture.by }
    case 'labelling':
      return { kind: 'label', what: gesture.what, by: gesture.by }
  }
}

function pulled({ from, at, to, over }: Extract<Gesture, { kind: 'pulling' }>): Outcome {
  if (!over || (to.x === at.x && to.y === at.y)) return { kind: 'nothing' }
  if (over.kind === 'pin') return { kind: 'edit', call: { edit: 'draw-wire', args: { from, to: over.end } } }
  if (over.kind === 'wire')
    return { kind: 'edit', call: { edit: 'draw-wire', args: { from, to: { wire: over.wire, at: over.at } } } }
  // On a net's name: joined to it by that name.
  if (over.kind === 'name') return { kind: 'edit', call: { edit: 'name-net', args: { at: from, name: over.name } } }
  return { kind: 'say', from, at: to }
}

function clicked(hit: Hit, chosen: Chosen, adds: boolean): Outcome {
  const tip: Spot | undefined =
    hit.kind === 'pin'
      ? hit.end
      : hit.kind === 'wire'
        ? { wire: hit.wire, at: hit.at }
        : hit.kind === 'paper'
          ? { at: hit.at }
          : undefined
  if (hit.kind === 'pin' || hit.kind === 'paper')
    return { kind: 'choose', chosen: adds ? chosen : NOTHING_CHOSEN, ...(tip && { tip }) }
  const one = only(hit)
  return { kind: 'choose', chosen: adds ? toggled(chosen, one) : one, ...(tip && { tip }) }
}

/** What was hit, and nothing else. */
export function only(hit: Hit): Chosen {
  switch (hit.kind) {
    case 'part':
    case 'label':
      return { ...NOTHING_CHOSEN, parts: new Set([hit.part]) }
    case 'name':
      return { ...NOTHING_CHOSEN, labels: new Set([hit.label]) }
    case 'wire':
      return { ...NOTHING_CHOSEN, wires: new Set([hit.wire]) }
    case 'note':
      return { ...NOTHING_CHOSEN, notes: new Set([hit.note]) }
    default:
      return NOTHING_CHOSEN
  }
}

function isChosen(hit: Hit, { parts, notes }: Chosen): boolean {
  return hit.kind === 'part' ? parts.has(hit.part) : hit.kind === 'note' && notes.has(hit.note)
}
