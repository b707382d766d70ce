import { expect, test } from './voskel.js'

test('candidates for a specification: sorted, filtered, laid over each other, taken and undone', async ({ page }) => {
  await page.goto('/designs/cable-end-low-pass/compare')
  const count = page.getByText(/\d+ candidates, \d+ meet everything$/)
  await expect(count).toBeVisible({ timeout: 60_000 })
  // Ten families, twelve orders.
  await expect(count).toHaveText(/^\s*120 candidates, [1-9]\d* meet/)
  await page.getByText('only those').click()
  const names = page.locator('.el-table__row .tick')
  const kept = await names.allInnerTexts()
  expect(kept.length).toBeGreaterThan(0)
  expect(kept.length).toBeLessThan(40)
  // The steepest family needs the least order, so that it stands first.
  expect(kept[0]).toMatch(/Elliptic 5/)
  await page.getByRole('checkbox', { name: 'Elliptic 5' }).check()
  await page.getByRole('radio', { name: 'step' }).check({ force: true })
  await expect(page.getByRole('img', { name: /^step of .*Elliptic 5/ })).toBeVisible()
  await page.getByRole('button', { name: 'Take Elliptic 5' }).first().click()
  await page.keyboard.press('Alt+1')
  await expect(page.getByText('Equal ripples in passband and stop band')).toBeVisible()
  await page.getByRole('button', { name: /^Undo/ }).click()
  await expect(page.getByText('Equal ripples in the passband buy')).toBeVisible()
})
