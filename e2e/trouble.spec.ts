import { expect, test } from './voskel.js'

test('fields keep what was typed and say what is wrong with it, and what would be right', async ({ page }) => {
  await page.goto('/designs/cable-end-low-pass/specify')
  const edge = page.getByLabel('Edge', { exact: true })
  await edge.fill('2,5k')
  await expect(page.getByRole('alert')).toContainText('the decimal sign is a point')
  await expect(edge).toHaveValue('2,5k')
  await expect(edge).toHaveAttribute('aria-invalid', 'true')
  await edge.fill('20m')
  await expect(page.getByText('= 20.00 mHz')).toBeVisible()
  await edge.fill('2M')
  await expect(page.getByRole('alert')).toContainText('inside the passband')
  await expect(page.getByRole('alert')).toContainText('Give a stop-band edge above')
  // What cannot be used is kept on this device, too.
  await page.reload()
  await expect(edge).toHaveValue('2 MHz')
  await expect(page.getByRole('alert')).toContainText('inside the passband')
  await edge.fill('480k')
  await expect(page.getByRole('alert')).toHaveCount(0)
  await page.getByLabel('Loss at the edge').fill('0')
  await expect(page.getByRole('alert')).toContainText('ripple must be above 0')
})

test('an impossible circuit says why and what would be possible; the ideal curve stays', async ({ page }) => {
  await page.goto('/designs/cable-end-low-pass/specify')
  await page.getByText('fixed', { exact: true }).click()
  await page.getByRole('spinbutton', { name: 'Order' }).fill('6')
  await page.getByRole('spinbutton', { name: 'Order' }).press('Enter')
  await expect(page.getByRole('alert')).toContainText('does not exist between equal resistors')
  await expect(page.getByRole('alert')).toContainText('take order 5 or 7')
  await expect(page.getByRole('img', { name: /^Ideal response over the mask/ })).toBeVisible()
  await page.getByRole('tab', { name: /Circuit/ }).click()
  await expect(page.getByText('does not exist between equal resistors')).toBeVisible()
})

test('what is wrong with a circuit is mended at a click, drawn, and undone', async ({ page }) => {
  await page.goto('/designs/anti-alias-low-pass')
  const { projectId, document } = await (await page.request.get('/api/designs/anti-alias-low-pass')).json()
  const pin = (part: string, at: string) => ({ part, pin: at })
  const circuit = {
    parts: [
      { id: 'V1', kind: 'voltage-source', values: { acMagnitude: 1 }, at: { x: 0, y: 4, rotation: 90 } },
      { id: 'R1', kind: 'resistor', values: { resistance: 1000 }, at: { x: 6, y: 0, rotation: 0 } },
      { id: 'C1', kind: 'capacitor', values: { capacitance: 1e-8 }, at: { x: 12, y: 4, rotation: 90 } },
    ],
    wires: [
      { id: 'W1', ends: [pin('V1', 'plus'), pin('R1', 'a')], bends: [{ x: 0, y: 0 }] },
      { id: 'W2', ends: [pin('R1', 'b'), pin('C1', 'a')], bends: [{ x: 12, y: 0 }] },
      { id: 'W3', ends: [pin('C1', 'b'), pin('V1', 'minus')], bends: [] },
    ],
    junctions: [],
    labels: [
      { id: 'N1', name: 'in', end: pin('V1', 'plus'), at: { x: 0, y: 0 } },
      { id: 'N2', name: 'out', end: pin('C1', 'a'), at: { x: 12, y: 0 } },
    ],
  }
  const { specification: _none, ...bare } = document
  const made = await page.request.post(`/api/projects/${projectId}/designs`, {
    data: { ...bare, name: 'Without ground', values: 'exact', circuit: { origin: 'drawn', circuit } },
  })
  expect(made.status()).toBe(201)
  await page.goto(`/designs/${(await made.json()).id}/circuit`)
  const findings = page.getByRole('list', { name: 'Findings' })
  await expect(findings).toContainText('Cannot be solved')
  const grounds = page.locator('[data-symbol^="GND"]')
  await expect(grounds).toHaveCount(0)
  await findings.getByRole('button', { name: /^Ground at/ }).click()
  await expect(findings).toHaveCount(0)
  await expect(grounds).toHaveCount(1)
  await page.getByRole('button', { name: /^Undo/ }).click()
  await expect(findings).toContainText('Cannot be solved')
  await expect(grounds).toHaveCount(0)
})

test('edits made while the server is away are kept and saved when it is back', async ({ page, voskel }) => {
  await page.goto('/designs/anti-alias-low-pass/specify')
  await expect(page.locator('[data-verdict="passband"]')).toBeVisible()
  await voskel.kill()
  await page.getByLabel('Attenuation').fill('47')
  await expect(page.getByTestId('saved')).toContainText('kept on this device, tried again')
  await voskel.start()
  await expect(page.getByTestId('saved')).toHaveText(/^saved/)
  await page.reload()
  await expect(page.getByLabel('Attenuation')).toHaveValue('47 dB')
})

test('two windows that edit the same design lose neither version', async ({ page, browser, voskel }) => {
  await page.goto('/designs/cable-end-low-pass/specify')
  const elsewhere = await browser.newContext({ baseURL: voskel.url })
  const other = await elsewhere.newPage()
  await other.goto('/designs/cable-end-low-pass/specify')
  await other.getByLabel('Attenuation').fill('51')
  await expect(other.getByTestId('saved')).toHaveText(/^saved/)
  await page.getByLabel('Attenuation').fill('52')
  const dialog = page.getByRole('dialog', { name: 'This design was changed elsewhere too' })
  await dialog.getByRole('button', { name: 'Keep both' }).click()
  await expect(page.getByLabel('Attenuation')).toHaveValue('52 dB')
  await expect(page).not.toHaveURL(/cable-end-low-pass/)
  await other.reload()
  await expect(other.getByLabel('Attenuation')).toHaveValue('51 dB')
  await elsewhere.close()
})

test('the server stops gracefully when it is told to', async ({ voskel, page }) => {
  await page.goto('/')
  await expect(page.getByText('Skarn Holm listening buoy')).toBeVisible()
  expect(await voskel.kill('SIGTERM')).toBe(0)
})

test('an address that leads nowhere says so', async ({ page }) => {
  await page.goto('/designs/no-such-design/circuit')
  await expect(page.getByRole('alert')).toContainText('There is no such design')
  await page.goto('/nothing/here')
  await page.getByRole('link', { name: 'Go to the projects' }).click()
  await expect(page.getByText('Skarn Holm listening buoy')).toBeVisible()
})

test('a passband typed over its stop band is told there, and a click moves the stop band along', async ({ page }) => {
  await page.goto('/designs/cable-end-low-pass/specify')
  const stop = page.getByLabel('Begins at')
  const before = await stop.inputValue()
  const edge = page.getByLabel('Edge', { exact: true })
  await edge.fill('4.8M')
  await expect(edge).toHaveAccessibleDescription(/inside the passband, whose edge is 4\.8 MHz/)
  await expect(stop).toHaveAttribute('aria-invalid', 'false')
  await page.getByRole('button', { name: /^Move the stop band along, to/ }).click()
  await expect(page.getByRole('alert')).toHaveCount(0)
  await expect(stop).not.toHaveValue(before)
  await expect(stop).toHaveValue(/MHz$/)
  // A stop-band edge that is itself typed wrong is told at the stop band.
  await stop.fill('1k')
  await expect(stop).toHaveAccessibleDescription(/would begin at 1 kHz, inside the passband/)
  await expect(page.getByRole('button', { name: /^Move the stop band/ })).toHaveCount(0)
})

test('keys work while a choice has the focus', async ({ page }) => {
  await page.goto('/designs/cable-end-low-pass/specify')
  await page.getByRole('radio', { name: 'fixed' }).focus()
  await page.keyboard.press('?')
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible()
})

test('a full disk is said to be one, and the design is saved when there is room', async ({ page }) => {
  await page.goto('/designs/cable-end-low-pass/specify')
  const title = 'The server’s disk is full'
  await page.route('**/api/designs/*', (route) =>
    route.request().method() === 'PUT'
      ? route.fulfill({
          status: 507,
          contentType: 'application/problem+json',
          body: JSON.stringify({ title, detail: 'Make room.', status: 507 }),
        })
      : route.continue(),
  )
  await page.getByLabel('Edge', { exact: true }).fill('470k')
  await expect(page.getByTestId('saved')).toHaveText(
    'not saved: the server’s disk is full; kept on this device, tried again',
  )
  await page.unroute('**/api/designs/*')
  await expect(page.getByTestId('saved')).toHaveText(/^saved/, { timeout: 15_000 })
})

test('who came in with a token can sign out', async ({ page, voskel }) => {
  await voskel.kill('SIGTERM')
  const token = 'a-token-of-the-test-alone'
  await voskel.start({ VOSKEL_TOKEN: token })
  await page.goto(`${voskel.url}/?token=${token}`)
  await expect(page.getByText('Cable-end low-pass')).toBeVisible()
  await page.getByRole('button', { name: 'Sign out' }).click()
  await expect(page.getByText('An access token is needed')).toBeVisible()
  await page.goto(voskel.url)
  await expect(page.getByText('An access token is needed')).toBeVisible()
})

test('a computation that takes long says so, can be stopped, and the next one runs', async ({ page, voskel }) => {
  const levels = [
    [10, -0.1, 0.1],
    [1000, -0.1, 0.1],
    [1000, null, 0.1],
    [1300, null, 0.1],
    [1300, null, -60],
    [20000, null, -60],
  ]
  const specification = { response: 'masked', shape: { levels, order: 12 } }
  const document = { format: 'voskel-design', version: 1, name: 'Steep mask', specification }
  const project = await page.request.post(`${voskel.url}/api/projects`, { data: { name: 'Masks' } })
  const { id } = (await project.json()) as { id: string }
  const made = await page.request.post(`${voskel.url}/api/projects/${id}/designs`, { data: document })
  const design = ((await made.json()) as { id: string }).id
  await page.goto(`/designs/${design}/specify`)
  await page.getByRole('button', { name: 'Stop', exact: true }).click({ timeout: 15_000 })
  await expect(page.getByRole('alert').filter({ hasText: 'It was stopped.' }).first()).toBeVisible()
  await page.getByLabel('Order', { exact: true }).fill('3')
  await expect(page.getByRole('alert').filter({ hasText: 'It was stopped.' })).toHaveCount(0, { timeout: 15_000 })
})
