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

/** Pixels beside what is fitted: names and values stand beyond the parts' own outlines. */
const MARGIN = 36

/**
 * Pan and zoom of a sheet: the wheel zooms, two fingers pinch. The transform goes to the world's style without Vue, so that
 * a frame costs no rendering.
 *
 * @param pans whether a press moves the sheet
 */
export function useViewport(
  root: Ref<HTMLElement | null>,
  world: Ref<HTMLElement | null>,
  pans: (event: MouseEvent | TouchEvent) => boolean,
) {
  const size = shallowRef({ width: 0, height: 0 })
  /** For what follows the sheet and is drawn by Vue; told once a gesture ends, or at each step where it is asked for. */
  const view = shallowRef<ZoomTransform>(zoomIdentity)
  const isMoving = ref(false)
  let now: ZoomTransform = zoomIdentity

  const behaviour = zoom<HTMLElement, unknown>()
    .scaleExtent([LEAST_ZOOM, MOST_ZOOM])
    .filter((event: MouseEvent | TouchEvent | WheelEvent) =>
      event.type === 'wheel' ? !(event as WheelEvent).altKey : event.type !== 'dblclick' && pans(event as MouseEvent),
    )
    .on('start', () => (isMoving.value = true))
    .on('zoom', ({ transform }: { transform: ZoomTransform }) => show(transform))
    .on('end', () => (isMoving.value = false))

  function show(transform: ZoomTransform) {
    now = transform
    const { x, y, k } = transform
    if (world.value) world.value.style.transform = `translate(${x}px, ${y}px) scale(${k})`
    if (root.value) {
      root.value.style.setProperty('--dots', `${GRID * k * (k < 0.45 ? 4 : 1)}px`)
      root.value.style.backgroundPosition = `${x}px ${y}px`
    }
    view.value = transform
  }

  let observer: ResizeObserver | null = null
  onMounted(() => {
    const element = root.value!
    select(element).call(behaviour)
    observer = new ResizeObserver(([entry]) => {
      const { width, height } = entry!.contentRect
      size.value = { width, height }
    })
    observer.observe(element)
  })
  onBeforeUnmount(() => observer?.disconnect())

  function go(transform: ZoomTransform) {
    if (root.value) behaviour.transform(select(root.value), transform)
  }

  /** Shows a box as large as can be, in grid units. */
  function fit(box: Box | null) {
    const { width, height } = size.value
    if (!box || width === 0 || height === 0) return
    const [w, h] = [(box.right - box.left) * GRID, (box.bottom - box.top) * GRID]
    const k = Math.max(
      LEAST_ZOOM,
      Math.min(LARGEST, (width - 2 * MARGIN) / Math.max(w, 1), (height - 2 * MARGIN) / Math.max(h, 1)),
    )
    const x = width / 2 - (k * GRID * (box.left + box.right)) / 2
    const y = height / 2 - (k * GRID * (box.top + box.bottom)) / 2
    go(zoomIdentity.translate(x, y).scale(k))
  }

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

  /** Moves the sheet by some pixels. */
  function panBy(dx: number, dy: number) {
    go(zoomIdentity.translate(now.x + dx, now.y + dy).scale(now.k))
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

  return { size, view, isMoving, fit, reveal, zoomBy, panBy, toGrid, toSheet, go }
}
