import type { Locator, Page } from '@playwright/test'
import { expect } from './voskel.js'

/** A circuit from its netlist, opened at its curves, with what is read beside them. */
export async function openNetlist(page: Page, netlist: string, stage: 'Frequency' | 'Time' = 'Frequency') {
  await page.goto('/')
  await expect(page.getByText('Skarn Holm').first()).toBeVisible()
  await page.context().grantPermissions(['clipboard-read', 'clipboard-write'])
  await page.evaluate((t) => navigator.clipboard.writeText(t), netlist)
  await page.keyboard.press('n')
  await page.keyboard.press('t')
  await page.getByRole('textbox', { name: 'Netlist' }).click()
  await page.keyboard.press('Control+V')
  await expect(page.getByText(/^\d+ parts?, nothing left out/)).toBeVisible()
  await page.getByRole('button', { name: 'Draw it', exact: true }).click()
  await page.getByRole('tab', { name: new RegExp(`^${stage}`) }).click()
  await page.getByRole('combobox', { name: 'Stage shown beside' }).click({ force: true })
  await page.getByRole('option', { name: 'nothing' }).click()
  const region = page.getByRole('region', { name: stage === 'Time' ? 'Time' : 'Frequency response', exact: true })
  const read = region.getByRole('button', { name: 'Read', exact: true })
  if ((await read.getAttribute('aria-expanded')) !== 'true') await read.click()
  return { region, panel: region.getByRole('complementary', { name: 'Read the curves' }) }
}

export async function addCurve(region: Locator, expression: string, atRight = false, nth = 0) {
  await region.getByRole('button', { name: '+ curve' }).nth(nth).click()
  await region.getByLabel('Expression of the curve').fill(expression)
  await region.getByRole('button', { name: atRight ? 'draw at the right' : 'draw', exact: true }).click()
  await expect(region.getByLabel('Expression of the curve')).toBeHidden()
}
