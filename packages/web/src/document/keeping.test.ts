import { describe, expect, test } from 'vitest'
import { BrowserStandIn, ladder, ServerStandIn, StorageStandIn } from '../testing/standIns'
import { type Kept, keepingIn } from './keeping'
import { Outbox, type Unsent } from './outbox'

const kept = (rest: Partial<Kept> = {}): Kept => ({
  design: 'd1',
  tab: 'gone',
  at: 1,
  revision: 1,
  base: ladder(),
  document: ladder('Mine'),
  sent: [],
  draft: null,
  ...rest,
})
const draft = { response: 'lowpass', approximation: 'bessel', passband: { edges: [-1] } } as unknown as Kept['draft']

describe('what is kept on the device', () => {
  test('comes back as it was, one entry a tab, the oldest first', async () => {
    const keeping = keepingIn(new StorageStandIn())
    const [late, early] = [kept({ tab: 'a', at: 9, draft }), kept({ tab: 'b', at: 3, document: null, draft })]
    expect(await keeping.put(late)).toBe(true)
    expect(await keeping.put(early)).toBe(true)
    expect(await keeping.all()).toEqual([early, late])
    await keeping.remove(late)
    expect(await keeping.all()).toEqual([early])
  })

  const whole = JSON.parse(JSON.stringify(kept({ draft }))) as Record<string, unknown>
  test.each<[string, unknown]>([
    ['nothing', undefined],
    ['a number', 7],
    ['no JSON', '{'],
    ['null', 'null'],
    ['a list', '[]'],
    ['another program’s', '{"user":"x","theme":"dark"}'],
    ['no document', JSON.stringify({ ...whole, document: undefined, draft: undefined })],
    ['a document of another kind', JSON.stringify({ ...whole, document: { format: 'x' } })],
    ['a document that is a text', JSON.stringify({ ...whole, document: 'Mine' })],
    ['a newer document', JSON.stringify({ ...whole, document: { ...ladder(), version: 99 } })],
    ['a revision that is none', JSON.stringify({ ...whole, revision: '1' })],
    ['the entry of another design', JSON.stringify({ ...whole, design: 'd2' })],
  ])('%s is set aside, whole, and is in nobody’s way', async (_, value) => {
    const storage = new StorageStandIn()
    storage.kept.set('d1/gone', value)
    expect(await keepingIn(storage).all()).toEqual([])
    expect(storage.aside.get('d1/gone')).toBe(value)
    expect(storage.kept.size).toBe(0)
  })

  test.each<[string, unknown]>([
    ['a text', 'lowpass'],
    ['no response', { approximation: 'bessel' }],
    ['edges that are none', { response: 'lowpass', approximation: 'bessel', passband: { edges: 'x' } }],
    ['another program’s', { response: 'lowpass', colour: 1 }],
  ])('a draft that is %s is set aside; the document beside it counts', async (_, odd) => {
    const storage = new StorageStandIn()
    storage.kept.set('d1/gone', JSON.stringify({ ...whole, draft: odd }))
    expect(await keepingIn(storage).all()).toEqual([kept()])
    expect(storage.aside.size).toBe(1)
  })

  test('what is set aside is offered: whole, by its name, with what is made of it now or why nothing', async () => {
    const storage = new StorageStandIn()
    const texts: Record<string, string> = {
      'd1/whole': JSON.stringify({ ...whole, design: 'd2' }),
      'd1/newer': JSON.stringify({ ...whole, document: { ...ladder('Of tomorrow'), version: 99 } }),
      'd1/torn': JSON.stringify(whole).slice(0, 300),
      'd1/draft': JSON.stringify({ ...whole, document: null, base: null, draft: 'lowpass' }),
    }
    for (const [key, text] of Object.entries(texts)) storage.kept.set(key, text)
    const keeping = keepingIn(storage)
    expect(await keeping.all()).toEqual([])
    const found = new Map((await keeping.aside()).map((set) => [set.key, set]))
    expect(Object.fromEntries([...found].map(([key, { text }]) => [key, text]))).toEqual(texts)
    expect(found.get('d1/whole')).toMatchObject({ name: 'Mine', at: 1, design: ladder('Mine'), problem: '' })
    expect(found.get('d1/newer')).toMatchObject({ name: 'Of tomorrow', design: null })
    for (const key of ['d1/newer', 'd1/torn', 'd1/draft']) expect(found.get(key)!.problem).not.toBe('')
    await keeping.letGo(found.get('d1/torn')!)
    expect([...storage.aside.keys()].sort()).toEqual(['d1/draft', 'd1/newer', 'd1/whole'])
  })

  test('what cannot be set aside stays where it is', async () => {
    const storage = new StorageStandIn()
    storage.kept.set('d1/gone', 'odd')
    storage.isFull = true
    expect(await keepingIn(storage).all()).toEqual([])
    expect(storage.kept.get('d1/gone')).toBe('odd')
  })
})

describe('what is kept of designs that are not open', () => {
  function outboxIn(server: ServerStandIn, browser: BrowserStandIn, openDesign: string | null = null) {
    const { keeping, tab, openTabs } = browser.tab('here')
    const told: number[] = []
    let unsent: readonly Unsent[] = []
    const outbox = new Outbox({
      save: server.save,
      read: server.read,
      keeping,
      openTabs,
      tab,
      openDesign: () => openDesign,
      announce: (_, revision) => told.push(revision),
      changed: (list) => (unsent = list),
    })
    return { outbox, keeping, told, reasons: () => unsent.map(({ kept: { design }, why }) => `${design} ${why}`) }
  }

  test('is sent, of every tab that is gone and of this one; what an open tab keeps is its own matter', async () => {
    const server = new ServerStandIn({ d1: ladder(), d2: ladder(), d3: ladder() })
    const browser = new BrowserStandIn()
    const { outbox, keeping, told, reasons } = outboxIn(server, browser)
    browser.open.add('other')
    await keeping.put(kept({ design: 'd1' }))
    await keeping.put(kept({ design: 'd2', tab: 'here' }))
    await keeping.put(kept({ design: 'd3', tab: 'other' }))
    await outbox.sweep()
    expect(['d1', 'd2', 'd3'].map((d) => server.designs.get(d)!.document.name)).toEqual(['Mine', 'Mine', 'One'])
    expect((await keeping.all()).map((k) => k.design)).toEqual(['d3'])
    expect([told, reasons()]).toEqual([[2, 2], []])
  })

  test('of two tabs both arrive, put together', async () => {
    const server = new ServerStandIn({ d1: ladder() })
    const { outbox, keeping } = outboxIn(server, new BrowserStandIn())
    await keeping.put(kept({ tab: 'a', at: 1 }))
    await keeping.put(kept({ tab: 'b', at: 2, document: ladder('One', 5000) }))
    await outbox.sweep()
    const { document } = server.designs.get('d1')!
    expect(document).toEqual(ladder('Mine', 5000))
  })

  test('stays kept, with the reason, where the server is away, has changed the same, or has no such design', async () => {
    const server = new ServerStandIn({ d1: ladder() })
    const { outbox, keeping, reasons } = outboxIn(server, new BrowserStandIn())
    await keeping.put(kept())
    await keeping.put(kept({ design: 'd9' }))
    server.mood = 'away'
    await outbox.sweep()
    expect(reasons()).toEqual(['d1 waiting', 'd9 waiting'])
    server.mood = 'well'
    server.elsewhere('d1', (d) => ({ ...d, name: 'Theirs' }))
    await outbox.sweep()
    expect(reasons()).toEqual(['d1 differs', 'd9 gone'])
    expect(await keeping.all()).toHaveLength(2)
    expect(server.designs.get('d1')!.document.name).toBe('Theirs')
  })

  test('a draft stays when the document beside it is sent', async () => {
    const server = new ServerStandIn({ d1: ladder() })
    const { outbox, keeping } = outboxIn(server, new BrowserStandIn())
    await keeping.put(kept({ draft }))
    await outbox.sweep()
    expect(await keeping.all()).toEqual([kept({ draft, document: null, base: null })])
  })

  test('a design that is open is its saver’s matter', async () => {
    const server = new ServerStandIn({ d1: ladder() })
    const { outbox, keeping } = outboxIn(server, new BrowserStandIn(), 'd1')
    await keeping.put(kept())
    await outbox.sweep()
    expect(server.saves).toBe(0)
    expect((await outbox.leftOf('d1')).left).toHaveLength(1)
  })
})
