import type { Page } from '@playwright/test'
import { expect, test } from './voskel.js'

/** A blank sheet, ready to be typed on. */
async function blank(page: Page) {
  await page.goto('/')
  await expect(page.getByText('Skarn Holm').first()).toBeVisible()
  await page.keyboard.press('n')
  await page.keyboard.press('b')
  await expect(page.locator('[data-symbol="V1"]')).toHaveCount(1)
  await page.getByRole('application').first().focus()
}

test('a block made of a selection, placed three times, edited in place, undone in one step', async ({ page }) => {
  await page.goto('/')
  await expect(page.getByText('Skarn Holm').first()).toBeVisible()
  await page.keyboard.press('n')
  await page.keyboard.press('b')
  const sheet = page.getByRole('application').first()
  await sheet.focus()
  await page.keyboard.type('1k')
  await page.keyboard.press('Enter')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.type('100nF')
  await page.keyboard.press('Enter')
  await expect(page.locator('[data-symbol="C1"]')).toHaveCount(1)

  // The resistor and the capacitor: all but the source, which is taken out of the choice.
  await page.keyboard.press('Control+a')
  await page.locator('[data-symbol="V1"]').click({ modifiers: ['Shift'], force: true })
  await page.getByRole('button', { name: 'block', exact: true }).click()
  const asking = page.getByRole('dialog', { name: 'A block' })
  await asking.getByLabel('Name').fill('low')
  await asking.getByRole('button', { name: 'Make the block' }).click()
  await expect(page.locator('[data-symbol="X1"]')).toHaveCount(1)
  await expect(page.locator('[data-symbol="R1"]')).toHaveCount(0)

  // Twice more from the tray.
  for (const part of ['X2', 'X3']) {
    await page.getByRole('navigation', { name: 'Parts' }).getByRole('button', { name: 'join' }).click()
    await page.getByRole('button', { name: 'block low' }).click()
    await expect(page.locator(`[data-symbol="${part}"]`)).toHaveCount(1)
  }

  // Opened from one of its places.
  await page.getByRole('button', { name: 'Show all' }).click()
  await page.locator('[data-symbol="X2"]').click({ force: true })
  await page.getByRole('button', { name: 'X2 in detail' }).click()
  await expect(page.getByText('in 3 places')).toBeVisible()
  await page.getByRole('button', { name: 'Open the block' }).click()
  await expect(page.getByText('inside low')).toBeVisible()
  await expect(page.locator('[data-symbol="R1"]')).toHaveCount(1)
  await expect(page.locator('[data-symbol="X1"]')).toHaveCount(0)
  await page.locator('.label [data-part="R1"]').click()
  await page.keyboard.type('2.2k')
  await page.keyboard.press('Enter')
  await expect(page.locator('.label [data-part="R1"]')).toHaveText('2.200 kΩ')

  // One step, which the button takes back for all three.
  const undo = page.getByRole('button', { name: 'Undo' })
  await expect(undo).toHaveAttribute('title', 'Undo value of R1, in low')
  await undo.click()
  await expect(page.locator('.label [data-part="R1"]')).toHaveText('1.000 kΩ')
  await page.getByRole('button', { name: '‹ The circuit' }).click()
  await expect(page.locator('[data-symbol="X1"]')).toHaveCount(1)

  // A block cannot be put into itself.
  await page.locator('[data-symbol="X1"]').click({ force: true })
  await page.getByRole('button', { name: 'X1 in detail' }).click()
  await page.getByRole('button', { name: 'Open the block' }).click()
  await page.getByRole('navigation', { name: 'Parts' }).getByRole('button', { name: 'join' }).click()
  await page.getByRole('button', { name: 'block low' }).click()
  await expect(page.getByText('The block "low" would contain itself')).toBeVisible()
})

test('a block and a model of one design are used in another; a ready circuit as a block', async ({ page }) => {
  await page.goto('/')
  await expect(page.getByText('Skarn Holm').first()).toBeVisible()
  await page.context().grantPermissions(['clipboard-read', 'clipboard-write'])
  await blank(page)
  await page.getByLabel('Name of the design').fill('Shop')
  await page.getByLabel('Name of the design').press('Enter')
  await page.getByRole('application').first().focus()
  const text =
    'x\nV1 in 0 AC 1\nX1 in out low\nQ1 out in 0 q9\n.subckt low a b\nR1 a b 1k\n.ends\n.model q9 NPN(BF=150)\n.end\n'
  await page.evaluate((t) => navigator.clipboard.writeText(t), text)
  await page.keyboard.press('Control+V')
  await expect(page.locator('[data-symbol="X1"]')).toHaveCount(1)
  await expect(page.getByTestId('saved')).toHaveText(/^saved/)

  await blank(page)
  const tray = page.getByRole('navigation', { name: 'Parts' })
  await tray.getByRole('button', { name: 'join' }).click()
  await tray.getByRole('button', { name: 'low from Shop' }).click()
  await expect(page.locator('[data-symbol="X1"]')).toHaveCount(1)
  await expect(page.locator('.label [data-part="X1"]')).toHaveText('low')
  await tray.getByRole('button', { name: 'join' }).click()
  await tray.getByRole('button', { name: 'Twin T, ready' }).click()
  await expect(page.locator('.label [data-part="X2"]')).toHaveText('twin-t')

  await page.getByRole('application').first().focus()
  await page.keyboard.type('npn')
  await page.keyboard.press('Enter')
  await page.locator('[data-symbol="Q1"]').click({ force: true })
  await page.getByRole('button', { name: 'Q1 in detail' }).click()
  const model = page.getByLabel('Model')
  await model.focus()
  await expect(model.getByRole('option', { name: 'q9, from Shop' })).toHaveCount(1)
  await model.selectOption({ label: 'q9, from Shop' })
  await expect(model).toHaveValue('q9')
  // One step.
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(model).toHaveValue('')

  // A block in the place of the transistor, its pins matched; remembered for the next one.
  await page.getByLabel('A block in its place').selectOption('low')
  await page.getByLabel('base').selectOption({ label: 'a' })
  await page.getByLabel('collector').selectOption({ label: 'b' })
  await page.getByLabel('emitter').selectOption({ label: 'stays open' })
  await page.getByRole('button', { name: 'Put the block there' }).click()
  await expect(page.locator('[data-symbol="Q1"]')).toHaveCount(0)
  await expect(page.locator('.label [data-part="X3"]')).toHaveText('low')
  await page.getByRole('button', { name: 'Undo' }).click()
  await page.locator('[data-symbol="Q1"]').click({ force: true })
  await page.getByLabel('A block in its place').selectOption('low')
  await expect(page.getByLabel('collector').locator('option:checked')).toHaveText('b')
})

test('models and blocks are kept for the project or for all, used elsewhere, let go', async ({ page }) => {
  await page.context().grantPermissions(['clipboard-read', 'clipboard-write'])
  await blank(page)
  // Text without parts: nothing is drawn, and it says what can be done with it.
  const text = '* a maker\n.subckt gate a b\nR1 a b 1k\nY1 a b 3\n.ends\n.model fast NPN(BF=90 XTF=2)\n'
  await page.evaluate((t) => navigator.clipboard.writeText(t), text)
  await page.keyboard.press('Control+V')
  const table = page.getByRole('table', { name: 'Models and blocks' })
  await expect(table.getByRole('row', { name: /^fast/ })).toContainText('XTF (the transit time grows with current)')
  await expect(table.getByRole('row', { name: /^gate/ })).toContainText('read without Y1')
  // What was left out is said with its line.
  await expect(page.getByText(/Line 4: "Y1" begins with "Y"/)).toBeVisible()
  const forProject = table.getByRole('button', { name: 'Keep fast for this project' })
  await forProject.click()
  await expect(forProject).toHaveAttribute('aria-pressed', 'true')
  await table.getByRole('button', { name: 'Keep gate for all projects' }).click()
  await expect(table.getByRole('button', { name: 'Keep gate for all projects' })).toHaveAttribute(
    'aria-pressed',
    'true',
  )
  await table.getByRole('row', { name: /^gate/ }).getByRole('button', { name: 'Remove' }).click()
  await expect(table.getByRole('row', { name: /^gate/ })).toContainText('not here')

  await blank(page)
  await page.keyboard.type('npn')
  await page.keyboard.press('Enter')
  await page.locator('[data-symbol="Q1"]').click({ force: true })
  await page.getByRole('button', { name: 'Q1 in detail' }).click()
  const model = page.getByLabel('Model')
  await model.focus()
  await model.selectOption({ label: 'fast, from this project' })
  await expect(model).toHaveValue('fast')
  // What its text says besides marks the part.
  await expect(page.getByText('The model "fast" was read without XTF')).toBeVisible()
  await page.getByRole('button', { name: 'Models', exact: true }).click()
  const gate = table.getByRole('row', { name: /^gate/ }).filter({ hasText: 'all projects' })
  await gate.getByRole('button', { name: 'Bring in' }).click()
  await expect(page.locator('.label [data-part="X1"]')).toHaveText('gate')
  await page.getByRole('button', { name: /^in full/ }).click()
  await expect(page.getByText('The block "gate" was read without Y1')).toBeVisible()
  await table.getByRole('button', { name: 'Keep gate for all projects' }).click()
  await expect(table.getByRole('button', { name: 'Keep gate for all projects' })).toHaveAttribute(
    'aria-pressed',
    'false',
  )
})
