import type { Box, GridPoint } from '@voskel/core'
import { select } from 'd3-selection'
// Gives selections what a zoom needs to stop one.
import 'd3-transition'
import { zoom, zoomIdentity, type ZoomTransform } from 'd3-zoom'
import { onBeforeUnmount, onMounted, type Ref, ref, shallowRef } from 'vue'
import { GRID } from './scene'

const LEAST_ZOOM = 0.1
const MOST_ZOOM = 4

/** The largest at which a whole drawing is shown. */
const LARGEST = 1.35

/** ms after a gesture until the drawing is painted at its new size: another may follow. */
const SETTLES = 200

/** Zoom below which every fourth dot is shown. */
const SPARSE_BELOW = 0.45

/** Pixels beside what is fitted: names and values stand beyond the parts' own outlines. */
const MARGIN = 36

/**
 * Pan and zoom of a sheet: the wheel zooms, two fingers pinch. The transform goes to the world's style without Vue, so that
 * a frame costs no rendering.
 *
 * @param layers what moves with the sheet: the world of the drawing, and the dots of the grid, where there are any
 * @param pans whether a press moves the sheet
 */
export function useViewport(
  root: Ref<HTMLElement | null>,
  layers: { readonly world: Ref<HTMLElement | null>; readonly dots?: Ref<HTMLElement | null> },
  pans: (event: MouseEvent | TouchEvent) => boolean,
) {
  const size = shallowRef({ width: 0, height: 0 })
  /** For what follows the sheet and is drawn by Vue; told once a gesture ends, or at each step where it is asked for. */
  const view = shallowRef<ZoomTransform>(zoomIdentity)
  const isMoving = ref(false)
  let now: ZoomTransform = zoomIdentity
  /** How everything was last shown; moved by hand, the view is no longer that. */
  let fitted: ZoomTransform | null = null

  const behaviour = zoom<HTMLElement, unknown>()
    .scaleExtent([LEAST_ZOOM, MOST_ZOOM])
    .filter((event: MouseEvent | TouchEvent | WheelEvent) =>
      event.type === 'wheel' ? !(event as WheelEvent).altKey : event.type !== 'dblclick' && pans(event as MouseEvent),
    )
    .on('start', () => {
      clearTimeout(ended)
      isMoving.value = true
    })
    .on('zoom', ({ transform }: { transform: ZoomTransform }) => show(transform))
    .on('end', () => {
      isMoving.value = false
      ended = setTimeout(settle, SETTLES)
    })

  let ended: ReturnType<typeof setTimeout> | undefined

  /**
   * Moved, the drawing is a picture that is shown elsewhere; zoomed, it would be painted anew at every step: meanwhile it is
   * scaled as a picture, and sharp again as soon as the hand rests.
   */
  function show(transform: ZoomTransform) {
    if (transform.k !== now.k) isBlurred = true
    now = transform
    const { x, y, k } = transform
    const world = layers.world.value
    if (world) {
      world.style.transform = `translate3d(${x}px, ${y}px, 0) scale(${k})`
    }
    if (!isDotted(dotted)) showDots()
    view.value = transform
  }

  /** Whether the drawing was scaled since it was painted. */
  let isBlurred = false

  function settle() {
    const world = layers.world.value
    showDots()
    if (!world || !isBlurred) return
    isBlurred = false
    world.style.willChange = 'auto'
    requestAnimationFrame(() => requestAnimationFrame(() => (world.style.willChange = '')))
  }

  /** Where the dots of the grid are painted, grid units. */
  let dotted: Box = { left: 0, right: 0, top: 0, bottom: 0 }

  function isDotted(box: Box): boolean {
    const { left, right, top, bottom } = boxOf(now)
    return box.left <= left && box.right >= right && box.top <= top && box.bottom >= bottom
  }

  /** Paints the dots where they are seen, and as far beyond on every side. */
  function showDots() {
    const dots = layers.dots?.value
    if (!dots || size.value.width === 0) return
    const { left, right, top, bottom } = boxOf(now)
    const [w, h] = [right - left, bottom - top]
    const cell = now.k < SPARSE_BELOW ? 4 : 1
    // The first of them half a cell before a whole one: a dot stands in the middle of its tile.
    const first = (at: number) => Math.floor(at / cell) * cell - cell / 2
    dotted = { left: first(left - w), right: right + w, top: first(top - h), bottom: bottom + h }
    Object.assign(dots.style, {
      left: `${dotted.left * GRID}px`,
      top: `${dotted.top * GRID}px`,
      width: `${(dotted.right - dotted.left) * GRID}px`,
      height: `${(dotted.bottom - dotted.top) * GRID}px`,
      backgroundSize: `${cell * GRID}px ${cell * GRID}px`,
    })
  }

  let observer: ResizeObserver | null = null
  onMounted(() => {
    const element = root.value!
    select(element).call(behaviour)
    const measure = () => {
      const { clientWidth: width, clientHeight: height } = element
      if (width === size.value.width && height === size.value.height) return
      size.value = { width, height }
      showDots()
    }
    // At once, and in the same whole pixels as later: what is drawn for a size need not be drawn twice.
    measure()
    observer = new ResizeObserver(measure)
    observer.observe(element)
  })
  onBeforeUnmount(() => {
    observer?.disconnect()
    clearTimeout(ended)
  })

  function go(transform: ZoomTransform) {
    if (root.value) behaviour.transform(select(root.value), transform)
  }

  /** The zoom at which a box fits. */
  function zoomFor({ left, right, top, bottom }: Box): number {
    const { width, height } = size.value
    const [w, h] = [Math.max(1, (right - left) * GRID), Math.max(1, (bottom - top) * GRID)]
    return Math.max(LEAST_ZOOM, Math.min(LARGEST, (width - 2 * MARGIN) / w, (height - 2 * MARGIN) / h))
  }

  /** Whether all of a box is in view. */
  function shows(box: Box): boolean {
    const view = seen()
    return box.left >= view.left && box.right <= view.right && box.top >= view.top && box.bottom <= view.bottom
  }

  /** Shows a box as large as can be, in grid units. */
  function fit(box: Box | null) {
    const { width, height } = size.value
    if (!box || width === 0 || height === 0) return
    const k = zoomFor(box)
    const x = width / 2 - (k * GRID * (box.left + box.right)) / 2
    const y = height / 2 - (k * GRID * (box.top + box.bottom)) / 2
    go(zoomIdentity.translate(x, y).scale(k))
    fitted = now
  }

  /** Whether the view is still the one that showed everything. */
  const isFitted = () => fitted !== null && fitted.x === now.x && fitted.y === now.y && fitted.k === now.k

  /** Brings a place into view, as near as it need be. */
  function reveal({ x, y }: GridPoint, margin = 60) {
    const [px, py] = now.apply([x * GRID, y * GRID])
    const { width, height } = size.value
    if (width === 0) return
    const dx = px < margin ? margin - px : px > width - margin ? width - margin - px : 0
    const dy = py < margin ? margin - py : py > height - margin ? height - margin - py : 0
    if (dx !== 0 || dy !== 0) go(zoomIdentity.translate(now.x + dx, now.y + dy).scale(now.k))
  }

  function zoomBy(factor: number) {
    if (root.value) behaviour.scaleBy(select(root.value), factor)
  }

  /** Brings a place into the middle. */
  function centre({ x, y }: GridPoint) {
    const { width, height } = size.value
    go(zoomIdentity.translate(width / 2 - now.k * GRID * x, height / 2 - now.k * GRID * y).scale(now.k))
  }

  /** What is in view, in grid units. */
  const seen = (): Box => boxOf(view.value)

  function boxOf({ x, y, k }: ZoomTransform): Box {
    const { width, height } = size.value
    const unit = GRID * k
    return { left: -x / unit, right: (width - x) / unit, top: -y / unit, bottom: (height - y) / unit }
  }

  /** A place of the window in grid units, as the drawing has them. */
  function toGrid({ clientX, clientY }: { clientX: number; clientY: number }): GridPoint {
    const { left, top } = root.value!.getBoundingClientRect()
    const [x, y] = now.invert([clientX - left, clientY - top])
    return { x: x / GRID, y: y / GRID }
  }

  /** A place of the drawing in pixels of the sheet. */
  function toSheet({ x, y }: GridPoint): { left: number; top: number } {
    const [left, top] = view.value.apply([x * GRID, y * GRID])
    return { left, top }
  }

  return {
    size,
    isMoving,
    zoom: () => now.k,
    fit,
    isFitted,
    reveal,
    zoomBy,
    centre,
    seen,
    shows,
    zoomFor,
    toGrid,
    toSheet,
  }
}

export type Viewport = ReturnType<typeof useViewport>
