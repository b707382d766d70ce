/** An axis: what it spans, and how numbers stand along it. */
export interface Axis {
  readonly title: string
  readonly min: number
  readonly max: number
  /** Even decades instead of even steps. */
  readonly log?: boolean
  /** Numbers take SI prefixes; not for dB and degrees. */
  readonly prefixes?: boolean
  /** Distance of ticks, for degrees. */
  readonly step?: number
}

/** A rectangle of the canvas, px. */
export interface Area {
  readonly left: number
  readonly top: number
  readonly right: number
  readonly bottom: number
}

/** Where values lie along one side of an area. */
export interface Ruler {
  readonly axis: Axis
  /** px of a value */
  place(value: number): number
  /** The value at a px. */
  value(px: number): number
}

/** @param from px of the axis' least value, @param to of its greatest */
export function ruler(axis: Axis, from: number, to: number): Ruler {
  const scale = axis.log ? Math.log : (v: number) => v
  const back = axis.log ? Math.exp : (v: number) => v
  const [low, high] = [scale(axis.min), scale(axis.max)]
  const width = high - low || 1
  return {
    axis,
    place: (value) => from + ((scale(value) - low) / width) * (to - from),
    value: (px) => back(low + ((px - from) / (to - from || 1)) * width),
  }
}

/** An area with the rulers of its sides. */
export interface Frame {
  readonly area: Area
  readonly x: Ruler
  readonly y: Ruler
  /** Of the axis at the right. */
  readonly right?: Ruler
}

export const frame = (area: Area, x: Axis, y: Axis, right?: Axis | null): Frame => ({
  area,
  x: ruler(x, area.left, area.right),
  y: ruler(y, area.bottom, area.top),
  ...(right && { right: ruler(right, area.bottom, area.top) }),
})

/** Two even axes of which one spans more, so that a step is equally long along both. */
export function squared(x: Axis, y: Axis, { left, right, top, bottom }: Area): { x: Axis; y: Axis } {
  const step = Math.max((x.max - x.min) / (right - left || 1), (y.max - y.min) / (bottom - top || 1))
  const widened = (axis: Axis, px: number): Axis => {
    const [middle, half] = [(axis.min + axis.max) / 2, (step * px) / 2]
    return { ...axis, min: middle - half, max: middle + half }
  }
  return { x: widened(x, right - left), y: widened(y, bottom - top) }
}

/** An axis zoomed around a place, by a factor above 1 to see less of it; never beyond what it spans. */
export function zoomedAxis(full: Axis, now: Axis, around: number, factor: number): Axis {
  const r = ruler(now, 0, 1)
  const at = r.place(around)
  return within(full, r.value(at - at / factor), r.value(at + (1 - at) / factor))
}

/** An axis moved by a part of its width, as far as there is something. */
export function pannedAxis(full: Axis, now: Axis, part: number): Axis {
  const whole = ruler(full, 0, 1)
  const [a, b] = [whole.place(now.min), whole.place(now.max)]
  const by = Math.min(Math.max(part * (b - a), -a), 1 - b)
  return { ...now, min: whole.value(a + by), max: whole.value(b + by) }
}

const within = (full: Axis, min: number, max: number): Axis => ({
  ...full,
  min: Math.max(full.min, min),
  max: Math.min(full.max, max),
})
