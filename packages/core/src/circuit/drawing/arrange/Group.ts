import type { GridPoint, Part } from '../../circuit.js'
import { GROUND_NAME } from '../../flatten.js'
import { Boxes } from '../Boxes.js'
import { type Box, type Facing, movedBox, pinAt, symbolBox } from '../geometry.js'
import { candidatesOf, labelBox, nameBox } from '../labels.js'
import type { Member, Sketch } from './Sketch.js'

export type Place = NonNullable<Part['at']>

/** Grid units between what lies beside each other. */
export const AIR = 0.3

const ROTATIONS = [0, 90, 180, 270] as const

/** The eight ways in which a part can lie, the plainest first. */
export const ORIENTATIONS: readonly Omit<Place, 'x' | 'y'>[] = [
  ...ROTATIONS.map((rotation) => ({ rotation })),
  ...ROTATIONS.map((rotation) => ({ rotation, mirrored: true })),
]

/** What something covers: words, which may stand elsewhere, or the wires of a net, or anything that stays. */
export interface Taken extends Box {
  readonly words?: true
  readonly net?: string
}

/** A pin that stands for a rail or a name, with the place of its symbol: the pin's own, or a grid unit away. */
export interface Ending {
  readonly part: string
  readonly pin: string
  readonly net: string
  /** Of a ground symbol; null where the net's name stands at the pin. */
  readonly ground: GridPoint | null
}

/** What a net's wires begin from: the line that its parts lie along. */
export interface Line {
  readonly net: string
  readonly y: number
  readonly left: number
  readonly right: number
}

/** Parts that lie in a fixed way to each other, with everything that they cover. */
export class Group {
  readonly places = new Map<string, Place>()
  readonly boxes: Taken[] = []
  readonly endings: Ending[] = []
  readonly lines: Line[] = []
  /** Ways that wires take where nothing is in their way: of a net, from corner to corner. */
  readonly ways: { readonly net: string; readonly points: readonly GridPoint[] }[] = []
  /** Pins on a net that is joined by name elsewhere, which hang on one line here. */
  readonly joined: { readonly part: string; readonly pin: string; readonly net: string }[] = []

  constructor(
    private readonly sketch: Sketch,
    private readonly textOf: (part: Part) => string | null,
  ) {}

  /** A group without anything in it. */
  empty(): Group {
    return new Group(this.sketch, this.textOf)
  }

  pin(part: string, pin: string): (GridPoint & { readonly faces: Facing }) | null {
    const at = this.places.get(part)
    return at ? pinAt(this.sketch.members.get(part)!.part, at, pin) : null
  }

  /**
   * Adds a part, with symbols and names at those of its pins that have no wire.
   *
   * @param line the net that it hangs from
   */
  add({ part, nets }: Member, at: Place, line?: string): void {
    const lying = { ...part, at }
    this.places.set(part.id, at)
    this.boxes.push(symbolBox(lying)!)
    const said = new Map<string, GridPoint>()
    const points = [...nets].map(([pin, net]) => ({ pin, net, ...pinAt(part, at, pin) }))
    // Ends above and below first: what is beside them on the same net is joined to them.
    points.sort((a, b) => Number(isBeside(a.faces)) - Number(isBeside(b.faces)))
    for (const { pin, net, x, y, faces } of points) {
      if (!this.sketch.isSymbol(net)) continue
      if (net === line) {
        this.joined.push({ part: part.id, pin, net })
        continue
      }
      const known = said.get(net)
      if (known && known.x === x) continue
      said.set(net, { x, y })
      this.end(part.id, pin, net, { x, y, faces })
    }
    this.boxes.push(...this.labelOf(lying))
  }

  private end(part: string, pin: string, net: string, { x, y, faces }: GridPoint & { faces: Facing }): void {
    if (net === GROUND_NAME && faces !== 'up') {
      const ground = { x: faces === 'left' ? x - 1 : faces === 'right' ? x + 1 : x, y }
      this.endings.push({ part, pin, net, ground })
      this.boxes.push(groundBox(ground))
      return
    }
    this.endings.push({ part, pin, net, ground: null })
    const side = faces === 'up' ? 'above' : faces === 'down' ? 'below' : faces
    this.boxes.push(nameBox(net, { x, y }, side))
  }

  /** The room of a part's label where it usually stands. */
  private labelOf(part: Part): Taken[] {
    const text = this.textOf(part)
    const box = labelBox(part, text, candidatesOf(part, text)[0])
    return box ? [{ ...box, words: true }] : []
  }

  /** Takes another group in, moved. */
  take(other: Group, by: GridPoint): void {
    for (const [id, at] of other.places) this.places.set(id, { ...at, x: at.x + by.x, y: at.y + by.y })
    this.boxes.push(...other.boxes.map((box) => ({ ...box, ...movedBox(box, by) })))
    for (const e of other.endings)
      this.endings.push({ ...e, ground: e.ground && { x: e.ground.x + by.x, y: e.ground.y + by.y } })
    this.joined.push(...other.joined)
    for (const l of other.lines) this.lines.push({ ...l, y: l.y + by.y, left: l.left + by.x, right: l.right + by.x })
  }
}

const isBeside = (faces: Facing) => faces === 'left' || faces === 'right'

function groundBox(at: GridPoint): Box {
  return symbolBox({ id: '', kind: 'ground', values: {}, at: { ...at, rotation: 0 } })!
}

/**
 * Whether boxes, moved, lie on nothing.
 *
 * @param over grid units of air above and below; none where pins may meet
 */
export const isFree = (taken: Boxes<Taken>, boxes: readonly Box[], by: GridPoint, over = 0): boolean =>
  boxes.every(({ left, right, top, bottom }) =>
    taken.isFree(movedBox({ left: left - AIR, right: right + AIR, top: top - over, bottom: bottom + over }, by)),
  )
