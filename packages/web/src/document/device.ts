import { browserEntries, type Keeping, keepingIn } from './keeping'
import { holdTabName, newTabName, openTabs } from './tabs'

/** What another window tells of a save. */
export interface News {
  readonly design: string
  readonly revision: number
}

/** This tab's share of the device it runs on. */
export interface Device {
  readonly tab: string
  readonly keeping: Keeping
  openTabs(): Promise<ReadonlySet<string>>
  /** Tells the other windows, not this one. */
  tell(news: News): void
  /** What other windows tell. */
  hear(listener: (news: News) => void): void
}

function browserDevice(): Device {
  const tab = newTabName()
  holdTabName(tab)
  const channel = typeof BroadcastChannel === 'function' ? new BroadcastChannel('voskel.designs') : null
  return {
    tab,
    keeping: keepingIn(browserEntries()),
    openTabs,
    tell: (news) => channel?.postMessage(news),
    hear: (listener) => channel?.addEventListener('message', ({ data }: MessageEvent<News>) => listener(data)),
  }
}

let current: Device | null = null

/** The device; found out once. */
export const device = (): Device => (current ??= browserDevice())

/** Lets a test stand on another device. */
export function standOn(other: Device): void {
  current = other
}
