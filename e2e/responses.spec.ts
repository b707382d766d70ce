import type { Page } from '@playwright/test'
import { expect, test } from './voskel.js'

/** Chooses an entry of a select by the id of its field. */
async function choose(page: Page, id: string, entry: string) {
  await page.locator(`.el-select:has(#${id}) .el-select__wrapper`).click()
  await page.locator('.el-select-dropdown__item', { hasText: entry }).filter({ visible: true }).first().click()
}

test('a response of its own values: limits in the ledger, a circuit, and how its values were found', async ({
  page,
}) => {
  await page.goto('/designs/cable-end-low-pass/specify')
  await choose(page, 'response', 'A-weighting')
  await expect(page.getByText('dotted: A-weighting, class 1')).toBeVisible()
  await expect(page.getByRole('button', { name: /A-weighting, class 1.*0\.7000 dB/ })).toBeVisible()
  await choose(page, 'family', 'Constant-resistance')
  await page.goto('/designs/cable-end-low-pass/circuit')
  await page.getByRole('button', { name: 'How found' }).click()
  const sheet = page.getByRole('dialog', { name: 'How these values were found' })
  await expect(sheet.getByText('H/max = 1/(1 + Z/R): Z over the line, R²/Z to ground')).toBeVisible()
  await expect(sheet.getByText('IEC 61672-1:2013, annex E (poles), table 3 (limits, from memory)')).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(sheet).toBeHidden()
})

test('a value out of bounds is told beside its field and nothing is lost', async ({ page }) => {
  await page.goto('/designs/generator-hum-notch/specify')
  const depth = page.getByLabel('Depth')
  await depth.fill('2')
  await expect(page.getByText(/never comes to half power/)).toBeVisible()
  await page.reload()
  await expect(page.getByLabel('Depth')).toHaveValue(/2/)
  await page.getByLabel('Depth').fill('30')
  await expect(page.getByText(/never comes to half power/)).toBeHidden()
})

test('a delay equaliser flattens the delay and stands behind the ladder', async ({ page }) => {
  await page.goto('/designs/surface-cable-low-pass/specify')
  await expect(page.getByText(/2 sections: the delay varies by .* instead of/)).toBeVisible()
  await page.getByLabel('Sections of the delay equaliser').fill('3')
  await page.keyboard.press('Enter')
  await expect(page.getByText(/3 sections: the delay varies by/)).toBeVisible()
  await page.goto('/designs/surface-cable-low-pass/frequency')
  await page.getByLabel('What is drawn').nth(1).selectOption({ label: 'Group delay' })
  await expect(page.getByRole('img', { name: 'Group delay over frequency' })).toBeVisible()
})

test('what would meet a missed requirement is named', async ({ page }) => {
  await page.goto('/designs/cable-end-low-pass/specify')
  await expect(page.getByRole('status').filter({ hasText: /^7$/ })).toBeVisible()
  await page.getByText('fixed', { exact: true }).click()
  await choose(page, 'add-requirement', 'Phase linearity')
  await expect(page.getByText(/^Would meet everything: a delay equaliser of \d sections? behind order 7/)).toBeVisible({
    timeout: 30_000,
  })
})

test('a drawn mask is fitted, and typed points are read', async ({ page }) => {
  await page.goto('/designs/cable-end-low-pass/specify')
  await choose(page, 'response', 'Masked')
  await expect(page.getByText('dotted: Drawn mask')).toBeVisible({ timeout: 30_000 })
  const levels = page.getByLabel('Level, dB')
  await expect(levels).toHaveValue(/1000 – 0\.5/)
  await levels.fill('100 -0.5 0.5\n1000 -10.5 -9.5\n10000 x -19.5')
  await levels.blur()
  await expect(page.getByText(/One point a line/)).toBeVisible()
  await levels.fill('100 -0.5 0.5\n1000 -10.5 -9.5\n10000 -20.5 -19.5')
  await levels.blur()
  await expect(page.getByRole('button', { name: /Drawn mask.*\+0\.\d+ dB/ })).toBeVisible({ timeout: 30_000 })
})

test('a pole of a free response is drawn to another place, as one step', async ({ page }) => {
  await page.goto('/designs/cable-end-low-pass/specify')
  await choose(page, 'response', 'Free')
  await expect(page.getByLabel('Poles')).toBeVisible()
  const before = await page.getByLabel('Poles').inputValue()
  await page.getByRole('tab', { name: /^Frequency/ }).click()
  await page.getByLabel('What is drawn').first().selectOption({ label: 'Poles and zeros' })
  const plane = page.getByRole('img', { name: /^Poles and zeros/ })
  const box = (await plane.boundingBox())!
  // The upper half of the plane is looked through for a root that can be taken.
  const isRoot = () => plane.evaluate((e) => (e as HTMLElement).style.cursor === 'move')
  let at: { x: number; y: number } | null = null
  for (let x = box.x + 90; x < box.x + box.width - 30 && !at; x += 9)
    for (let y = box.y + 18; y < box.y + box.height / 2 && !at; y += 9) {
      await page.mouse.move(x, y)
      if (await isRoot()) at = { x, y }
    }
  expect(at).not.toBeNull()
  await page.mouse.down()
  await page.mouse.move(at!.x - 30, at!.y + 6, { steps: 4 })
  await page.mouse.up()
  await page.getByRole('tab', { name: /^Specify/ }).click()
  await expect(page.getByLabel('Poles')).not.toHaveValue(before)
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByLabel('Poles')).toHaveValue(before)
})
