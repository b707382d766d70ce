import type { Page } from '@playwright/test'
import { expect, test } from './voskel.js'

/** Keys pressed so far. */
async function press(page: Page, ...keys: string[]): Promise<number> {
  let pressed = 0
  for (const key of keys) {
    await page.keyboard.press(key)
    pressed++
  }
  return pressed
}

async function say(page: Page, ...words: string[]): Promise<void> {
  for (const word of words) {
    if (word.startsWith('Arrow')) await page.keyboard.press(word)
    else {
      await page.keyboard.type(word)
      await page.keyboard.press('Enter')
    }
  }
}

const partsOf = async (page: Page) => {
  const id = page.url().split('/')[4]!
  await expect(page.getByTestId('saved')).toHaveText(/^saved/)
  const answer = (await (await page.request.get(`/api/designs/${id}`)).json()) as {
    document: { circuit: { circuit: { parts: { id: string; kind: string; at: object }[] } } }
  }
  return answer.document.circuit.circuit.parts
}

async function blankSheet(page: Page): Promise<void> {
  await page.goto('/')
  await page.getByRole('region', { name: 'Skarn Holm listening buoy' }).waitFor()
  await page.keyboard.press('n')
  await page.getByRole('group', { name: 'From what?' }).waitFor()
  await page.keyboard.press('b')
  await page.getByRole('application', { name: 'Circuit sheet' }).waitFor()
  await expect(page.getByRole('application', { name: 'Circuit sheet' })).toBeFocused()
}

test('from the projects to a low-pass with its curves in 25 keys, without a dialog', async ({ page }) => {
  await page.goto('/')
  await page.getByRole('region', { name: 'Skarn Holm listening buoy' }).waitFor()
  let keys = await press(page, 'n')
  await page.getByRole('group', { name: 'From what?' }).waitFor()
  keys += await press(page, 'b')
  await expect(page.getByRole('application', { name: 'Circuit sheet' })).toBeFocused()
  keys += await press(page, '4', 'k', '7', 'Enter', 'ArrowDown', '1', '0', '0', 'n', 'F', 'Enter')
  expect(keys).toBeLessThanOrEqual(25)
  // 1/(2π·4.7 kΩ·100 nF) = 338.6 Hz, where a first order lags by 45°.
  await expect(page.getByText('cutoff', { exact: true }).locator('..')).toContainText('338.6 Hz')
  await expect(page.getByText('phase there', { exact: true }).locator('..')).toContainText('lags by 45.00°')
  // ln(0.9/0.1)·R·C = 1.033 ms.
  await expect(page.getByText('rise 10–90 %', { exact: true }).locator('..')).toContainText('1.033 ms')
  await expect(page.getByRole('dialog')).toHaveCount(0)
})

test('the same with the mouse alone', async ({ page }) => {
  await page.goto('/')
  await page.getByRole('button', { name: 'New design' }).first().click()
  await page.getByRole('button', { name: /^A blank sheet/ }).click()
  const sheet = page.getByRole('application', { name: 'Circuit sheet' })
  await sheet.waitFor()
  const tray = page.getByRole('navigation', { name: 'Parts' })
  await tray.getByRole('button', { name: 'resist' }).click()
  await tray.getByRole('button', { name: 'Resistor' }).click()
  const values = page.getByRole('group', { name: 'Preferred values' })
  await values.getByRole('button', { name: '4.7', exact: true }).click()
  await page.getByRole('button', { name: 'Put it there' }).click()
  await tray.getByRole('button', { name: 'store' }).click()
  await tray.getByRole('button', { name: 'Capacitor' }).click()
  await page.getByRole('button', { name: 'to ground', exact: true }).click()
  await page.getByRole('button', { name: 'Put it there' }).click()
  await expect(page.getByText('cutoff', { exact: true }).locator('..')).toContainText('338.6 Hz')
})

test('a series resonator, its peak where it belongs', async ({ page }) => {
  await blankSheet(page)
  await say(page, '10mH', '10nF', 'ArrowDown', '100')
  // 1/(2π·√(10 mH · 10 nF)) = 15.92 kHz; the band is R/(2π·L) = 1.592 kHz wide (series resonance: any textbook).
  const cutoffs = page.getByText('cutoff', { exact: true }).locator('..')
  await expect(cutoffs).toContainText('15.14 kHz · 16.73 kHz')
})

test('what is drawn can be pulled, moved, deleted and undone, and is the same when it is opened again', async ({
  page,
}) => {
  await blankSheet(page)
  await say(page, '1k', 'ArrowDown', '100nF')
  await page.locator('[data-symbol="C1"]').waitFor()
  const before = await partsOf(page)
  const box = (await page.locator('[data-symbol="C1"]').boundingBox())!
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2]
  await page.mouse.move(x, y)
  await page.mouse.down()
  await page.mouse.move(x + 60, y + 20, { steps: 6 })
  await page.mouse.up()
  await expect
    .poll(async () => (await partsOf(page)).find((p) => p.id === 'C1')!.at)
    .not.toEqual(before.find((p) => p.id === 'C1')!.at)
  const moved = await partsOf(page)
  await page.reload()
  await page.locator('[data-symbol="C1"]').waitFor()
  expect(await partsOf(page)).toEqual(moved)
  await page.locator('[data-symbol="C1"]').click({ force: true, position: { x: box.width / 2, y: box.height / 2 } })
  await page.keyboard.press('Delete')
  await expect(page.locator('[data-symbol="C1"]')).toHaveCount(0)
  await page.keyboard.press('Control+z')
  await expect(page.locator('[data-symbol="C1"]')).toHaveCount(1)
})

test('rubbish that is pasted says so and changes nothing; a piece comes with free names', async ({ page, context }) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write'])
  await blankSheet(page)
  await say(page, '1k', 'ArrowDown', '100nF')
  const before = await partsOf(page)
  await page.evaluate(() => navigator.clipboard.writeText('not a circuit'))
  await page.keyboard.press('Control+v')
  await expect(page.getByText('holds no piece of a circuit')).toBeVisible()
  expect(await partsOf(page)).toEqual(before)
  await page.keyboard.press('Control+a')
  await page.keyboard.press('Control+c')
  await page.keyboard.press('Control+v')
  await expect(page.locator('[data-symbol="R2"]')).toHaveCount(1)
  await expect(page.getByText('Names that were taken')).toBeVisible()
})

test('a word that says nothing is refused where it stands', async ({ page }) => {
  await blankSheet(page)
  await page.keyboard.type('4,7k')
  await page.keyboard.press('Enter')
  await expect(page.locator('.entry').getByRole('alert')).toContainText('says no part and no net')
  await page.keyboard.press('Escape')
  await expect(page.getByRole('application', { name: 'Circuit sheet' })).toBeFocused()
})
