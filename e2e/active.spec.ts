import type { Locator, Page } from '@playwright/test'
import { expect, test } from './voskel.js'

/** Chooses an entry of a select by the id of its field. */
async function choose(page: Page, id: string, entry: string) {
  await page.locator(`.el-select:has(#${id}) .el-select__wrapper`).click()
  await page.locator('.el-select-dropdown__item', { hasText: entry }).filter({ visible: true }).first().click()
}

async function type(field: Locator, text: string) {
  await field.fill(text)
  await field.press('Enter')
}

const everythingMet = async (page: Page) => {
  await expect(page.locator('[data-verdict]').first()).toBeVisible()
  await expect(page.getByText(/^all \d+ met$/)).toBeVisible()
}

/** A value on the circuit as its label says it. */
const value = (page: Page, part: string) => page.locator(`.label [data-part="${part}"]`)

test('a band-pass of Q 20 by sections with positive feedback', async ({ page }) => {
  await page.goto('/designs/porpoise-click-band-pass/specify')
  await choose(page, 'approximation', 'Butterworth')
  await page.getByRole('spinbutton', { name: 'Order' }).fill('1')
  await page.getByRole('spinbutton', { name: 'Order' }).press('Enter')
  // At half power the edges lie 1/20 of the centre apart: 6.5 kHz around 130 kHz.
  await type(page.getByLabel('Loss at the edge'), '3.0102999566')
  await type(page.getByLabel('Lower edge').first(), '126.79061515k')
  await type(page.getByLabel('Upper edge').first(), '133.29061515k')
  await type(page.getByLabel('Attenuation').first(), '')
  await choose(page, 'family', 'Band-pass sections with positive feedback')
  await everythingMet(page)
  await page.getByRole('tab', { name: /^Circuit/ }).click()
  await expect(value(page, 'U1')).toHaveText('ideal')
  await page.getByRole('button', { name: 'How found' }).click()
  const sheet = page.getByRole('dialog', { name: 'How these values were found' })
  await expect(sheet.getByText(/^f₀ = 130\.0\skHz, Q = 20\.00/)).toBeVisible()
  // Formulas are typeset, with the numbers of this circuit below.
  await expect(sheet.locator('.katex').first()).toBeVisible()
  await expect(sheet.getByRole('row', { name: /R5 .*what raises the Q/ })).toBeVisible()
  await page.keyboard.press('Escape')
  // What each section makes stands on the drawing, too.
  await page.getByLabel('layer').selectOption('sections')
  await expect(page.locator('.tag', { hasText: 'Q = 20.00' })).toBeVisible()
})

test('a notch with one amplifier', async ({ page }) => {
  await page.goto('/designs/generator-hum-notch/specify')
  await choose(page, 'family', 'Boctor')
  await expect(page.getByText(/Boctor/).first()).toBeVisible()
  await everythingMet(page)
  await page.getByRole('tab', { name: /^Circuit/ }).click()
  await expect(value(page, 'U1')).toHaveText('ideal')
})

test('an elliptic of order 7 by a chain that suits it', async ({ page }) => {
  await page.goto('/designs/cable-end-low-pass/specify')
  await choose(page, 'approximation', 'Elliptic')
  await page.getByText('fixed', { exact: true }).click()
  await type(page.getByRole('spinbutton', { name: 'Order' }), '7')
  await choose(page, 'family', 'Chain of sections')
  await everythingMet(page)
  await page.getByRole('tab', { name: /^Circuit/ }).click()
  await page.getByRole('button', { name: 'How found' }).click()
  const sheet = page.getByRole('dialog', { name: 'How these values were found' })
  await expect(sheet.getByRole('heading', { name: /^Section 4:/ })).toBeVisible()
})

test('a delay-equalised low-pass by two-integrator loops', async ({ page }) => {
  await page.goto('/designs/anti-alias-low-pass/specify')
  await choose(page, 'family', 'Two-integrator loops')
  await everythingMet(page)
  await expect(page.locator('[data-verdict="delay-variation"]')).toContainText('172')
})

test('what a family cannot make is told where it stands, with who can', async ({ page }) => {
  await page.goto('/designs/generator-hum-notch/specify')
  await choose(page, 'family', 'Sallen–Key sections')
  await expect(page.getByText(/have no stop-band zeros/).first()).toBeVisible()
  await expect(page.getByText(/boctor/).first()).toBeVisible()
  await page.getByRole('button', { name: /^Undo/ }).click()
  await expect(page.getByText(/have no stop-band zeros/)).toHaveCount(0)
})

test('circuits of every family are ranked, weighed otherwise, and taken beside the present one', async ({ page }) => {
  await page.goto('/designs/cable-end-low-pass/compare')
  await page.getByRole('radio', { name: 'circuits' }).check({ force: true })
  await expect(page.getByText(/\d+ active, \d+ passive · \d+ keep every promise$/)).toBeVisible({ timeout: 60_000 })
  const first = page.locator('.el-table__row').first()
  await expect(first).toContainText('coils')
  await page.getByLabel('Kind of circuit').click({ force: true })
  await page.getByRole('option', { name: 'active', exact: true }).click()
  await expect(first).toContainText('amplifier')
  await expect(page.getByRole('region', { name: 'Why this order' })).toContainText('Number 1')
  const parts = page.getByRole('slider', { name: 'How much amplifiers counts' })
  await parts.focus()
  for (let k = 0; k < 6; k++) await parts.press('ArrowRight')
  await first.getByRole('button', { name: /beside$/ }).click()
  await expect(page).toHaveURL(/\/designs\/(?!cable-end-low-pass).*\/circuit/)
  await expect(value(page, 'U1')).toHaveText('ideal')
  await page.getByRole('link', { name: 'voskel' }).click()
  await expect(page.getByRole('link', { name: 'Cable-end low-pass', exact: true })).toBeVisible()
})

test('the integrator says what comes out at both ends of its band', async ({ page }) => {
  await page.goto('/designs/click-energy-integrator/circuit')
  await page.getByRole('button', { name: 'How found' }).click()
  const sheet = page.getByRole('dialog', { name: 'How these values were found' })
  await expect(sheet.getByText(/^Unity-gain frequency: 2\.000\skHz/)).toBeVisible()
  await expect(sheet.getByText(/^Triangle off its straight line/)).toBeVisible()
  await page.keyboard.press('Escape')
  await page.getByRole('tab', { name: /^Time/ }).click()
  // A square in, a triangle out.
  await expect(page.getByRole('img', { name: /^Pulse at V1.*v\(in\), v\(out\)$/ })).toBeVisible()
})

test('a follower that takes the load off the source: what it is worth, left out and put back', async ({ page }) => {
  await page.goto('/designs/swell-noise-high-pass/specify')
  // By its name, not by what a file calls it.
  await expect(page.locator('.el-select:has(#family)')).toContainText('Multiple-feedback sections')
  await type(page.getByLabel('Source resistance'), '2k')
  const notes = page.getByRole('region', { name: 'What the amplifiers are for' })
  await expect(notes.getByText(/need a gain × bandwidth of \S+\skHz for an error below 0\.1 dB/)).toBeVisible()
  await expect(
    notes.getByText(/behind the source\. Without it: \S+\sdB less at .*missed for that: Passband ripple/),
  ).toBeVisible()
  await notes.getByRole('button', { name: 'Leave out U1' }).click()
  await expect(page.getByText('1 of 2 not met')).toBeVisible()
  await expect(notes.getByText(/Left out: \S+\sdB less/)).toBeVisible()
  await notes.getByRole('button', { name: 'Put back U1' }).click()
  await everythingMet(page)
})
