import type { ApproximatedSpec, Design } from '@voskel/core'
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest'
import { BrowserStandIn, ladder, type Mood, ServerStandIn } from '../testing/standIns'
import { Saver } from './saver'

let server: ServerStandIn
let browser: BrowserStandIn
const edgeOf = (design: Design) => (design.specification as ApproximatedSpec).passband.edges[0]
const named = (name: string, of: Design = ladder()) => ({ ...of, name })

beforeEach(() => {
  vi.useFakeTimers()
  server = new ServerStandIn({ d1: ladder() })
  browser = new BrowserStandIn()
})
afterEach(() => vi.useRealTimers())

/** A saver in a tab, with the document as its tab shows it. */
function saverIn(name: string) {
  const { keeping, tab, tell } = browser.tab(name)
  const { document, revision } = server.designs.get('d1')!
  const shown = { document, why: [] as string[] }
  const saver = new Saver(
    'd1',
    { document, revision, updatedAt: 0 },
    {
      save: server.save,
      read: server.read,
      keeping,
      tab,
      now: Date.now,
      stamped: (d) => d,
      take: (next, why) => {
        shown.document = next
        shown.why.push(why)
      },
      announce: (design, revision) => tell({ design, revision }),
      changed: () => {},
    },
  )
  const edit = (next: Design) => {
    shown.document = next
    saver.edited(next)
  }
  return { saver, shown, edit }
}
const pass = (ms: number) => vi.advanceTimersByTimeAsync(ms)
const stored = () => server.designs.get('d1')!.document

describe('a saver', () => {
  test('saves a moment after the last edit, once for several, and keeps nothing afterwards', async () => {
    const { saver, edit } = saverIn('a')
    edit(named('Two'))
    edit(named('Three'))
    expect(saver.state).toBe('unsaved')
    await pass(0)
    expect(browser.storage.kept.size).toBe(1)
    await pass(1000)
    expect(saver.state).toBe('saved')
    expect([server.saves, stored().name]).toEqual([1, 'Three'])
    expect(browser.storage.kept.size).toBe(0)
  })

  test('saves while something is dragged on and on, but seldom', async () => {
    const { edit } = saverIn('a')
    for (let k = 0; k < 600; k++) {
      edit(named(`Drag ${k}`))
      await pass(16)
    }
    expect(server.saves).toBeGreaterThanOrEqual(2)
    expect(server.saves).toBeLessThanOrEqual(4)
    await pass(1000)
    expect(stored().name).toBe('Drag 599')
  })

  test('has one save under way at a time, however slow the server; that is no conflict', async () => {
    const { saver, edit } = saverIn('a')
    server.slowness = 2500
    for (let k = 1; k <= 8; k++) {
      edit(named(`Edit ${k}`))
      await pass(700)
    }
    await pass(20_000)
    expect(server.mostFlights).toBe(1)
    expect([saver.state, stored().name]).toEqual(['saved', 'Edit 8'])
  })

  test.each<Mood>(['away', 'answer lost', 'lies: failed', 'lies: changed'])(
    'loses nothing to a server that is: %s; when it is well again everything is there, and nobody was asked',
    async (mood) => {
      const { saver, edit } = saverIn('a')
      server.mood = mood
      edit(named('Two'))
      await pass(1000)
      expect(saver.state).toBe('offline')
      edit(named('Three'))
      await pass(30_000)
      // It is told as saved only where the server has it.
      if (stored().name !== 'Three') {
        expect(saver.state).toBe('offline')
        expect([...browser.storage.kept.values()].join()).toContain('Three')
      }
      // It is asked again and again, but not without a pause.
      expect(server.saves).toBeLessThan(30)
      server.mood = 'well'
      await pass(10_000)
      expect([saver.state, stored().name]).toEqual(['saved', 'Three'])
      expect(browser.storage.kept.size).toBe(0)
    },
  )

  test('keeps what the server refuses, and tries once more with the next edit', async () => {
    const { saver, edit } = saverIn('a')
    server.mood = 'refuses'
    edit(named('Two'))
    await pass(60_000)
    expect([saver.state, saver.failure!.status, server.saves]).toEqual(['refused', 422, 1])
    expect(browser.storage.kept.size).toBe(1)
    server.mood = 'well'
    edit(named('Three'))
    await pass(1000)
    expect([saver.state, stored().name]).toEqual(['saved', 'Three'])
  })

  test('says where the device keeps nothing, and where it does again', async () => {
    const { saver, edit } = saverIn('a')
    browser.storage.isFull = true
    server.mood = 'away'
    edit(named('Two'))
    await pass(1000)
    expect(saver.isKept).toBe(false)
    browser.storage.isFull = false
    edit(named('Three'))
    await pass(1000)
    expect(saver.isKept).toBe(true)
  })

  test('keeps a draft as long as it is one', async () => {
    const { saver } = saverIn('a')
    const draft = { response: 'lowpass', approximation: 'bessel', passband: { edges: [-1] } } as const
    saver.drafted(draft as never)
    await pass(300)
    expect([...browser.storage.kept.values()].join()).toContain('bessel')
    saver.drafted(null)
    await pass(300)
    expect(browser.storage.kept.size).toBe(0)
    expect(server.saves).toBe(0)
  })

  test('sends at once what waits when the page goes away', async () => {
    const { saver, edit } = saverIn('a')
    edit(named('Two'))
    saver.leave()
    await pass(0)
    expect(stored().name).toBe('Two')
  })
})

describe('two windows', () => {
  test('follow each other; what the follower showed before stays to be brought back', async () => {
    const [a, b] = [saverIn('a'), saverIn('b')]
    a.edit(named('Two'))
    await pass(1000)
    await b.saver.heard(2)
    expect(b.shown).toMatchObject({ document: { name: 'Two' }, why: ['changed in another window'] })
    b.edit({ ...b.shown.document, notes: 'N' })
    await pass(1000)
    expect([stored().name, stored().notes]).toEqual(['Two', 'N'])
  })

  test('that change different things at once have both', async () => {
    const [a, b] = [saverIn('a'), saverIn('b')]
    a.edit(named('Two'))
    b.edit(ladder('One', 2000))
    await pass(5000)
    expect([stored().name, edgeOf(stored())]).toEqual(['Two', 2000])
    expect([a.saver.state, b.saver.state]).toEqual(['saved', 'saved'])
  })

  test('that change the same thing are asked; neither version is lost on any of the ways out', async () => {
    for (const way of ['takeTheirs', 'keepMine'] as const) {
      server = new ServerStandIn({ d1: ladder() })
      const [a, b] = [saverIn('a'), saverIn('b')]
      a.edit(named('Theirs'))
      await pass(1000)
      b.edit(named('Mine'))
      await pass(1000)
      expect(b.saver.state).toBe('conflict')
      expect(stored().name).toBe('Theirs')
      // Edits go on meanwhile, kept and not sent.
      b.edit({ ...b.shown.document, notes: 'N' })
      await pass(10_000)
      expect([...browser.storage.kept.values()].join()).toContain('"notes":"N"')
      await b.saver[way]()
      await pass(1000)
      expect(b.saver.state).toBe('saved')
      expect(stored().name).toBe(way === 'takeTheirs' ? 'Theirs' : 'Mine')
      expect(b.shown.document.name).toBe(way === 'takeTheirs' ? 'Theirs' : 'Mine')
      browser.storage.kept.clear()
    }
  })

  test('an edit made while the other’s version is being fetched is not overwritten by it', async () => {
    const b = saverIn('b')
    server.elsewhere('d1', (d) => ({ ...d, notes: 'theirs' }))
    server.slowness = 500
    const hearing = b.saver.heard(2)
    await pass(100)
    b.edit(named('Mine'))
    await pass(10_000)
    await hearing
    expect([stored().name, stored().notes]).toEqual(['Mine', 'theirs'])
  })
})
