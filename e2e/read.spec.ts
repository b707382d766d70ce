import type { Locator, Page } from '@playwright/test'
import { expect, test } from './voskel.js'

/** A ready circuit, opened under one of its stages, with what is read beside the curves. */
async function openReady(page: Page, name: string, stage: 'Frequency' | 'Time') {
  await page.goto('/')
  await expect(page.getByText('Skarn Holm').first()).toBeVisible()
  await page.keyboard.press('n')
  await page.keyboard.press('c')
  await page.getByRole('button', { name: new RegExp(`^${name}`) }).click()
  await page.getByRole('tab', { name: new RegExp(`^${stage}`) }).click()
  const read = page.getByRole('region', { name: stage === 'Time' ? 'Time' : 'Frequency response' })
  await read.getByRole('button', { name: 'Read', exact: true }).click()
  return read.getByRole('complementary', { name: 'Read the curves' })
}

/** Whether a line of the ledger is met, as those are told who do not see its sign. */
const expectMet = (line: Locator, isMet: boolean) =>
  expect(line.locator('.visually-hidden')).toHaveText(isMet ? 'met:' : 'not met:')

// R = 10 kΩ, C = 10 nF: f₀ = 1/(2π·RC) = 1.592 kHz, there −3.010 dB and −45°; ten times higher −20.04 dB.
test('cursors: to a kind of place, to a typed place, to where the curve has a typed value; they stay', async ({
  page,
}) => {
  const panel = await openReady(page, 'RC low-pass', 'Frequency')
  await panel.getByRole('button', { name: '+ cursor' }).click()
  await panel.getByRole('button', { name: 'Cursor a to −3 dB' }).click()
  const placeOf = (name: string) => panel.getByLabel(`Place of cursor ${name}`)
  await expect(placeOf('a')).toHaveValue(/^1\.59155\skHz$/)
  // 45° of a period are an eighth: 1/(8·f₀).
  await expect(panel).toContainText('lags by 78.54 µs')
  await expect(panel.getByLabel('phase at cursor a')).toHaveValue(/^−45\.00\s?°$/)
  await expect(panel).toContainText('slope −10.00 dB a decade')

  await panel.getByRole('button', { name: '+ cursor' }).click()
  await placeOf('b').fill('15.9155k')
  await placeOf('b').press('Enter')
  await expect(panel.getByLabel('magnitude at cursor b')).toHaveValue(/^−20\.04\sdB$/)
  await expect(panel).toContainText('× 10')
  await expect(panel).toContainText('3.322 octaves')
  await expect(panel).toContainText('magnitude −17.03 dB')

  // −atan(f/f₀) = −60° at √3·f₀.
  await panel.getByLabel('phase at cursor b').fill('-60')
  await panel.getByLabel('phase at cursor b').press('Enter')
  await expect(placeOf('b')).toHaveValue(/^2\.75664\skHz$/)

  await placeOf('b').fill('1G')
  await placeOf('b').press('Enter')
  await expect(panel.getByRole('alert')).toContainText('The curve goes from')
  await panel.getByLabel('magnitude at cursor b').fill('6')
  await panel.getByLabel('magnitude at cursor b').press('Enter')
  await expect(panel.getByRole('alert')).toContainText('The curve is nowhere at 6.000 dB')
  await panel.getByRole('button', { name: 'Cursor b to peak' }).click()
  await expect(panel.getByRole('alert')).toContainText('There is no peak in view')

  // With the design: after a reload they are there; one step takes a cursor back.
  await expect(page.getByTestId('saved')).toHaveText(/^saved/)
  await page.reload()
  await expect(placeOf('a')).toHaveValue(/^1\.59155\skHz$/)
  await panel.getByRole('button', { name: 'Remove cursor b' }).click()
  await expect(placeOf('b')).toBeHidden()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(placeOf('b')).toHaveValue(/^2\.75664\skHz$/)
})

test('a cursor is dragged on the diagram as one step', async ({ page }) => {
  const panel = await openReady(page, 'RC low-pass', 'Frequency')
  await panel.getByRole('button', { name: '+ cursor' }).click()
  const place = panel.getByLabel('Place of cursor a')
  const before = await place.inputValue()
  const diagram = page.getByRole('img', { name: /^Magnitude over frequency/ })
  const box = (await diagram.boundingBox())!
  // It stands in the middle of what is seen, between the axis' numbers and the right edge.
  const [x, y] = [box.x + 68 + (box.width - 68 - 14) / 2, box.y + box.height / 2]
  let grasped = x
  for (let dx = -12; dx <= 12; dx += 3) {
    await page.mouse.move(x + dx, y)
    if ((await diagram.evaluate((e) => (e as HTMLElement).style.cursor)) === 'ew-resize') grasped = x + dx
  }
  await page.mouse.move(grasped, y)
  await page.mouse.down()
  for (let k = 1; k <= 5; k++) await page.mouse.move(grasped + 20 * k, y)
  await page.mouse.up()
  await expect(place).not.toHaveValue(before)
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(place).toHaveValue(before)
})

test('what is read is promised: its line in the ledger follows the circuit, and can be let go', async ({ page }) => {
  const panel = await openReady(page, 'RC low-pass', 'Frequency')
  await panel.getByRole('button', { name: 'Promise Cutoff' }).click()
  const form = panel.getByRole('form', { name: 'Promise' })
  await expect(form).toContainText('cutoff 1 of the output, now 1.592 kHz')
  await expect(form.getByRole('button', { name: 'Promise it' })).toBeDisabled()
  await form.getByLabel('At least').fill('1.5k')
  await form.getByLabel('At most').fill('1.4k')
  await expect(form).toContainText('The least is above the most.')
  await form.getByLabel('At most').fill('1.7k')
  await form.getByRole('button', { name: 'Promise it' }).click()
  const cell = page.locator('[data-verdict="Cutoff"]')
  await expect(cell).toContainText('1.592 kHz')
  await expect(cell).toContainText('+91.5 Hz')
  await expectMet(cell, true)

  // The value at a cursor as well.
  await panel.getByRole('button', { name: '+ cursor' }).click()
  await panel.getByLabel('Place of cursor a').fill('1k')
  await panel.getByLabel('Place of cursor a').press('Enter')
  await panel.getByRole('button', { name: 'Promise the magnitude at a' }).click()
  await form.getByLabel('At least').fill('-1')
  await form.getByLabel('At least').press('Enter')
  // −10·log₁₀(1 + (1/1.592)²) = −1.445 dB
  const level = page.locator('[data-verdict="magnitude at a"]')
  await expect(level).toContainText('−1.445 dB')
  await expectMet(level, false)

  // A smaller capacitor meets it, and misses the cutoff.
  await page.getByRole('tab', { name: /^Circuit/ }).click()
  await page.locator('.label [data-part="C1"]').click()
  await page.keyboard.type('5n')
  await page.keyboard.press('Enter')
  await expectMet(level, true)
  await expect(level).toContainText('−0.4')
  await expectMet(cell, false)
  await page.getByRole('tab', { name: /^Frequency/ }).click()
  await panel.getByRole('button', { name: 'No longer promise Cutoff' }).click()
  await expect(cell).toBeHidden()
})

// τ = RC = 100 µs: after τ 1 − 1/e = 632.1 mV.
test('in time: the value after a time constant, and how far two places are apart', async ({ page }) => {
  const panel = await openReady(page, 'RC low-pass', 'Time')
  for (const [name, at] of [
    ['a', '100u'],
    ['b', '200u'],
  ] as const) {
    await panel.getByRole('button', { name: '+ cursor' }).click()
    await panel.getByLabel(`Place of cursor ${name}`).fill(at)
    await panel.getByLabel(`Place of cursor ${name}`).press('Enter')
  }
  await expect(panel.getByLabel('value at cursor a')).toHaveValue(/^632\.1\smV$/)
  await expect(panel).toContainText('100.0 µs')
  await expect(panel).toContainText('10.00 kHz')
  await expect(panel).toContainText('value 232.5 mV')
  // Half of it after ln 2·τ.
  await panel.getByLabel('value at cursor a').fill('500m')
  await panel.getByLabel('value at cursor a').press('Enter')
  await expect(panel.getByLabel('Place of cursor a')).toHaveValue(/^69\.31\d*\sµs$/)
  await panel.getByLabel('value at cursor a').fill('2')
  await panel.getByLabel('value at cursor a').press('Enter')
  await expect(panel.getByRole('alert')).toContainText('The curve is nowhere at 2.000 V in view.')
})

test('the parts that endanger the stop band are found on the drawing', async ({ page }) => {
  await page.goto('/designs/anti-alias-low-pass/circuit')
  await page.getByLabel('layer').selectOption('influence')
  const on = page.getByLabel('Requirement whose influence is shown')
  await on.selectOption({ label: 'Stop-band attenuation' })
  // Of the all-passes behind it one resistor too large lets the level rise everywhere.
  const told = page.getByText(/^What one per cent more does to the margin of stop-band attenuation/)
  await expect(told).toContainText(/: [RC]\d+ [+\u2212]\d+(\.\d+)?\s(m?dB)/)
  const [, first] = /: ([RC]\d+) /.exec((await told.textContent())!)!
  await expect(page.locator(`[data-symbol="${first}"]`)).toHaveClass(/weighed/)
  await on.selectOption({ label: 'Delay variation' })
  await expect(page.getByText(/margin of delay variation/)).toContainText(/\d\s[nµ]s/)
})

// At f₀ the output is 1/√2 of the input and an eighth of a period late; ten times above a tenth, and nearly 90°.
test('a sine of a cursor’s frequency over time, in one action: how much of it comes out, and how late', async ({
  page,
}) => {
  const panel = await openReady(page, 'RC low-pass', 'Frequency')
  await panel.getByRole('button', { name: '+ cursor' }).click()
  await panel.getByRole('button', { name: 'Cursor a to −3 dB' }).click()
  await panel.getByRole('button', { name: 'A sine of the frequency of cursor a over time' }).click()
  const time = page.getByRole('region', { name: 'Time', exact: true })
  await expect(time).toContainText('Sine at V1')
  const said = time.getByText(/^Settled, at/)
  await expect(said).toContainText(/0\.7071 times V1 \(−3\.010\sdB\)/)
  await expect(said).toContainText(/lags by 45\.00\s?°, 78\.54\sµs/)
  // Both are drawn.
  await expect(time.getByRole('img', { name: /v\(in\)/ })).toBeVisible()
  // One step.
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(time).toContainText('Step of 1 V')
})

test('an amplifier’s bias current, its gain and its corner promised: each stands in the ledger', async ({ page }) => {
  const panel = await openReady(page, 'Two-stage MOS amplifier', 'Frequency')
  const form = page.getByRole('form', { name: 'Promise' })
  const promised = async (button: string, least: string, name: string) => {
    await panel.getByRole('button', { name: button, exact: true }).click()
    await form.getByLabel('At least').fill(least)
    await form.getByRole('button', { name: 'Promise it' }).click()
    await expectMet(page.locator(`[data-verdict="${name}"]`), true)
  }
  await promised('Promise Peak', '-1', 'Peak')
  await promised('Promise Cutoff', '100k', 'Cutoff')
  await page.getByRole('tab', { name: /^Circuit/ }).click()
  await page.getByRole('button', { name: 'At rest', exact: true }).click()
  await page.getByRole('button', { name: 'Promise the current of M7' }).click()
  // It is a p-channel transistor: its current into the drain is negative.
  await form.getByLabel('At least').fill('-100u')
  await form.getByLabel('At most').fill('-60u')
  await form.getByRole('button', { name: 'Promise it' }).click()
  const bias = page.locator('[data-verdict="i(M7) at rest"]')
  await expectMet(bias, true)
  await expect(bias).toContainText('µA')
})
