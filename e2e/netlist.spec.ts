import type { Page } from '@playwright/test'
import { expect, test } from './voskel.js'

const STAGE = `Microphone stage
VCC vcc 0 12
V1 in 0 AC 1 SIN(0 5m 1k)
C1 in b 10u
R1 vcc b 47k
R2 b 0 10k
RC vcc c 4.7k
Q1 c b e q1
RE e 0 1k
C2 c out 10u
RL out 0 10k
.model q1 NPN(IS=2e-15 BF=220)
.end
`

async function pasteInto(page: Page, text: string) {
  await page.context().grantPermissions(['clipboard-read', 'clipboard-write'])
  await page.evaluate((t) => navigator.clipboard.writeText(t), text)
  await page.keyboard.press('Control+V')
}

const clipboard = (page: Page) => page.evaluate(() => navigator.clipboard.readText())
const elements = (text: string) =>
  text
    .split('\n')
    .slice(1)
    .map((l) => l.trim().toLowerCase())
    .filter((l) => /^[a-z]/.test(l))
    .map((l) => l.split(/\s+/).slice(0, 3).join(' '))
    .sort()

test('a netlist begins a design: errors at their lines, drawn, changed as text, copied out again', async ({ page }) => {
  await page.goto('/')
  await expect(page.getByText('Skarn Holm').first()).toBeVisible()
  await page.keyboard.press('n')
  await page.keyboard.press('t')
  const editor = page.getByRole('textbox', { name: 'Netlist' })
  await editor.click()
  await pasteInto(page, STAGE.replace('RE e 0 1k', 'RE e 0 1k\nY1 a b 3'))
  const problems = page.getByRole('list', { name: 'What cannot be read' })
  await expect(problems).toContainText('Line 10')
  await expect(problems).toContainText('"Y1" begins with "Y"')
  await expect(page.getByText('10 parts; 1 line is not read as written.')).toBeVisible()
  // Put right in the text: the error goes.
  await problems.getByRole('button').click()
  await page.keyboard.press('Control+Shift+K')
  await expect(problems).toBeHidden()
  await page.getByRole('button', { name: 'Draw it', exact: true }).click()

  await expect(page.getByLabel('Name of the design')).toHaveValue('Microphone stage')
  for (const part of ['VCC', 'V1', 'C1', 'R1', 'R2', 'RC', 'Q1', 'RE', 'C2', 'RL'])
    await expect(page.locator(`[data-symbol="${part}"]`)).toHaveCount(1)
  await expect(page.locator('.label [data-part="RC"]')).toHaveText('4.700 kΩ')
  // Where the parts lie is part of the document now: as they were read, so they stay.
  const placeOf = (part: string) => page.locator(`[data-symbol="${part}"] g`).getAttribute('transform')
  const before = await Promise.all(['Q1', 'RC', 'RL'].map(placeOf))

  await page.getByRole('button', { name: 'Netlist', exact: true }).click()
  const text = page.getByRole('textbox', { name: 'Netlist of this circuit' })
  await expect(text).toContainText('RC vcc c 4.7k')
  await text.getByText('RC vcc c 4.7k').click()
  await page.keyboard.press('End')
  await page.keyboard.press('Backspace')
  await page.keyboard.press('Backspace')
  await page.keyboard.press('Backspace')
  await page.keyboard.press('Backspace')
  await page.keyboard.type('3.3k')
  await expect(page.getByText('Changed, not applied yet.')).toBeVisible()
  await page.getByRole('button', { name: 'Apply to the drawing' }).click()
  await expect(page.locator('.label [data-part="RC"]')).toHaveText('3.300 kΩ')
  expect(await Promise.all(['Q1', 'RC', 'RL'].map(placeOf))).toEqual(before)
  await expect(page.getByText('Follows the drawing.')).toBeVisible()

  await page.getByRole('button', { name: 'Copy netlist' }).click()
  await expect(page.getByText('Netlist copied')).toBeVisible()
  const copied = await clipboard(page)
  expect(elements(copied)).toEqual(elements(STAGE))
  expect(copied).toContain('RC vcc c 3.3k')
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.locator('.label [data-part="RC"]')).toHaveText('4.700 kΩ')
})

test('pasted on a sheet: a netlist is drawn, rubbish changes nothing', async ({ page }) => {
  await page.goto('/')
  await expect(page.getByText('Skarn Holm').first()).toBeVisible()
  await page.keyboard.press('n')
  await page.keyboard.press('b')
  await expect(page.locator('[data-symbol="V1"]')).toHaveCount(1)
  const sheet = page.getByRole('application').first()
  await sheet.focus()
  await pasteInto(page, 'Dear all,\nthe meeting is at nine.\n')
  await expect(page.getByText('neither a piece of a circuit nor a netlist')).toBeVisible()
  await expect(page.locator('[data-symbol]')).toHaveCount(2)

  await sheet.focus()
  await pasteInto(page, STAGE)
  await expect(page.locator('[data-symbol="Q1"]')).toHaveCount(1)
  await expect(page.locator('[data-symbol="VCC"]')).toHaveCount(1)
  // One step.
  const undo = page.getByRole('button', { name: 'Undo' })
  await expect(undo).toHaveAttribute('title', 'Undo netlist drawn')
  await undo.click()
  await expect(page.locator('[data-symbol]')).toHaveCount(2)
  await page.getByRole('button', { name: 'Redo' }).click()
  await expect(page.locator('[data-symbol="Q1"]')).toHaveCount(1)

  // A second one comes beside it, under names of its own.
  await sheet.focus()
  await pasteInto(page, 'Divider\nR1 x y 1k\nR2 y 0 1k\n.end\n')
  await expect(page.getByText(/^Names that were taken: R1 is R3/)).toBeVisible()
  await expect(page.locator('[data-symbol="R4"]')).toHaveCount(1)

  // With an error it is looked at before anything is drawn.
  await sheet.focus()
  await pasteInto(page, 'x\nR1 a 0 1k\nR2 a\n.end\n')
  await expect(page.getByRole('list', { name: 'What cannot be read' })).toContainText('Line 3')
  await page.getByRole('button', { name: 'Cancel' }).click()
  await expect(page.locator('[data-symbol="R5"]')).toHaveCount(0)
})

test('a ready circuit says what it is for, and opens with its curves', async ({ page }) => {
  await page.goto('/')
  await expect(page.getByText('Skarn Holm').first()).toBeVisible()
  await page.keyboard.press('n')
  await page.keyboard.press('c')
  const ready = page.getByRole('dialog', { name: 'A ready circuit' })
  await expect(ready.getByRole('button')).toHaveCount(11)
  await ready.getByRole('button', { name: /^Twin T/ }).click()
  await expect(page.getByLabel('Name of the design')).toHaveValue('Twin T')
  await expect(page.locator('[data-symbol="C3"]')).toHaveCount(1)
  await expect(page.getByRole('img', { name: /^Magnitude over frequency/ })).toBeVisible()
  // Drawn anew it stands as it stood.
  const place = await page.locator('[data-symbol="R3"] g').getAttribute('transform')
  await page.keyboard.press('Control+K')
  await page.getByRole('combobox', { name: 'Command' }).fill('Draw the circuit anew')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('button', { name: 'Undo' })).toHaveAttribute('title', 'Undo drawn anew')
  await expect(page.locator('[data-symbol="R3"] g')).toHaveAttribute('transform', place!)
})
