import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Page } from '@playwright/test'
import { type Figure, median } from './report.js'
import { served } from './served.js'

const ROWS = 1_000_000

/** A long table laid over the curves in Chromium: how long it takes, whether the page stays alive, and how it moves. */
export async function dataFigures(root: string): Promise<Figure[]> {
  const folder = mkdtempSync(join(tmpdir(), 'voskel-bench-'))
  const { browser, url, end } = await served(root)
  try {
    const file = join(folder, 'long.csv')
    const lines = Array.from(
      { length: ROWS },
      (_, k) => `${(k * 1e-8).toExponential(8)},${Math.sin(k / 1e4).toFixed(6)}`,
    )
    writeFileSync(file, `time,out\n${lines.join('\n')}\n`)
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
    const { ms, gap } = await laidOver(page, url, file)
    return [
      {
        name: `A table of ${ROWS} rows laid over the curves, kept and drawn`,
        value: ms / 1000,
        unit: 's',
        wanted: '< 3 s',
      },
      { name: '  longest time between two frames meanwhile', value: gap, unit: 'ms', wanted: '< 100 ms' },
      {
        name: '  magnified and moved there, scripting a move, median',
        value: median(await moves(page)),
        unit: 'ms',
        wanted: '< 16 ms',
      },
    ]
  } finally {
    await end()
    rmSync(folder, { recursive: true })
  }
}

/** ms from the press of the button to the curve on the screen, and the longest gap between two frames. */
async function laidOver(page: Page, url: string, file: string): Promise<{ ms: number; gap: number }> {
  await page.goto(`${url}/designs/cable-end-low-pass/time`)
  await page.locator('.diagram canvas').first().waitFor()
  await page.waitForTimeout(1000)
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: 'data …' }).click(),
  ])
  await chooser.setFiles(file)
  const button = page.getByRole('button', { name: /^Lay over/ })
  await button.waitFor()
  await page.waitForTimeout(500)
  await page.evaluate(() => {
    const state = { gap: 0, last: performance.now() }
    Object.assign(window, { bench: state })
    const frame = () => {
      const now = performance.now()
      state.gap = Math.max(state.gap, now - state.last)
      state.last = now
      requestAnimationFrame(frame)
    }
    frame()
  })
  const began = performance.now()
  await button.click()
  await page.getByRole('dialog').waitFor({ state: 'hidden', timeout: 60_000 })
  const ms = performance.now() - began
  const gap = await page.evaluate(() => (window as unknown as { bench: { gap: number } }).bench.gap)
  await page.waitForTimeout(1500)
  return { ms, gap }
}

/** ms of scripting for each step of the wheel over the crowded curve. */
async function moves(page: Page): Promise<number[]> {
  await page.getByLabel('Window from').fill('0')
  await page.getByLabel('Window to').fill('10m')
  await page.getByLabel('Window to').press('Enter')
  await page.waitForTimeout(2000)
  return page
    .locator('.diagram canvas')
    .first()
    .evaluate(async (element) => {
      const box = element.getBoundingClientRect()
      const times: number[] = []
      for (let k = 0; k < 40; k++) {
        await new Promise<void>((done) => requestAnimationFrame(() => done()))
        const began = performance.now()
        const at = { clientX: box.left + 400 + 3 * k, clientY: box.top + 60, bubbles: true }
        element.dispatchEvent(new PointerEvent('pointermove', { ...at, pointerId: 1 }))
        element.dispatchEvent(
          new WheelEvent('wheel', { ...at, deltaY: k % 2 ? -10 : 10, ctrlKey: true, cancelable: true }),
        )
        for (let turn = 0; turn < 50; turn++) await Promise.resolve()
        times.push(performance.now() - began)
      }
      return times
    })
}
