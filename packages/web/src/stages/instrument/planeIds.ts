import type { Diagram } from '@voskel/core'

/** Views in which no frequency stands along an axis: curves are ways through a plane. */
const PLANE_IDS = ['nyquist', 'nichols', 'smith', 'roots'] as const
export type PlaneId = (typeof PLANE_IDS)[number]

export const isPlane = (view: Diagram['view']): view is PlaneId => PLANE_IDS.some((id) => id === view)
