import { readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import type { Download, Locator, Page } from '@playwright/test'
import { violations } from './accessible.js'
import { addCurve, openNetlist } from './curves.js'
import { expect, test } from './voskel.js'

/** What stands beside the curves: pinned runs, measured data, large signals; and the ways out. */

const BENCH = fileURLToPath(new URL('../demo/measurements/click-band-pass-bench.csv', import.meta.url))
const CLICK = '/designs/porpoise-click-band-pass/frequency'

const frequency = (page: Page) => page.getByRole('region', { name: 'Frequency response', exact: true })
const beside = (page: Page) => page.getByRole('region', { name: 'Beside the curves' })

async function openClick(page: Page): Promise<Locator> {
  await page.goto(CLICK)
  const region = frequency(page)
  await expect(region.getByRole('img', { name: /^Magnitude over frequency/ })).toBeVisible()
  return region
}

async function pin(region: Locator, name: string, note = '') {
  await region.getByRole('button', { name: 'pin this run' }).click()
  await region.getByLabel('Name of the run').fill(name)
  await region.getByLabel('Note on the run').fill(note)
  await region.getByRole('button', { name: 'Pin', exact: true }).click()
  await expect(region.getByRole('form', { name: 'Pin this run' })).toBeHidden()
}

/** A file let fall on the diagrams. */
async function drop(page: Page, name: string, content: string) {
  const data = await page.evaluateHandle(
    ([name, content]) => {
      const transfer = new DataTransfer()
      transfer.items.add(new File([content!], name!))
      return transfer
    },
    [name, content],
  )
  const canvas = frequency(page).locator('canvas').first()
  await canvas.dispatchEvent('dragover', { dataTransfer: data })
  await canvas.dispatchEvent('drop', { dataTransfer: data })
}

const dialog = (page: Page) => page.getByRole('dialog', { name: 'Measured data' })
const layOver = (page: Page) =>
  dialog(page)
    .getByRole('button', { name: /^Lay over/ })
    .click()

async function textOf(download: Download): Promise<string> {
  return readFileSync(await download.path(), 'utf8')
}

/** Something taken out of the k-th diagram. */
async function out(page: Page, region: Locator, what: string | RegExp, k = 0): Promise<Download> {
  await region.getByRole('button', { name: 'picture, data' }).nth(k).click()
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    region.getByRole('group', { name: 'Take this diagram out' }).getByRole('button', { name: what }).click(),
  ])
  return download
}

const PARALLEL = `Parallel circuit
V1 in 0 AC 1
R1 in 0 10k
L1 in 0 1m
C1 in 0 1n
.end
`

// f₀ = 1/(2π·√(LC)): 159.2 kHz with 1 nF and 79.58 kHz with 4 nF, where |Z| is the resistance.
test('the impedance of a parallel circuit, before and after, overlaid', async ({ page }) => {
  const { region } = await openNetlist(page, PARALLEL)
  await region.getByLabel('What is drawn').first().selectOption({ label: 'Value in its unit' })
  await addCurve(region, 'z(V1)')
  await pin(region, 'with 1 nF')
  await page.getByRole('tab', { name: /^Circuit/ }).click()
  await page.getByRole('application', { name: 'Circuit sheet' }).click({ position: { x: 5, y: 5 } })
  await page.getByRole('button', { name: /^C1/ }).first().focus()
  await page.keyboard.press('Enter')
  await page.keyboard.type('4n')
  await page.keyboard.press('Enter')
  await page.getByRole('tab', { name: /^Frequency/ }).click()
  await expect(beside(page)).toContainText('with 1 nF')
  const rows = (await textOf(await out(page, region, 'Save the table as CSV'))).trimEnd().split('\n')
  const names = rows[0]!.split(',')
  const columns = names.map((_, k) => rows.slice(1).map((r) => Number(r.split(',')[k] || NaN)))
  /** Where a curve is highest, Hz, and how high, dB over 1 Ω. */
  const peak = (name: string) => {
    const at = names.findIndex((n) => n.startsWith(name) && n.endsWith('(dB)'))
    const own = names.findLastIndex((n, k) => k < at && n.startsWith('frequency'))
    const top = columns[at]!.reduce((best, v, k) => (v > (columns[at]![best] ?? -Infinity) ? k : best), 0)
    return [columns[own]![top]!, columns[at]![top]!] as const
  }
  const [before, after] = [peak('with 1 nF: z(V1)'), peak('z(V1)')]
  expect(before[0] / 159.155e3).toBeCloseTo(1, 2)
  expect(after[0] / 79.577e3).toBeCloseTo(1, 2)
  // 80 dB over 1 Ω are 10 kΩ.
  for (const [, level] of [before, after]) expect(level).toBeCloseTo(80, 1)
  // How far they are apart is a diagram of its own.
  await region
    .locator('label', { has: page.getByLabel('Difference to what is beside') })
    .first()
    .click()
  await expect(region.getByLabel('Difference to what is beside').first()).toHaveAttribute('aria-checked', 'true')
})

test('pinned runs are compared after a restart of the server, and shown in another design', async ({
  page,
  voskel,
}) => {
  const region = await openClick(page)
  await pin(region, 'exact values', 'as computed')
  await page.getByRole('tab', { name: /^Specify/ }).click()
  await page.getByRole('combobox', { name: /^Values/ }).click({ force: true })
  await page.getByRole('option', { name: /E24/ }).first().click()
  await page.getByRole('tab', { name: /^Frequency/ }).click()
  await pin(region, 'values of E24')
  await expect(page.getByTestId('saved')).toHaveText(/^saved/)
  await voskel.kill()
  await voskel.start()
  await page.reload()
  await expect(beside(page).getByRole('button', { name: 'Name exact values anew' })).toBeVisible()
  await expect(beside(page)).toContainText('as computed')
  const measures = page.getByRole('region', { name: 'Measures' })
  await expect(measures.getByRole('columnheader', { name: 'exact values' })).toBeVisible()
  await expect(measures.getByRole('columnheader', { name: 'values of E24' })).toBeVisible()
  // The circuit now has the values of E24: its own run differs by nothing, the exact one by something.
  const ripple = measures.getByRole('row', { name: /^Ripple/ })
  await expect(ripple.getByRole('cell').nth(1)).toHaveText(/0\.2000\sdB\s*−.*dB/)
  await expect(ripple.getByRole('cell').nth(2)).not.toContainText('−')
  // Hidden, named, let go and had back.
  await beside(page)
    .locator('label', { has: page.getByLabel('Show exact values') })
    .click()
  await expect(measures.getByRole('columnheader', { name: 'exact values' })).toBeHidden()
  await beside(page).getByRole('button', { name: 'Let exact values go' }).click()
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await expect(beside(page).getByRole('button', { name: 'Name exact values anew' })).toBeVisible()

  await page.goto('/designs/cable-end-low-pass/frequency')
  await expect(beside(page)).toContainText('Pin this run before a change')
  await beside(page).getByRole('button', { name: 'kept in this project …' }).click()
  await beside(page).getByRole('button', { name: 'Show exact values' }).click()
  await expect(
    beside(page).getByRole('button', { name: /^Name exact values, Porpoise-click band-pass anew/ }),
  ).toBeVisible()

  // What a design shows stays; what none shows can be thrown away.
  const other = beside(page).getByRole('button', { name: 'Throw values of E24 away' })
  const forGood = beside(page).getByRole('button', { name: 'throw away', exact: true })
  await other.click()
  await forGood.click()
  await expect(beside(page).getByRole('alert')).toHaveText(
    /still shown.*Let them go first in: Porpoise-click band-pass/,
  )
  await page.goto('/designs/porpoise-click-band-pass/frequency')
  await beside(page).getByRole('button', { name: 'Let values of E24 go' }).click()
  await expect(page.getByTestId('saved')).toHaveText(/^saved/)
  await beside(page).getByRole('button', { name: 'kept in this project …' }).click()
  await other.click()
  await beside(page).getByRole('button', { name: 'keep', exact: true }).click()
  await other.click()
  await forGood.click()
  await expect(beside(page)).toContainText('Nothing else is kept in this project.')
})

test('the bench measurement is dropped in, laid over, two values are fitted to it and used', async ({ page }) => {
  const region = await openClick(page)
  await drop(page, 'click-band-pass-bench.csv', readFileSync(BENCH, 'utf8'))
  // What the columns hold is shown before anything is read.
  await expect(dialog(page).getByLabel('Decimal mark')).toHaveValue(',')
  await expect(dialog(page).getByLabel('Column 1 is')).toHaveValue('frequency')
  await expect(dialog(page).getByLabel('Unit of column 1')).toHaveValue('kHz')
  await expect(dialog(page).getByLabel('Column 2 was measured of')).toHaveValue('v(out)')
  await layOver(page)
  await expect(dialog(page)).toBeHidden()
  await expect(beside(page)).toContainText(/rms error 0\.\d+\sdB, [\d.]+\s?°/)

  await beside(page).getByRole('button', { name: 'Fit values to click-band-pass-bench' }).click()
  const fit = beside(page).getByRole('form', { name: 'Fit values to click-band-pass-bench' })
  await fit.getByRole('button', { name: 'Fit', exact: true }).click()
  await expect(fit.getByRole('alert')).toContainText('Choose at least one value')
  // The chain has one level alone: all resistances and reactances together do nothing but scale.
  await fit.getByLabel('C1', { exact: true }).check()
  await fit.getByLabel('L2a').check()
  await fit.getByLabel('C1 at least').fill('1 kg')
  await fit.getByRole('button', { name: 'Fit', exact: true }).click()
  await expect(fit.getByRole('alert')).toContainText('is not a value')
  await fit.getByLabel('C1 at least').fill('5n')
  await fit.getByRole('button', { name: 'Fit', exact: true }).click()
  const found = fit.getByRole('table', { name: 'Fitted values' })
  // The board was made with 8.12 nF and 2.355 mH.
  await expect(found.getByRole('row', { name: /^C1/ })).toContainText(/8\.1[12]\d\snF/)
  await expect(found.getByRole('row', { name: /^L2a/ })).toContainText(/2\.35\d\smH/)
  await fit.getByRole('button', { name: 'Use the fitted values' }).click()
  // What is left is the noise of the bench: 0.08 dB and 0.7°.
  await expect(beside(page)).toContainText(/rms error 0\.0[6-9]\d*\sdB, 0\.[5-8]\d*\s?°/)
  await expect(page.getByRole('tab', { name: /^Circuit/ })).toContainText('not met')
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await expect(beside(page)).not.toContainText(/rms error 0\.0[6-9]\d*\sdB/)
  await expect(region.getByRole('img', { name: /^Magnitude over frequency/ })).toBeVisible()
})

test('a table that cannot be read says where, and nothing of it is kept', async ({ page }) => {
  await openClick(page)
  await drop(page, 'overload.csv', 'frequency,gain (dB)\n100k,-6\n110k,-6.1\n120k,-6.2\n130k,overload\n140k,-6.1\n')
  await layOver(page)
  await expect(dialog(page).getByRole('alert')).toContainText('row 5: "overload" in column gain (dB) is not a number')
  await dialog(page)
    .locator('label', { has: page.getByLabel('Leave out rows that cannot be read') })
    .click()
  await dialog(page).getByLabel('Column 2 was measured of').fill('v(')
  await layOver(page)
  await expect(dialog(page).getByRole('alert')).toContainText('cannot be used')
  await dialog(page).getByLabel('Column 2 was measured of').fill('v(out)')
  await layOver(page)
  await expect(beside(page)).toContainText('Line 5 could not be read and is left out.')

  await drop(page, 'words.csv', 'nothing here\nis a number\n')
  await expect(dialog(page).getByRole('alert')).toContainText('no two columns of numbers')
  await expect(dialog(page).getByRole('button', { name: /^Lay over/ })).toBeDisabled()
  await dialog(page).getByRole('button', { name: 'Close', exact: true }).click()
  await drop(page, 'broken.s2p', '# MHz S RI R 50\n1 1 0 0 0 0 0 1 0\n2 1 0 0 0\n')
  await expect(dialog(page).getByRole('alert')).toContainText('row 3: it has 5 numbers')
})

test('a two-port goes out as Touchstone and comes back over its own curve; reflections in a Smith chart', async ({
  page,
}) => {
  const region = await openClick(page)
  const download = await out(page, region, /as Touchstone$/)
  expect(download.suggestedFilename()).toMatch(/\.s2p$/)
  const text = await textOf(download)
  expect(text).toContain('# HZ S RI R 600')
  await drop(page, 'board.s2p', text)
  await expect(dialog(page).getByLabel('S21 was measured of')).toHaveValue('s21(RS,RL)')
  await layOver(page)
  await expect(beside(page)).toContainText('Referred to 600 Ω and 600 Ω.')
  // A diagram is added that shows it, and it is the circuit's own.
  await expect(region.getByRole('img', { name: /s21\(RS,RL\)/ })).toBeVisible()
  await expect(beside(page)).toContainText(/rms error 0\.00\sdB, 0\.00\s?°/)
  await region.getByLabel('What is drawn').last().selectOption({ label: 'Smith chart' })
  await expect(region.getByRole('button', { name: /^s11\(RS,RL\)/ })).toBeVisible()
  await expect(
    region.getByRole('img', { name: /^Smith chart over frequency of s11\(RS,RL\), s22\(RS,RL\)/ }),
  ).toBeVisible()
})

test('a two-port of another reference is taken over to the ports of the circuit, and the preview says so', async ({
  page,
}) => {
  await openClick(page)
  // Nothing between two ports of 50 Ω is nothing between ports of 600 Ω, too.
  await drop(page, 'wire.s2p', '# kHz S RI R 50\n100 0 0 1 0 1 0 0 0\n200 0 0 1 0 1 0 0 0\n300 0 0 1 0 1 0 0 0\n')
  await expect(dialog(page).getByText(/^Taken over from 50\.00\sΩ to the circuit’s 600\.0\sΩ\.$/)).toBeVisible()
  await dialog(page).getByLabel('S21 was measured of').fill('s21(RS,C1)')
  await expect(dialog(page).getByRole('alert')).toContainText('is no resistor')
})

test('the bend of a transistor stage at large amplitude is seen over its small-signal curve', async ({ page }) => {
  await page.goto('/designs/hydrophone-pre-amplifier/frequency')
  const region = frequency(page)
  await region.getByRole('button', { name: 'large signal' }).click()
  const form = region.getByRole('form', { name: 'Large signal' })
  // At one click it runs, with the sine that the source gives over time.
  // Some sixty transients: a quarter of a minute on a quiet machine.
  await expect(form).toContainText('Nowhere do gain and phase part by more than 1 dB or 5°.', { timeout: 120_000 })
  await form.getByLabel('Sine of').fill('0')
  await form.getByRole('button', { name: 'Run', exact: true }).click()
  await expect(form.getByRole('alert')).toContainText('above 0')
  await form.getByLabel('Sine of').fill('300m')
  await form.getByLabel('from', { exact: true }).fill('100')
  await form.getByLabel('to', { exact: true }).fill('100k')
  await form.getByLabel('Points a decade').selectOption('2')
  await form.getByRole('button', { name: 'Run', exact: true }).click()
  await expect(form).toContainText(
    /The gain parts by more than 1 dB from [\d.]+\sHz to 100\.0\skHz, at most −[\d.]+\sdB/,
    { timeout: 60_000 },
  )
  await form.getByText('all points').click()
  await expect(form.getByRole('table', { name: 'Large-signal points' }).getByRole('row')).toHaveCount(8)
  await form.getByRole('button', { name: 'Take away' }).click()
  await expect(form).toBeHidden()
})

test('measured and simulated curves on white paper as SVG, on the drawing, and in a spreadsheet as CSV', async ({
  page,
}) => {
  const region = await openClick(page)
  await drop(page, 'bench.csv', readFileSync(BENCH, 'utf8'))
  await layOver(page)
  await region.getByLabel('More of this diagram').first().click()
  await region.getByLabel('Title').first().fill('Receiver board 3')
  await region.getByLabel('Title').first().press('Enter')
  await region
    .locator('label', { has: page.getByLabel('Names of the curves in a frame') })
    .first()
    .click()
  await region.getByLabel('Note', { exact: true }).first().fill('a coil too small')
  await region.getByLabel('Note', { exact: true }).first().press('Enter')
  await region.getByLabel('More of this diagram').first().click()

  const svg = await textOf(await out(page, region, 'Save as SVG'))
  expect(svg).toMatch(/^<svg [^>]*viewBox="0 0 960 560"/)
  for (const words of ['Receiver board 3', 'bench', 'circuit', 'a coil too small', 'Frequency, Hz'])
    expect(svg).toContain(`>${words}<`)
  // White paper, whatever the appearance.
  expect(svg).toMatch(/<rect fill="#fff(fff)?" stroke="none" x="0" y="0" width="960" height="560"/)

  const csv = (await textOf(await out(page, region, 'Save the table as CSV'))).trimEnd().split('\n')
  expect(csv[0]).toContain('frequency of bench (Hz),bench (dB),bench (deg)')
  // The first row of the bench's file, to its last digit.
  expect(csv[1]).toMatch(/,86000,-36\.34,/)
  await region.getByRole('button', { name: 'picture, data' }).first().click()
  await page.context().grantPermissions(['clipboard-read', 'clipboard-write'])
  await region.getByRole('button', { name: 'Copy the table' }).click()
  await expect(page.getByText('The table is on the clipboard.')).toBeVisible()
  const copied = await page.evaluate(() => navigator.clipboard.readText())
  expect(copied.split('\n')[0]!.split('\t')).toContain('bench (dB)')
  const png = await out(page, region, 'Save as PNG')
  expect(
    readFileSync(await png.path())
      .subarray(1, 4)
      .toString(),
  ).toBe('PNG')

  await region.getByRole('button', { name: 'picture, data' }).first().click()
  await region.getByRole('button', { name: 'Place it on the drawing' }).click()
  await page.getByRole('tab', { name: /^Circuit/ }).click()
  const figure = page.getByRole('group', { name: /^Magnitude over frequency.*Arrow keys move it/ })
  await expect(figure).toBeVisible()
  const was = (await figure.boundingBox())!
  await figure.focus()
  await page.keyboard.press('ArrowRight')
  await expect.poll(async () => (await figure.boundingBox())!.x - was.x).toBeGreaterThan(1)
  const corner = (await figure.boundingBox())!
  await page.mouse.move(corner.x + corner.width - 4, corner.y + corner.height - 4)
  await page.mouse.down()
  await page.mouse.move(corner.x + corner.width + 40, corner.y + corner.height + 20, { steps: 4 })
  await page.mouse.up()
  await expect.poll(async () => (await figure.boundingBox())!.width - corner.width).toBeGreaterThan(20)
  expect((await figure.boundingBox())!.x).toBeCloseTo(corner.x, 0)
  const sized = (await figure.boundingBox())!
  await figure.press('Shift+ArrowUp')
  await expect.poll(async () => sized.height - (await figure.boundingBox())!.height).toBeGreaterThan(1)
  await page.keyboard.press('Delete')
  await expect(figure).toBeHidden()
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await expect(figure).toBeVisible()
})

for (const look of ['light', 'dark'] as const) {
  test(`what stands beside the curves has no accessibility violations, ${look}`, async ({ page }) => {
    await page.emulateMedia({ colorScheme: look })
    const region = await openClick(page)
    await pin(region, 'exact values', 'as computed')
    await drop(page, 'bench.csv', readFileSync(BENCH, 'utf8'))
    await expect(dialog(page).getByLabel('Decimal mark')).toHaveValue(',')
    // The dialog has come to rest.
    await page.waitForTimeout(500)
    expect(await violations(page)).toEqual([])
    await layOver(page)
    await expect(beside(page)).toContainText('rms error')
    await beside(page).getByRole('button', { name: 'kept in this project …' }).click()
    await beside(page).getByRole('button', { name: 'Fit values to bench' }).click()
    await beside(page).getByLabel('C1', { exact: true }).check()
    await region.getByRole('button', { name: 'large signal' }).click()
    await region.getByRole('button', { name: 'picture, data' }).first().click()
    expect(await violations(page)).toEqual([])
    await region.getByRole('button', { name: 'Place it on the drawing' }).click()
    await region.getByLabel('More of this diagram').first().click()
    expect(await violations(page)).toEqual([])
    await page.getByRole('tab', { name: /^Circuit/ }).click()
    await expect(page.getByRole('group', { name: /Arrow keys move it/ })).toBeVisible()
    expect(await violations(page)).toEqual([])
  })
}
