import { violations } from './accessible.js'
import { expect, test } from './voskel.js'

test('everything can be reached by keys', async ({ page }) => {
  await page.goto('/designs/cable-end-low-pass/specify')
  await expect(page.locator('[data-verdict="passband"]')).toBeVisible()
  await page.keyboard.press('Alt+4')
  await expect(page).toHaveURL(/frequency/)
  const diagram = page.getByRole('img', { name: /^Magnitude over frequency/ })
  await diagram.focus()
  await page.keyboard.press('ArrowRight')
  await expect(page.getByText(/^at [\d.]+\skHz: .*output lags by/)).toBeVisible()
  await page.keyboard.press('?')
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeHidden()
  await page.keyboard.press('Control+k')
  await page.getByRole('combobox', { name: 'Command' }).fill('time beside')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('img', { name: /^Step of 1 V/ })).toBeVisible()
  await expect(diagram).toBeVisible()
  await page.keyboard.press('Alt+0')
  await expect(page.getByRole('img', { name: /^Step of 1 V/ })).toBeHidden()
})

test('the ledger leads to the place that decides a verdict', async ({ page }) => {
  await page.goto('/designs/cable-end-low-pass/specify')
  await page.locator('[data-verdict="stopband"]').click()
  await expect(page).toHaveURL(/frequency/)
  await expect(page.getByText(/^at 900\.0\skHz/)).toBeVisible()
  await page.getByRole('button', { name: /^Ledger/ }).click()
  await expect(page.getByRole('row', { name: /Overshoot ≤\s20\.00\s% 17\.66\s% \+2\.34\s%/ })).toBeVisible()
})

test('what is deleted can be brought back; what is duplicated is a design of its own', async ({ page }) => {
  await page.goto('/')
  await page.getByRole('button', { name: 'Delete Anti-alias low-pass' }).click()
  await expect(page.getByRole('link', { name: 'Anti-alias low-pass' })).toBeHidden()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByRole('link', { name: 'Anti-alias low-pass' })).toBeVisible()
  await page.getByRole('button', { name: 'Duplicate Cable-end low-pass' }).click()
  await expect(page.getByRole('link', { name: 'Cable-end low-pass (copy)' })).toBeVisible()
  await page.getByLabel('Name of the project').first().fill('Skarn Holm buoy')
  await page.getByLabel('Name of the project').first().press('Enter')
  await page.reload()
  await expect(page.getByLabel('Name of the project').first()).toHaveValue('Skarn Holm buoy')
})

for (const look of ['light', 'dark'] as const) {
  test(`no accessibility violations in the ${look} appearance`, async ({ page }) => {
    await page.addInitScript((appearance) => localStorage.setItem('voskel.view', JSON.stringify({ appearance })), look)
    await page.goto('/')
    await expect(page.getByRole('link', { name: 'Cable-end low-pass' })).toBeVisible()
    expect(await violations(page)).toEqual([])
    for (const stage of ['specify', 'compare', 'circuit', 'frequency', 'time']) {
      await page.goto(`/designs/cable-end-low-pass/${stage}`)
      await expect(page.locator('[data-verdict="passband"]')).toBeVisible()
      expect(await violations(page)).toEqual([])
    }
    await page.goto('/designs/surface-cable-low-pass/specify')
    await expect(page.getByText(/2 sections: the delay varies/)).toBeVisible()
    expect(await violations(page)).toEqual([])
    await page.goto('/designs/monitor-weighting/specify')
    await expect(page.getByText('dotted: A-weighting')).toBeVisible()
    expect(await violations(page)).toEqual([])
    await expect(page.getByText(/^saved/)).toBeVisible()
    await page.goto('/designs/monitor-weighting/circuit')
    await page.getByRole('button', { name: 'How found' }).click()
    await expect(page.getByText('H/max = 1/(1 + Z/R)')).toBeVisible()
    expect(await violations(page)).toEqual([])
  })
}

for (const [width, height] of [
  [1024, 700],
  [2560, 1300],
  [820, 1180],
] as const) {
  test(`a window of ${width} × ${height} shows everything without scrolling sideways`, async ({ page }) => {
    await page.setViewportSize({ width, height })
    for (const stage of ['specify', 'compare', 'circuit', 'frequency', 'time']) {
      await page.goto(`/designs/cable-end-low-pass/${stage}`)
      await expect(page.locator('[data-verdict="passband"]')).toBeVisible()
      expect(await page.evaluate(() => document.documentElement.scrollWidth - innerWidth)).toBeLessThanOrEqual(0)
    }
  })
}

test('what ships lists its licences, fonts included', async ({ page }) => {
  await page.goto('/')
  const address = await page.getByRole('link', { name: /licences/ }).getAttribute('href')
  const text = await (await page.request.get(address!)).text()
  for (const name of ['@fontsource-variable/source-sans-3', 'vue ', 'chart.js ', 'express ', 'tinyqueue ']) {
    expect(text).toContain(`\n${name}`)
  }
  expect(text).toContain('OFL-1.1')
  expect(text).not.toContain('@voskel')
})
