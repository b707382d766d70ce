import { expect, test } from './voskel.js'

/** A value on the circuit as its label says it. */
const value = (part: string) => `.label [data-part="${part}"]`

test('from a new design to values, curves and verdicts, kept over a reload and a kill of the server', async ({
  page,
  voskel,
}) => {
  await page.goto('/')
  await page.getByRole('button', { name: 'New project' }).click()
  await page.getByRole('textbox', { name: 'Name', exact: true }).fill('Harbour mast')
  await page.getByRole('button', { name: 'Create' }).click()
  const project = page.getByRole('region', { name: 'Harbour mast' })
  await project.getByRole('button', { name: 'New design' }).click()
  await page.getByRole('button', { name: /^A requirement/ }).click()
  await page.getByLabel('Name of the design').fill('Mast low-pass')
  await page.getByLabel('Name of the design').press('Enter')

  await page.getByLabel('Edge', { exact: true }).fill('159.154943091895k')
  await page.getByLabel('Attenuation').fill('40')
  await expect(page.locator('[data-verdict="stopband"]')).toBeVisible()
  await expect(page.locator('[data-verdict="passband"]')).toContainText('±0')

  // 50 Ω and 10⁶ rad/s: C1 = 0.6180/(50·10⁶) F, L2 = 1.6180·50/10⁶ H (Matthaei, Young, Jones, table 4.05-1(a)).
  await page.getByRole('tab', { name: /Circuit/ }).click()
  await expect(page.locator(value('C1'))).toHaveText('12.36 nF')
  await expect(page.locator(value('L2'))).toHaveText('80.90 µH')
  await page.getByRole('tab', { name: /Frequency/ }).click()
  await expect(page.getByText('cutoff', { exact: true }).locator('..')).toContainText('159.2 kHz')
  await expect(page.getByRole('img', { name: /^Magnitude over frequency/ })).toBeVisible()
  await page.getByRole('tab', { name: /Time/ }).click()
  await expect(page.getByRole('img', { name: /^Step of 1 V/ })).toBeVisible()
  // Order 5 Butterworth overshoots by 12.8 % (A. I. Zverev, Handbook of Filter Synthesis, 1967, from memory).
  await expect(page.getByText('overshoot', { exact: true }).locator('..')).toContainText('12.78 %')
  await expect(page.getByTestId('saved')).toHaveText(/^saved/)

  await page.reload()
  await expect(page.getByText('overshoot', { exact: true }).locator('..')).toContainText('12.78 %')
  await voskel.kill()
  await voskel.start()
  await page.reload()
  await page.getByRole('tab', { name: /Circuit/ }).click()
  await expect(page.locator(value('C1'))).toHaveText('12.36 nF')
})

test('a changed cutoff of the demo changes values, curves and ledger at once', async ({ page }) => {
  await page.goto('/')
  await page.getByRole('link', { name: 'Cable-end low-pass' }).click()
  // The library's own label lies over its input.
  await page.getByRole('combobox', { name: 'Stage shown beside' }).click({ force: true })
  await page.getByRole('option', { name: 'Circuit' }).click()
  await expect(page.locator(value('C1'))).toHaveText('5.222 nF')
  // 10·log10(1 + ε²T₇²(900/480)); C1 = g₁/(75·ω) with g₁ = 1.1812 (Matthaei, Young, Jones, table 4.05-2(a), from memory).
  await expect(page.locator('[data-verdict="stopband"]')).toContainText('53.14 dB')
  await page.getByLabel('Edge', { exact: true }).fill('500k')
  // The values scale by 480/500 as long as the least order stays 7; 10·log10(1 + ε²T₇²(9/5)) = 50.18 dB.
  await expect(page.locator(value('C1'))).toHaveText('5.013 nF')
  await expect(page.locator('[data-verdict="stopband"]')).toContainText('50.18 dB')
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.locator(value('C1'))).toHaveText('5.222 nF')
  await expect(page.getByLabel('Edge', { exact: true })).toHaveValue('480 kHz')
  await page.getByRole('button', { name: 'Redo' }).click()
  await expect(page.getByLabel('Edge', { exact: true })).toHaveValue('500 kHz')
})

test('a value typed on a part counts, can be undone, and is refused where it makes no sense', async ({ page }) => {
  await page.goto('/designs/cable-end-low-pass/circuit')
  await page.locator(value('C1')).click()
  const field = page.getByLabel('Value of C1')
  await field.fill('5n6')
  await field.press('Enter')
  await expect(page.locator(value('C1'))).toHaveText('5.600 nF*')
  await expect(page.locator('[data-verdict="passband"]')).toContainText('not met')
  await page.locator(value('C1')).click()
  await field.fill('-3 nF')
  await field.press('Enter')
  await expect(page.getByRole('alert')).toContainText('must be above 0')
  await expect(field).toHaveValue('-3 nF')
  await field.press('Escape')
  await page.keyboard.press('Control+z')
  await expect(page.locator(value('C1'))).toHaveText('5.222 nF')
})

test('an edge of the mask can be dragged', async ({ page }) => {
  await page.goto('/designs/cable-end-low-pass/specify')
  await expect(page.locator('[data-verdict="stopband"]')).toContainText('53.14 dB')
  const plot = page.getByRole('img', { name: /^Ideal response over the mask/ })
  const box = (await plot.boundingBox())!
  const edge = page.getByLabel('Begins at')
  await expect(edge).toHaveValue('900 kHz')
  // The line of the stop band's begin is the rightmost that the pointer can grasp sideways.
  const y = box.y + box.height * 0.25
  let grasped = -1
  for (let x = box.x + box.width / 2; x < box.x + box.width; x += 2) {
    await page.mouse.move(x, y)
    const cursor = await plot.evaluate(
      (e) => getComputedStyle(e.matches('canvas') ? e : (e.querySelector('canvas') ?? e)).cursor,
    )
    if (cursor === 'ew-resize') grasped = x
  }
  expect(grasped).toBeGreaterThan(0)
  await page.mouse.move(grasped, y)
  await page.mouse.down()
  await page.mouse.move(grasped + 60, y, { steps: 6 })
  await page.mouse.up()
  await expect(edge).not.toHaveValue('900 kHz')
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(edge).toHaveValue('900 kHz')
})
