const LOCK = 'voskel.tab.'

/** This tab's name, other than any other tab's; a page that is loaded anew is a new one. */
export const newTabName = (): string =>
  Array.from(crypto.getRandomValues(new Uint32Array(4)), (n) => n.toString(36)).join('')

/**
 * Holds the name as long as the page lives, so that other tabs know that what it keeps is being looked after. Where the
 * browser has no locks (pages from another machine without HTTPS) every tab counts as gone.
 */
export function holdTabName(name: string): void {
  void navigator.locks?.request(LOCK + name, () => new Promise(() => {}))
}

/** The tabs that are open now. */
export async function openTabs(): Promise<ReadonlySet<string>> {
  const held = (await navigator.locks?.query())?.held ?? []
  return new Set(held.flatMap(({ name }) => (name?.startsWith(LOCK) ? [name.slice(LOCK.length)] : [])))
}
