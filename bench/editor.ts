import { type Circuit, designOfCircuit } from '@voskel/core'
import type { Page } from '@playwright/test'
import { type Figure, median } from './report.js'
import { served } from './served.js'

/** Nodes of a chain in a row of the drawing. */
const A_ROW = 14

/**
 * A chain of resistors with a capacitor to ground at each node: three parts and four wires a node. The first resistor can be
 * turned.
 */
function chain(nodes: number): Circuit {
  const circuit: Circuit = { parts: [], wires: [], junctions: [], labels: [] }
  const { parts, wires, junctions, labels } = circuit
  const wire = (...ends: Circuit['wires'][number]['ends']) => wires.push({ id: `W${wires.length + 1}`, ends })
  parts.push({
    id: 'V1',
    kind: 'voltage-source',
    values: { acMagnitude: 1, bias: 5 },
    at: { x: -8, y: 4, rotation: 90 },
  })
  parts.push({ id: 'GND0', kind: 'ground', values: {}, at: { x: -8, y: 7, rotation: 0 } })
  wire({ part: 'V1', pin: 'minus' }, { part: 'GND0', pin: 'g' })
  labels.push({ id: 'N0', name: 'r0', end: { part: 'V1', pin: 'plus' } })
  for (let k = 0; k < nodes; k++) {
    const [x, y] = [10 * (k % A_ROW), 12 * Math.floor(k / A_ROW)]
    parts.push(
      k === 0
        ? { id: 'R0', kind: 'potentiometer', values: { resistance: 1e3, position: 0.5 }, at: { x, y, rotation: 0 } }
        : { id: `R${k}`, kind: 'resistor', values: { resistance: 1e3 }, at: { x, y, rotation: 0 } },
      { id: `C${k}`, kind: 'capacitor', values: { capacitance: 1e-9 }, at: { x: x + 5, y: y + 4, rotation: 90 } },
      { id: `GND${k + 1}`, kind: 'ground', values: {}, at: { x: x + 5, y: y + 7, rotation: 0 } },
    )
    junctions.push({ id: `J${k}`, at: { x: x + 5, y } })
    wire({ part: `R${k}`, pin: 'b' }, { junction: `J${k}` })
    wire({ junction: `J${k}` }, { part: `C${k}`, pin: 'a' })
    wire({ part: `C${k}`, pin: 'b' }, { part: `GND${k + 1}`, pin: 'g' })
    const row = Math.floor(k / A_ROW)
    // Its wiper on one end, or nothing would change.
    if (k === 0)
      wires.push({
        id: 'WT',
        ends: [
          { part: 'R0', pin: 'wiper' },
          { part: 'R0', pin: 'b' },
        ],
        bends: [{ x: x + 2, y: y + 2 }],
      })
    if (k % A_ROW === 0) labels.push({ id: `NA${k}`, name: `r${row}`, end: { part: `R${k}`, pin: 'a' } })
    else wire({ junction: `J${k - 1}` }, { part: `R${k}`, pin: 'a' })
    if (k % A_ROW === A_ROW - 1 && k + 1 < nodes)
      labels.push({ id: `NB${k}`, name: `r${row + 1}`, end: { junction: `J${k}` } })
  }
  labels.push({ id: 'OUT', name: 'out', end: { junction: `J${nodes - 1}` } })
  // A load, so that at rest every value depends on the first resistor.
  const [x, y] = [10 * ((nodes - 1) % A_ROW) + 8, 12 * Math.floor((nodes - 1) / A_ROW)]
  parts.push(
    { id: 'RL', kind: 'resistor', values: { resistance: 1e4 }, at: { x, y: y + 4, rotation: 90 } },
    { id: 'GNDL', kind: 'ground', values: {}, at: { x, y: y + 7, rotation: 0 } },
  )
  wires.push({ id: 'WL', ends: [{ junction: `J${nodes - 1}` }, { part: 'RL', pin: 'a' }], bends: [{ x, y }] })
  wire({ part: 'RL', pin: 'b' }, { part: 'GNDL', pin: 'g' })
  return circuit
}

/** Turns of the first part at 10 Hz. */
const LIVE_TURNS = 30

/** Steps of a gesture. */
const STEPS = 90

/** ms below which 95 % of the frames of a gesture stay. */
async function framesOf(page: Page, gesture: () => Promise<void>): Promise<number> {
  await page.evaluate(() => {
    const seen: number[] = []
    let last = performance.now()
    const tick = (now: number) => {
      seen.push(now - last)
      last = now
      if ((window as never as { watching: boolean }).watching) requestAnimationFrame(tick)
    }
    Object.assign(window, { watching: true, seen })
    requestAnimationFrame((now) => ((last = now), requestAnimationFrame(tick)))
  })
  await gesture()
  const seen = await page.evaluate(() => {
    Object.assign(window, { watching: false })
    return (window as never as { seen: number[] }).seen
  })
  const sorted = seen.toSorted((a, b) => a - b)
  return sorted[Math.floor(0.95 * (sorted.length - 1))]!
}

/** Takes the first part, so that a hand can turn it. */
async function taken(page: Page): Promise<void> {
  const box = (await page.locator('[data-symbol="R0"]').boundingBox())!
  await page.mouse.click(box.x + box.width / 2, box.y + box.height / 4)
  await page.getByRole('slider', { name: 'R0 turned to' }).waitFor()
}

/** Turns the first part at a steady pace while all values at rest are shown; tells how many of the turns they followed. */
async function turnedLive(page: Page, turns: number, every: number): Promise<number> {
  return page.evaluate(
    async ([turns, every]) => {
      const slider = document.querySelector<HTMLInputElement>('.hand input')!
      const tag = [...document.querySelectorAll('.tag.voltage')].at(-1)!
      const seen = new Set([tag.textContent])
      const watcher = new MutationObserver(() =>
        seen.add([...document.querySelectorAll('.tag.voltage')].at(-1)!.textContent),
      )
      watcher.observe(tag.parentElement!, { subtree: true, characterData: true, childList: true })
      for (let k = 0; k < turns!; k++) {
        slider.value = String(0.2 + (0.6 * k) / turns!)
        slider.dispatchEvent(new Event('input', { bubbles: true }))
        await new Promise((done) => setTimeout(done, every!))
      }
      watcher.disconnect()
      return seen.size - 1
    },
    [turns, every],
  )
}

/** Turns the first part and waits until other values and curves are painted; ms a turn. */
async function turned(page: Page, turns: number, every: number): Promise<number[]> {
  await taken(page)
  return page.evaluate(
    async ([turns, every]) => {
      const slider = document.querySelector<HTMLInputElement>('.hand input')!
      const figures = [...document.querySelectorAll('*')].find(
        (e) => e.childElementCount === 0 && e.textContent === 'cutoff',
      )
      const cell = figures!.parentElement!
      const times: number[] = []
      for (let k = 0; k < turns!; k++) {
        await new Promise((done) => setTimeout(done, every!))
        const changed = new Promise<void>((done) => {
          const watcher = new MutationObserver(() => (watcher.disconnect(), done()))
          watcher.observe(cell, { subtree: true, characterData: true, childList: true })
        })
        const began = performance.now()
        slider.value = String(0.2 + (0.6 * k) / turns!)
        slider.dispatchEvent(new Event('input', { bubbles: true }))
        await changed
        await new Promise<void>((done) => requestAnimationFrame(() => setTimeout(done)))
        times.push(performance.now() - began)
      }
      return times
    },
    [turns, every],
  )
}

async function opened(
  page: Page,
  url: string,
  circuit: Circuit,
  name: string,
): Promise<{ display: number; open: number }> {
  const projects = (await (await page.request.get(`${url}/api/projects`)).json()) as { id: string }[]
  const made = await page.request.post(`${url}/api/projects/${projects[0]!.id}/designs`, {
    data: { ...designOfCircuit(circuit), name },
  })
  const { id } = (await made.json()) as { id: string }
  // Everything is loaded and warm; only this design is not.
  await page.goto(`${url}/designs/cable-end-low-pass/circuit`)
  await page.locator('[data-symbol="C1"]').waitFor()
  const times: { display: number; open: number }[] = []
  for (let k = 0; k < 3; k++) {
    await page.goto(`${url}/designs/cable-end-low-pass/circuit`)
    await page.locator('[data-symbol="C1"]').waitFor()
    await page.waitForTimeout(500)
    times.push(
      await page.evaluate(async (to) => {
        const began = performance.now()
        const answered = new Promise<number>((resolve) => {
          const watcher = new PerformanceObserver((list) => {
            const found = list.getEntries().find((e) => e.name.includes(to))
            if (found) resolve((found as PerformanceResourceTiming).responseEnd)
          })
          watcher.observe({ type: 'resource' })
        })
        const shown = new Promise<number>((resolve) => {
          const look = () => {
            if (document.querySelector('[data-symbol="R9"]'))
              requestAnimationFrame(() => setTimeout(() => resolve(performance.now())))
            else requestAnimationFrame(look)
          }
          look()
        })
        history.pushState({}, '', `/designs/${to}/circuit`)
        dispatchEvent(new PopStateEvent('popstate', { state: {} }))
        const [answer, seen] = await Promise.all([answered, shown])
        return { display: seen - answer, open: seen - began }
      }, id),
    )
  }
  return { display: median(times.map((t) => t.display)), open: median(times.map((t) => t.open)) }
}

/** Measures the sheet: how it opens, and its frames while a hand is on it. */
export async function editorFigures(root: string): Promise<Figure[]> {
  const { browser, url, end } = await served(root)
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
    const figures: Figure[] = []
    const figure = (name: string, value: number, wanted: string) => figures.push({ name, value, unit: 'ms', wanted })
    const { display, open } = await opened(page, url, chain(66), 'Two hundred')
    figure('200 parts: first display', display, '< 250 ms')
    figure('200 parts: design opened', open, '< 500 ms')
    const drag = async (part: string) => {
      const box = (await page.locator(`[data-symbol="${part}"]`).boundingBox())!
      await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2)
      await page.mouse.down()
      for (let k = 1; k <= STEPS; k++) await page.mouse.move(box.x + box.width / 2 + k, box.y + box.height / 2 + k / 2)
    }
    const lift = async () => {
      await page.keyboard.press('Escape')
      await page.mouse.up()
    }
    figure('  dragging one part, 95 % of frames', await framesOf(page, () => drag('C20')), '< 20 ms')
    await lift()
    const pan = async () => {
      await page.mouse.move(640, 600)
      await page.mouse.down({ button: 'middle' })
      for (let k = 1; k <= STEPS; k++) await page.mouse.move(640 + 2 * k, 600 - k)
      await page.mouse.up({ button: 'middle' })
    }
    figure('  panning, 95 % of frames', await framesOf(page, pan), '< 20 ms')
    const zoom = async () => {
      for (let k = 0; k < STEPS / 2; k++) await page.mouse.wheel(0, k % 20 < 10 ? -40 : 40)
    }
    figure('  zooming, 95 % of frames', await framesOf(page, zoom), '< 20 ms')
    await page.getByRole('button', { name: 'Show all' }).click()
    const frame = async () => {
      await page.mouse.move(90, 200)
      await page.mouse.down()
      for (let k = 1; k <= STEPS; k++) await page.mouse.move(90 + 8 * k, 200 + 4 * k)
    }
    figure('  a frame, 95 % of frames', await framesOf(page, frame), '< 20 ms')
    await page.mouse.up()
    figure('  dragging what the frame chose, 95 % of frames', await framesOf(page, () => drag('C20')), '< 20 ms')
    await lift()
    await page.keyboard.press('Escape')
    await page.getByLabel('layer').selectOption('operating-point')
    await page.locator('.tag.voltage').first().waitFor()
    await taken(page)
    let followed = 0
    figure(
      '  all values at rest live at 10 Hz, 95 % of frames',
      await framesOf(page, async () => void (followed = await turnedLive(page, LIVE_TURNS, 100))),
      '< 20 ms',
    )
    figures.push({ name: '  turns they followed', value: (100 * followed) / LIVE_TURNS, unit: '%', wanted: '100 %' })
    await page.getByLabel('layer').selectOption('none')
    await page.evaluate(() => localStorage.setItem('voskel.view', JSON.stringify({ beside: 'frequency' })))
    await opened(page, url, chain(10), 'Thirty')
    figure('30 parts: a value edit to painted curves, median', median(await turned(page, 40, 120)), '< 40 ms')
    await page.evaluate(() => localStorage.setItem('voskel.view', JSON.stringify({ beside: null })))
    const large = await opened(page, url, chain(166), 'Five hundred')
    figure('500 parts: first display', large.display, '< 300 ms in the trial')
    figure('  dragging one part, 95 % of frames', await framesOf(page, () => drag('C20')), '< 34 ms')
    await lift()
    return figures
  } finally {
    await end()
  }
}
