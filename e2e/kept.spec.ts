import type { BrowserContext, Page } from '@playwright/test'
import { expect, test, type Voskel } from './voskel.js'

const CABLE = '/designs/cable-end-low-pass/specify'
const attenuation = (page: Page) => page.getByLabel('Attenuation')
const saved = (page: Page) => page.getByTestId('saved')

/** Two tabs with one design, whose server is then gone. */
async function twoTabsWithoutServer(context: BrowserContext, voskel: Voskel): Promise<[Page, Page]> {
  const tabs: [Page, Page] = [await context.newPage(), await context.newPage()]
  for (const tab of tabs) {
    await tab.goto(voskel.url + CABLE)
    await expect(tab.locator('[data-verdict="passband"]')).toBeVisible()
  }
  await voskel.kill()
  return tabs
}

test('edits in two tabs without a server are all there when both were closed', async ({ context, voskel }) => {
  const [one, two] = await twoTabsWithoutServer(context, voskel)
  await attenuation(one).fill('47')
  await expect(saved(one)).toContainText('kept on this device')
  const name = two.getByLabel('Name of the design')
  await name.fill('Renamed elsewhere')
  await name.press('Enter')
  await expect(saved(two)).toContainText('kept on this device')
  await one.close()
  await two.close()
  await voskel.start()
  const again = await context.newPage()
  await again.goto(voskel.url + CABLE)
  await expect(attenuation(again)).toHaveValue('47 dB')
  await expect(again.getByLabel('Name of the design')).toHaveValue('Renamed elsewhere')
  await expect(saved(again)).toHaveText(/^saved/)
})

test('of two tabs that typed the same field one counts and the other is offered', async ({ context, voskel }) => {
  const [one, two] = await twoTabsWithoutServer(context, voskel)
  await attenuation(one).fill('47')
  await expect(saved(one)).toContainText('kept on this device')
  await attenuation(two).fill('48')
  await expect(saved(two)).toContainText('kept on this device')
  await one.close()
  await two.close()
  await voskel.start()
  const again = await context.newPage()
  await again.goto(voskel.url + CABLE)
  // Which one counts depends on which tab was gone first; the other is there all the same.
  await expect(attenuation(again)).toHaveValue(/^4[78] dB$/)
  const [first, second] = (await attenuation(again).inputValue()) === '47 dB' ? ['47 dB', '48 dB'] : ['48 dB', '47 dB']
  await again.getByRole('button', { name: 'Put it in place of this' }).click()
  await expect(attenuation(again)).toHaveValue(second!)
  await again.getByRole('button', { name: 'Undo', exact: true }).click()
  await expect(attenuation(again)).toHaveValue(first!)
  await expect(again.getByRole('list', { name: 'Unsaved work of other tabs' })).toHaveCount(0)
})

test('an edit without a server is marked in the list and sent though another design was opened', async ({
  page,
  voskel,
}) => {
  await page.goto(CABLE)
  await expect(page.locator('[data-verdict="passband"]')).toBeVisible()
  await page.getByRole('link', { name: 'voskel' }).click()
  await page.getByRole('link', { name: 'Cable-end low-pass' }).click()
  await expect(page.locator('[data-verdict="passband"]')).toBeVisible()
  await voskel.kill()
  await attenuation(page).fill('47')
  await expect(saved(page)).toContainText('kept on this device')
  await page.getByRole('link', { name: 'voskel' }).click()
  await expect(page.getByText('not saved yet: kept on this device')).toBeVisible()
  await page.getByRole('link', { name: 'Anti-alias low-pass' }).click()
  await voskel.start()
  await expect(async () => {
    const answer = await page.request.get('/api/designs/cable-end-low-pass')
    expect(await answer.text()).toContain('"attenuation":47')
  }).toPass({ timeout: 20_000 })
})

test('a browser that keeps nothing says so, and asks before unsaved work is left', async ({ page, voskel }) => {
  await page.addInitScript(() => {
    IDBFactory.prototype.open = () => {
      throw new DOMException('forbidden', 'SecurityError')
    }
  })
  await page.goto(CABLE)
  await expect(page.locator('[data-verdict="passband"]')).toBeVisible()
  await voskel.kill()
  await attenuation(page).fill('47')
  await expect(saved(page)).toContainText('leave the page open')
  const asked = page.waitForEvent('dialog')
  void page.close({ runBeforeUnload: true })
  const dialog = await asked
  expect(dialog.type()).toBe('beforeunload')
  await dialog.dismiss()
  await voskel.start()
  await expect(saved(page)).toHaveText(/^saved/, { timeout: 15_000 })
})

test('opening a design saves nothing', async ({ page }) => {
  const dateOf = async () => (await (await page.request.get('/api/designs/cable-end-low-pass')).json()) as object
  const before = await dateOf()
  await page.goto(CABLE)
  await expect(page.locator('[data-verdict="passband"]')).toBeVisible()
  await page.waitForTimeout(1500)
  expect(await dateOf()).toEqual(before)
})

test('a typed value outlives another specification; an earlier state is looked at and brought back', async ({
  page,
}) => {
  await page.goto('/designs/cable-end-low-pass/circuit')
  const value = page.locator('.label [data-part="C1"]')
  await value.click()
  await page.getByLabel('Value of C1').fill('5n')
  await page.getByLabel('Value of C1').press('Enter')
  await expect(value).toHaveText(/5\.000\sµ?nF\*/)
  await page.getByRole('tab', { name: /Specify/ }).click()
  await page.getByLabel('Edge', { exact: true }).fill('470k')
  await expect(saved(page)).toHaveText(/^saved/)
  await page.getByRole('tab', { name: /Circuit/ }).click()
  await expect(value).toHaveText(/5\.000\snF\*/)
  await saved(page).click()
  const dialog = page.getByRole('dialog', { name: 'Earlier states' })
  await dialog.getByRole('list', { name: 'States' }).getByRole('button').last().click()
  await expect(dialog.getByRole('region', { name: 'The chosen state' })).toContainText('Chebyshev lowpass')
  await dialog.getByRole('button', { name: 'Bring this one back' }).click()
  await expect(value).not.toHaveText(/5\.000\snF/)
  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await expect(value).toHaveText(/5\.000\snF\*/)
})

test('what was deleted can be seen and restored after a reload', async ({ page }) => {
  await page.goto('/')
  await page.getByRole('button', { name: 'Delete Monitor weighting' }).click()
  await expect(page.getByRole('link', { name: 'Monitor weighting' })).toHaveCount(0)
  await page.reload()
  await page.getByText('Deleted projects and designs').click()
  await page.getByRole('button', { name: 'Restore Monitor weighting' }).click()
  await expect(page.getByRole('link', { name: 'Monitor weighting' })).toBeVisible()
  await expect(page.getByText('Nothing has been deleted.')).toBeVisible()
})

test('a project is written out and read in; a broken file says where it breaks', async ({ page }, info) => {
  await page.goto('/')
  const written = page.waitForEvent('download')
  await page.getByRole('button', { name: /^Save project .* as a file$/ }).click()
  const download = await written
  expect(download.suggestedFilename()).toBe('skarn-holm-listening-buoy.voskel.json')
  const file = info.outputPath('project.json')
  await download.saveAs(file)
  const choosing = page.waitForEvent('filechooser')
  await page.getByRole('button', { name: 'Open a project file' }).click()
  await (await choosing).setFiles(file)
  await expect(page.getByRole('region', { name: 'Skarn Holm listening buoy' })).toHaveCount(2)
  await expect(page.getByRole('link', { name: 'Cable-end low-pass' })).toHaveCount(2)
  await page.getByRole('button', { name: 'New design' }).first().click()
  const again = page.waitForEvent('filechooser')
  await page.getByRole('button', { name: /^A design file/ }).click()
  await (await again).setFiles({ name: 'd.json', mimeType: 'application/json', buffer: Buffer.from('{\n "a": }') })
  await expect(page.getByRole('alert')).toContainText('d.json, line 2, column 7')
})

test('a design that is opened again shows at once what was computed last, and says so until it is computed anew', async ({
  page,
}) => {
  await page.goto('/designs/cable-end-low-pass/frequency')
  const verdict = page.locator('[data-verdict="passband"]')
  await expect(verdict).toBeVisible()
  const before = await verdict.textContent()
  await expect(page.getByText('as last computed')).toHaveCount(0)
  // It is kept a moment after the last answer.
  const keptDesigns = () =>
    page.evaluate(async () => {
      const result = <T>(request: IDBRequest<T>) =>
        new Promise<T>((done) => (request.onsuccess = () => done(request.result)))
      const database = await result(indexedDB.open('voskel-results'))
      return result(database.transaction('entries').objectStore('entries').getAllKeys())
    })
  await expect.poll(keptDesigns).toContain('cable-end-low-pass')
  let start = () => {}
  const started = new Promise<void>((done) => (start = done))
  await page.route('**/worker-*.js', async (route) => {
    await started
    await route.continue()
  })
  await page.reload()
  await expect(page.getByText('as last computed')).toBeVisible()
  expect(await verdict.textContent()).toBe(before)
  await expect(page.getByRole('img', { name: /Magnitude/ }).first()).toBeVisible()
  start()
  await expect(page.getByText('as last computed')).toHaveCount(0)
  expect(await verdict.textContent()).toBe(before)
})

test('what this device has set aside is seen, saved as a file, taken up again and let go', async ({ page, voskel }) => {
  const projects = await (await fetch(`${voskel.url}/api/projects`)).json()
  const stored = await (await fetch(`${voskel.url}/api/designs/${projects[0].designs[0].id}`)).json()
  await page.goto(voskel.url)
  await expect(page.getByLabel('Set aside on this device')).toHaveCount(0)
  // As an edit lies there that an earlier version could not read, and one that was torn.
  await page.evaluate(
    async (document) => {
      const opened = indexedDB.open('voskel-set-aside')
      opened.onupgradeneeded = () => opened.result.createObjectStore('entries')
      await new Promise((done) => (opened.onsuccess = done))
      const store = opened.result.transaction('entries', 'readwrite').objectStore('entries')
      store.put(JSON.stringify({ design: 'x', tab: 't', at: 1e12, revision: 1, document }), 'y/t')
      store.put('{"design":"x","docu', 'z/t')
      await new Promise((done) => (store.transaction.oncomplete = done))
      opened.result.close()
    },
    { ...stored.document, name: 'Nearly lost' },
  )
  await page.reload()
  const aside = page.getByLabel('Set aside on this device').getByRole('listitem')
  await expect(aside).toHaveCount(2)
  const [whole, torn] = [aside.filter({ hasText: 'Nearly lost' }), aside.filter({ hasText: 'It is no JSON' })]
  await torn.getByRole('button', { name: 'See it' }).click()
  await expect(torn.getByLabel('What was set aside')).toHaveText('{"design":"x","docu')
  const saved = page.waitForEvent('download')
  await whole.getByRole('button', { name: 'Save it as a file' }).click()
  expect((await saved).suggestedFilename()).toMatch(/nearly.lost.*\.json/i)
  await torn.getByRole('button', { name: 'Let it go' }).click()
  await expect(aside).toHaveCount(1)
  await whole
    .getByRole('button', { name: /^Take it up again in/ })
    .first()
    .click()
  await expect(page).toHaveURL(/\/specify/)
  await expect(page.getByLabel('Name of the design')).toHaveValue('Nearly lost')
  await page.goto(voskel.url)
  await expect(page.getByText('Nearly lost').first()).toBeVisible()
  await expect(aside).toHaveCount(0)
})
