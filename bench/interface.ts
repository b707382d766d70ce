import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'
import {
  type Design,
  designOfCircuit,
  designOfSpec,
  type Diagram,
  formulate,
  parseSpec,
  readNetlist,
  transient,
} from '@voskel/core'
import type { Browser, Page } from '@playwright/test'
import { type Figure, median } from './report.js'
import { served } from './served.js'

const EDITS = 41

/** Measures the built interface in Chromium: from an edit to the painted chart, and the first load. */
export async function interfaceFigures(root: string): Promise<Figure[]> {
  const { browser, url, end } = await served(root)
  try {
    const load = await firstLoad(browser, url)
    const page = () => browser.newPage({ viewport: { width: 1280, height: 800 } })
    const edits = await editToPaint(await page(), url)
    const many = await editToPaint(await page(), url, FOUR_DIAGRAMS)
    const drags = await dragging(await page(), url)
    return [
      {
        name: 'Specification edit to painted curves, order 10, median',
        value: median(edits),
        unit: 'ms',
        wanted: '< 30 ms',
      },
      { name: '  the slowest of twenty', value: quantile(edits, 0.95), unit: 'ms', wanted: '< 45 ms' },
      {
        name: '  with four diagrams and eight curves beside, median',
        value: median(many),
        unit: 'ms',
        wanted: '< 30 ms',
      },
      { name: '    the slowest of twenty', value: quantile(many, 0.95), unit: 'ms', wanted: '< 45 ms' },
      {
        name: `Dragging a cursor over four curves of ${drags.points} points, scripting a move, median`,
        value: median(drags.cursor),
        unit: 'ms',
        wanted: '< 16 ms',
      },
      {
        name: '  drawing out a range there, median',
        value: median(drags.range),
        unit: 'ms',
        wanted: '< 16 ms',
      },
      {
        name: '  the slowest of the first ten edits',
        value: Math.max(...edits.slice(0, 10)),
        unit: 'ms',
        wanted: '< 60 ms',
      },
      {
        name: 'First load to interactive, empty cache, median',
        value: load.interactive,
        unit: 'ms',
        wanted: '< 800 ms',
      },
      {
        name: 'First load to curves and verdicts, empty cache, median',
        value: load.ms,
        unit: 'ms',
        wanted: '< 1150 ms',
      },
      {
        name: 'Design opened again: first picture from the kept result, median',
        value: load.kept,
        unit: 'ms',
        wanted: '< 600 ms',
      },
      { name: 'Compressed JavaScript before the first chart', value: load.kilobytes, unit: 'kB', wanted: '< 600 kB' },
      { name: 'Compressed JavaScript of the whole application', value: builtKilobytes(root), unit: 'kB' },
    ]
  } finally {
    await end()
  }
}

async function firstLoad(
  browser: Browser,
  url: string,
): Promise<{ interactive: number; ms: number; kept: number; kilobytes: number }> {
  const interactive: number[] = []
  const times: number[] = []
  const kept: number[] = []
  let kilobytes = 0
  for (let k = 0; k < 5; k++) {
    // A context of its own has an empty cache.
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 } })
    const page = await context.newPage()
    const client = await context.newCDPSession(page)
    await client.send('Network.enable')
    const scripts = new Set<string>()
    let bytes = 0
    client.on('Network.responseReceived', (e) => {
      if (/javascript/.test(e.response.mimeType)) scripts.add(e.requestId)
    })
    client.on('Network.loadingFinished', (e) => {
      if (scripts.has(e.requestId)) bytes += e.encodedDataLength
    })
    // Seen from inside the page: the tool's own polling would be counted too.
    await page.addInitScript(() => {
      /** Marks the first moment at which what is looked for has been painted and the page takes events again. */
      const markWhen = (selector: string, mark: string) => {
        const watcher = new MutationObserver(() => {
          if (!document.querySelector(selector)) return
          watcher.disconnect()
          requestAnimationFrame(() => setTimeout(() => performance.mark(mark)))
        })
        watcher.observe(document, { subtree: true, childList: true })
      }
      markWhen('.stage .tools', 'interactive')
      markWhen('[data-verdict="passband"]', 'verdicts')
      markWhen('canvas', 'picture')
    })
    const marksOf = async () => {
      await page.goto(`${url}/designs/cable-end-low-pass/frequency`)
      const marks = ['interactive', 'verdicts', 'picture']
      await page.waitForFunction((all) => all.every((m) => performance.getEntriesByName(m).length > 0), marks)
      return page.evaluate((all) => all.map((m) => performance.getEntriesByName(m)[0]!.startTime), marks)
    }
    const [first, last] = await marksOf()
    interactive.push(first!)
    times.push(last!)
    kilobytes = bytes / 1000
    // The result is kept a second after the last answer.
    await page.waitForTimeout(1500)
    await page.goto('about:blank')
    kept.push((await marksOf())[2]!)
    await context.close()
  }
  return { interactive: median(interactive), ms: median(times), kept: median(kept), kilobytes }
}

const quantile = (values: readonly number[], part: number): number =>
  [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.floor(part * values.length))]!

/** Four diagrams with two curves each. */
const FOUR_DIAGRAMS: readonly Diagram[] = (['db', 'phase', 'delay', 'value'] as const).map((view) => ({
  over: 'frequency',
  view,
  signals: ['v(out)', 'i(RS)'],
}))

/** A design on the bench's own server. */
async function made(page: Page, url: string, design: Design): Promise<string> {
  const project = await page.request.post(`${url}/api/projects`, { data: { name: 'bench' } })
  const { id } = (await project.json()) as { id: string }
  const answer = await page.request.post(`${url}/api/projects/${id}/designs`, { data: design })
  return ((await answer.json()) as { id: string }).id
}

/** s of the courses that are dragged over. */
const STOP = 1.5e-3

/** ms of scripting for each move of a dragged cursor, and of a range that is drawn out, over long courses. */
async function dragging(page: Page, url: string): Promise<{ cursor: number[]; range: number[]; points: number }> {
  const text =
    't\nV1 in 0 SIN(0 1 10k)\nR1 in a 100\nL1 a b 1m\nC1 b 0 100n\nR2 b out 1k\nD1 out 0 D\nC2 out 0 10n\n.model D D\n'
  const design: Design = {
    ...designOfCircuit(readNetlist(text).circuit),
    diagrams: [{ over: 'time', view: 'value', signals: ['v(in)', 'v(a)', 'v(b)', 'v(out)'], x: [0, STOP] }],
    cursors: [{ name: 'a', over: 'time', at: STOP / 2 }],
  }
  const run = transient(formulate(readNetlist(text).circuit), { stop: STOP, outputs: ['out'] })
  // Between two steps three more points are drawn.
  const points = 4 * run.time.length
  const id = await made(page, url, design)
  await page.addInitScript(() => localStorage.setItem('voskel.view', JSON.stringify({ beside: null })))
  await page.goto(`${url}/designs/${id}/time`)
  const canvas = page.locator('.diagram canvas')
  await canvas.waitFor()
  await page.waitForTimeout(1500)
  const times = await canvas.evaluate(async (element) => {
    const box = element.getBoundingClientRect()
    const event = (type: string, x: number, y: number) =>
      element.dispatchEvent(
        new PointerEvent(type, { clientX: box.left + x, clientY: box.top + y, pointerId: 1, bubbles: true, button: 0 }),
      )
    // Captures need a pointer that is there; a dispatched one is not.
    element.setPointerCapture = () => {}
    const frame = () => new Promise<void>((done) => requestAnimationFrame(() => done()))
    const drag = async (from: number, y: number) => {
      const times: number[] = []
      event('pointermove', from, y)
      event('pointerdown', from, y)
      for (let k = 1; k <= 40; k++) {
        await frame()
        const began = performance.now()
        event('pointermove', from + 5 * k, y)
        // What follows a move is done in microtasks; painting, which comes after them, is the browser's.
        for (let turn = 0; turn < 50; turn++) await Promise.resolve()
        times.push(performance.now() - began)
      }
      event('pointerup', from + 200, y)
      await frame()
      return times
    }
    const middle = 68 + (box.width - 68 - 14) / 2
    const cursor = await drag(middle, 60)
    const range = await drag(middle - 100, 60)
    return { cursor, range }
  })
  return { ...times, points }
}

/** ms of each edit: types passband edges and waits until the ledger and the charts after it have been painted. */
async function editToPaint(page: Page, url: string, diagrams?: readonly Diagram[]): Promise<number[]> {
  const spec = parseSpec({
    response: 'lowpass',
    approximation: 'butterworth',
    order: 10,
    passband: { edges: [10_000] },
    stopband: { edges: [20_000], attenuation: 55 },
    realization: { family: 'lc-ladder', source: 50, load: 50 },
  })
  const design = designOfSpec('bench', spec, 'exact')
  const id = await made(page, url, { ...design, ...(diagrams && { diagrams: [...diagrams] }) })
  await page.addInitScript(() => localStorage.setItem('voskel.view', JSON.stringify({ beside: 'frequency' })))
  await page.goto(`${url}/designs/${id}/specify`)
  await page.locator('[data-verdict="stopband"]').waitFor()
  const times = await page.evaluate(async (edits) => {
    const field = [...document.querySelectorAll('label')].find((l) => l.textContent === 'Edge')!.htmlFor
    const input = document.getElementById(field) as HTMLInputElement
    const cell = document.querySelector('[data-verdict="stopband"]')!
    const painted = () => new Promise<void>((done) => requestAnimationFrame(() => setTimeout(done)))
    const times: number[] = []
    for (let k = 0; k < edits; k++) {
      await new Promise((done) => setTimeout(done, 120))
      const changed = new Promise<void>((done) => {
        const watcher = new MutationObserver(() => {
          watcher.disconnect()
          done()
        })
        watcher.observe(cell, { subtree: true, characterData: true, childList: true })
      })
      const began = performance.now()
      input.value = `${10_000 + 37 * (k + 1)}`
      input.dispatchEvent(new Event('input', { bubbles: true }))
      await changed
      // The charts are drawn in the same turn as the ledger's text changes; the frame after it shows both.
      await painted()
      times.push(performance.now() - began)
    }
    return times
  }, EDITS)
  return times
}

function builtKilobytes(root: string): number {
  const folder = join(root, 'packages/web/dist/assets')
  const scripts = readdirSync(folder).filter((f) => f.endsWith('.js'))
  return scripts.reduce((sum, f) => sum + gzipSync(readFileSync(join(folder, f))).length, 0) / 1000
}
