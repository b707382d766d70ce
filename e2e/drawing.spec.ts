import { designOfSpec, parseSpec } from '@voskel/core'
import type { Page } from '@playwright/test'
import { expect, test } from './voskel.js'
import { blankSheet, choose, circuitOf, figure, nameAt, pinAt, press, pull, say, sheetOf, touch } from './sheet.js'

test('from the projects to a low-pass with its curves in 25 keys, without a dialog', async ({ page }) => {
  await page.goto('/')
  await page.getByRole('region', { name: 'Skarn Holm listening buoy' }).waitFor()
  let keys = await press(page, 'n')
  await page.getByRole('group', { name: 'From what?' }).waitFor()
  keys += await press(page, 'b')
  await expect(sheetOf(page)).toBeFocused()
  keys += await press(page, '4', 'k', '7', 'Enter', 'ArrowDown', '1', '0', '0', 'n', 'F', 'Enter')
  expect(keys).toBeLessThanOrEqual(25)
  // 1/(2π·4.7 kΩ·100 nF) = 338.6 Hz, where a first order lags by 45°.
  await expect(figure(page, 'cutoff')).toContainText('338.6 Hz')
  await expect(figure(page, 'phase there')).toContainText('lags by 45.00°')
  // ln(0.9/0.1)·R·C = 1.033 ms.
  await expect(figure(page, 'rise 10–90 %')).toContainText('1.033 ms')
  await expect(page.getByRole('dialog')).toHaveCount(0)
  // What it does can be promised, and is then judged and drawn beside what is asked.
  await page.keyboard.press('Alt+1')
  await expect(page.getByText(/What it is: low-pass of order 1, cutoff 338\.6\sHz, gain 0/)).toBeVisible()
  await page.getByRole('button', { name: 'Promise what it does today' }).click()
  await expect(page.getByText('all 1 met')).toBeVisible()
  await expect(page.getByText('What is asked, and what the circuit does')).toBeVisible()
  await expect(page.getByLabel('Edge', { exact: true })).toHaveValue(/^338/)
})

test('the same with the mouse alone', async ({ page }) => {
  await page.goto('/')
  await page.getByRole('button', { name: 'New design' }).first().click()
  await page.getByRole('button', { name: /^A blank sheet/ }).click()
  const sheet = sheetOf(page)
  await sheet.waitFor()
  const tray = page.getByRole('navigation', { name: 'Parts' })
  await tray.getByRole('button', { name: 'resist' }).click()
  await tray.getByRole('button', { name: 'Resistor' }).click()
  const values = page.getByRole('group', { name: 'Preferred values' })
  await values.getByRole('button', { name: '4.7', exact: true }).click()
  await page.getByRole('button', { name: 'Put it there' }).click()
  await tray.getByRole('button', { name: 'store' }).click()
  await tray.getByRole('button', { name: 'Capacitor' }).click()
  await page.getByRole('button', { name: 'to ground', exact: true }).click()
  await page.getByRole('button', { name: 'Put it there' }).click()
  await expect(figure(page, 'cutoff')).toContainText('338.6 Hz')
})

test('a series resonator, its peak where it belongs', async ({ page }) => {
  await blankSheet(page)
  await say(page, '10mH', '10nF', 'ArrowDown', '100')
  // 1/(2π·√(10 mH · 10 nF)) = 15.92 kHz; the band is R/(2π·L) = 1.592 kHz wide (series resonance: any textbook).
  const cutoffs = figure(page, 'cutoff')
  await expect(cutoffs).toContainText('15.14 kHz · 16.73 kHz')
})

test('what is drawn can be pulled, moved, deleted and undone, and is the same when it is opened again', async ({
  page,
}) => {
  await blankSheet(page)
  await say(page, '1k', 'ArrowDown', '100nF')
  await page.locator('[data-symbol="C1"]').waitFor()
  const before = (await circuitOf(page)).parts
  const box = (await page.locator('[data-symbol="C1"]').boundingBox())!
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2]
  await page.mouse.move(x, y)
  await page.mouse.down()
  await page.mouse.move(x + 60, y + 20, { steps: 6 })
  await page.mouse.up()
  await expect
    .poll(async () => (await circuitOf(page)).parts.find((p) => p.id === 'C1')!.at)
    .not.toEqual(before.find((p) => p.id === 'C1')!.at)
  const moved = (await circuitOf(page)).parts
  await page.reload()
  await page.locator('[data-symbol="C1"]').waitFor()
  expect((await circuitOf(page)).parts).toEqual(moved)
  await page.locator('[data-symbol="C1"]').click({ force: true, position: { x: box.width / 2, y: box.height / 2 } })
  await page.keyboard.press('Delete')
  await expect(page.locator('[data-symbol="C1"]')).toHaveCount(0)
  await page.keyboard.press('Control+z')
  await expect(page.locator('[data-symbol="C1"]')).toHaveCount(1)
})

test('rubbish that is pasted says so and changes nothing; a piece comes with free names', async ({ page, context }) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write'])
  await blankSheet(page)
  await say(page, '1k', 'ArrowDown', '100nF')
  const before = (await circuitOf(page)).parts
  await page.evaluate(() => navigator.clipboard.writeText('not a circuit'))
  await page.keyboard.press('Control+v')
  await expect(page.getByText('holds neither a piece of a circuit nor a netlist')).toBeVisible()
  expect((await circuitOf(page)).parts).toEqual(before)
  await page.keyboard.press('Control+a')
  await page.keyboard.press('Control+c')
  await page.keyboard.press('Control+v')
  await expect(page.locator('[data-symbol="R2"]')).toHaveCount(1)
  await expect(page.getByText('Names that were taken')).toBeVisible()
})

test('a word that says nothing is refused where it stands', async ({ page }) => {
  await blankSheet(page)
  await page.keyboard.type('4,7k')
  await page.keyboard.press('Enter')
  await expect(page.locator('.entry').getByRole('alert')).toContainText('says no part and no net')
  await page.keyboard.press('Escape')
  await expect(sheetOf(page)).toBeFocused()
})

test('a divider with an interference that comes in at its middle', async ({ page }) => {
  await blankSheet(page)
  // A signal of 1 V through 10 kΩ onto 10 kΩ; 0.2 V of 50 kHz come through 1 nF.
  await say(page, '10k', 'out', 'ArrowDown', '10k', '1nF', 'ArrowDown', '0.2V 50kHz')
  await expect(page.locator('[data-symbol="V2"]')).toHaveCount(1)
  // Of the second source the AC is nothing: the divider alone is looked at.
  await choose(page, 'V2')
  await page.getByRole('button', { name: 'V2 in detail' }).click()
  const panel = page.getByRole('complementary', { name: 'V2 in detail' })
  await panel.getByLabel('AC magnitude', { exact: true }).fill('0')
  await page.keyboard.press('Enter')
  await panel.getByRole('button', { name: 'Close the details' }).click()
  // 1/(2π·5 kΩ·1 nF) = 31.83 kHz: half the voltage below it.
  await expect(figure(page, 'cutoff')).toContainText('31.83 kHz')
  const circuit = await circuitOf(page)
  expect(circuit.parts.map((p) => p.kind).filter((k) => k !== 'ground')).toEqual([
    'voltage-source',
    'resistor',
    'resistor',
    'capacitor',
    'voltage-source',
  ])
})

test('a two-stage amplifier of MOS transistors, its operating point on the drawing', async ({ page, context }) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write'])
  await blankSheet(page)
  // One half of the input stage: a transistor, its load from the supply, the tail current below.
  await say(page, 'nmos 50u/1u')
  await press(page, 'ArrowUp')
  await page.keyboard.type('pmos 25u/1u')
  await say(page, 'Tab', '')
  await touch(page, await pinAt(page, 'M1', 1, 1))
  await say(page, 'ArrowDown', '20uA')
  // The other half is its mirror image.
  await choose(page, 'M1', 'M2')
  await press(page, 'Control+c', 'Control+v')
  await expect(page.locator('[data-symbol="M4"]')).toHaveCount(1)
  await page.getByRole('group', { name: '2 parts chosen' }).getByRole('button', { name: 'mirror' }).click()
  // Both sources on the tail, both gates of the loads together, one of them on its own drain.
  await pull(page, await pinAt(page, 'M1', 1, 1), await pinAt(page, 'M3', 0, 1))
  await pull(page, await pinAt(page, 'M2', 1, 0.5), await pinAt(page, 'M4', 0, 0.5))
  await pull(page, await pinAt(page, 'M4', 0, 0.5), await pinAt(page, 'M4', 1, 1))
  // The second stage hangs on the other drain: from the supply, onto a current, the name of the output with it.
  await touch(page, await pinAt(page, 'M2', 0, 1))
  await page.keyboard.type('pmos 100u/1u')
  await say(page, 'ArrowUp', '')
  await say(page, 'out', 'ArrowDown', '40uA', 'ArrowLeft', '2pF', 'to out')
  // A follower: the other input, without the name that came with the copy, is where the output is.
  await touch(page, await nameAt(page, 'in_2'))
  await page.keyboard.press('Delete')
  await touch(page, await pinAt(page, 'M3', 1, 0.5))
  await say(page, 'to out')
  // The input rests at 2.5 V.
  await choose(page, 'V1')
  await page.getByRole('button', { name: 'V1 in detail' }).click()
  const panel = page.getByRole('complementary', { name: 'V1 in detail' })
  await panel.getByLabel('Bias', { exact: true }).fill('2.5')
  await page.keyboard.press('Enter')
  await panel.getByRole('button', { name: 'Close the details' }).click()
  await page.getByLabel('layer').selectOption('at rest')
  // gm = √(2·KP·(W/L)·I), KP 20 µA/V²: any textbook on the square law.
  const drawn = sheetOf(page)
  await expect(drawn.getByText('M1 saturation')).toBeVisible()
  await expect(drawn.getByText(/gm 141\sµS · gds 0\.00\sS$/)).toHaveCount(2)
  await expect(drawn.getByText(/gm 400\sµS/)).toHaveCount(1)
  await expect(drawn.getByText(/^↓ 20\.00\sµA$/)).toHaveCount(1)
  await expect(drawn.getByText(/^↓ 40\.00\sµA$/)).toHaveCount(1)
  // The output follows the input.
  await expect(drawn.getByText(/^2\.500\sV$/)).toHaveCount(2)
})

test('a tone circuit whose potentiometers are turned on the drawing', async ({ page }) => {
  await blankSheet(page)
  // Bass: a track between 10 kΩ and 1 kΩ, its ends bridged; treble: a track between two small capacitors.
  await say(page, '10k', '0..100k', 'ArrowDown', '1k')
  await touch(page, await pinAt(page, 'P1', 0.5, 1))
  await say(page, '10k', 'out')
  for (const [across, value] of [
    [0, '22nF'],
    [1, '220nF'],
  ] as const) {
    await touch(page, await pinAt(page, 'P1', across, 0.2))
    await say(page, value, 'to P1.wiper')
  }
  await touch(page, await pinAt(page, 'V1', 0.5, 0))
  await say(page, '2.2nF', '0..100k', 'ArrowDown', '22nF')
  await touch(page, await pinAt(page, 'P2', 0.5, 1))
  await say(page, 'to out')
  // Capacitors are open in the end: (1 kΩ + the track below the wiper) of 111 kΩ.
  const final = figure(page, 'final')
  await expect(final).toContainText(/459\.5\smV/)
  await choose(page, 'P1')
  const turned = page.getByRole('slider', { name: 'P1 turned to' })
  await turned.fill('1')
  await expect(final).toContainText(/9\.010\smV/)
  await turned.fill('0')
  await expect(final).toContainText(/909\.9\smV/)
  await page.keyboard.press('Control+z')
  await expect(final).toContainText(/9\.010\smV/)
})

const GENERATED = {
  'an elliptic ladder of order 7': {
    specification: {
      response: 'lowpass',
      approximation: 'elliptic',
      order: 7,
      passband: { edges: [10e3], ripple: 0.1 },
      stopband: { attenuation: 60 },
      realization: { family: 'lc-ladder' },
    },
    aside: 'C2',
    moved: 'C3',
  },
  'a cascade of active sections': {
    specification: {
      response: 'lowpass',
      approximation: 'butterworth',
      order: 6,
      passband: { edges: [1e3] },
      realization: { family: 'sallen-key' },
    },
    aside: 'C2',
    moved: 'C3',
  },
}

for (const [name, { specification, aside, moved }] of Object.entries(GENERATED))
  test(`${name} is changed by hand and is the same when it is opened again`, async ({ page }) => {
    await page.goto('/')
    const projects = (await (await page.request.get('/api/projects')).json()) as { id: string }[]
    const made = await page.request.post(`/api/projects/${projects[0]!.id}/designs`, {
      data: designOfSpec(name, parseSpec(specification), 'exact'),
    })
    const { id } = (await made.json()) as { id: string }
    await page.goto(`/designs/${id}/circuit`)
    await page.locator(`[data-symbol="${moved}"]`).waitFor()
    const places = () =>
      page.locator('[data-symbol] > g').evaluateAll((all) => all.map((g) => g.getAttribute('transform')).toSorted())
    const fresh = await places()
    // Set aside by a word, and put in at the output.
    await choose(page, aside)
    await say(page, 'aside')
    await page.keyboard.type('47k')
    await say(page, 'ArrowDown', '')
    await expect.poll(async () => (await places()).length).toBeGreaterThan(fresh.length)
    // Moved by hand, and a wire led another way.
    const at = await pinAt(page, moved, 0.5, 0.5)
    await pull(page, at, { x: at.x + 50, y: at.y + 20 })
    await page.getByRole('button', { name: 'Show all' }).click()
    const pin = await pinAt(page, 'V1', 0.5, 0)
    await touch(page, { x: pin.x, y: pin.y - 20 })
    const handle = (await sheetOf(page).locator('.handle').first().boundingBox())!
    const grip = { x: handle.x + handle.width / 2, y: handle.y + handle.height / 2 }
    await pull(page, grip, { x: grip.x - 40, y: grip.y })
    const changed = await circuitOf(page)
    const drawn = await places()
    expect(changed.parts.find((p) => p.id === aside)!.aside).toBe('open')
    await page.reload()
    await page.locator(`[data-symbol="${moved}"]`).waitFor()
    expect(await places()).toEqual(drawn)
    expect(await circuitOf(page)).toEqual(changed)
  })

test('a text is changed where it stands, and a column of values goes out of the table and in again', async ({
  page,
  context,
}) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write'])
  await blankSheet(page)
  await say(page, '1k', 'ArrowDown', '100nF', '# Front end')
  await touch(page, await nameAt(page, 'Front end'))
  await page.keyboard.press('Enter')
  await page.getByLabel('Title on the sheet').fill('Front end of the buoy')
  await page.keyboard.press('Control+Enter')
  await expect(sheetOf(page).getByText('Front end of the buoy')).toBeVisible()
  expect((await circuitOf(page)).notes).toMatchObject([{ text: 'Front end of the buoy', as: 'title' }])
  await page.getByRole('button', { name: 'Parts', exact: true }).click()
  const cell = (part: string, text: RegExp) =>
    page.getByRole('row', { name: new RegExp(`^${part}`) }).getByRole('gridcell', { name: text })
  await cell('C1', /^100\.0\snF$/).click()
  await page.keyboard.press('Shift+ArrowDown')
  await page.keyboard.press('Control+c')
  expect((await page.evaluate(() => navigator.clipboard.readText())).split('\n')).toEqual(['100 nF', '1 kΩ'])
  await page.evaluate(() => navigator.clipboard.writeText('220n\n4k7\n'))
  await page.keyboard.press('Control+v')
  // 1/(2π·4.7 kΩ·220 nF) = 153.9 Hz, as one step.
  await expect(figure(page, 'cutoff')).toContainText('153.9 Hz')
  await page.keyboard.press('Control+z')
  await expect(figure(page, 'cutoff')).toContainText('1.592 kHz')
  // What cannot be read changes nothing.
  await page.evaluate(() => navigator.clipboard.writeText('220n\nplenty\n'))
  await page.keyboard.press('Control+v')
  await expect(page.getByRole('alert')).toContainText('R1')
  await expect(figure(page, 'cutoff')).toContainText('1.592 kHz')
})

test('a value becomes a parameter, and a circuit is scaled as one step', async ({ page }) => {
  await blankSheet(page)
  await say(page, '1k', 'ArrowDown', '100nF')
  await choose(page, 'R1')
  await page.getByRole('button', { name: 'R1 in detail' }).click()
  const panel = page.getByRole('complementary', { name: 'R1 in detail' })
  await panel.getByLabel('Name of the parameter').fill('series')
  await page.keyboard.press('Enter')
  await panel.getByRole('button', { name: 'Close the details' }).click()
  await page.getByRole('button', { name: 'Parameters' }).click()
  await page.getByLabel('Value of series').fill('2k')
  await page.keyboard.press('Enter')
  await expect(figure(page, 'cutoff')).toContainText('795.8 Hz')
  await page.getByLabel('Name of series').fill('r_in')
  await page.keyboard.press('Enter')
  await expect(page.getByLabel('Value of r_in')).toHaveValue(/^2\s?k/)
  // With nothing chosen the whole circuit is meant.
  await sheetOf(page).focus()
  await page.keyboard.press('Escape')
  await page.getByLabel('Frequencies ×').fill('10')
  await page.keyboard.press('Tab')
  await page.getByRole('button', { name: /^Scale/ }).click()
  await expect(figure(page, 'cutoff')).toContainText('7.958 kHz')
  await sheetOf(page).focus()
  await page.keyboard.press('Control+z')
  await expect(figure(page, 'cutoff')).toContainText('795.8 Hz')
})

test('what is pointed at is seen in both diagrams, and can be the output', async ({ page }) => {
  await blankSheet(page)
  await say(page, '1k', '2k', 'ArrowDown', '3k')
  await touch(page, await pinAt(page, 'R1', 1, 0.5))
  const seen = page.getByRole('group', { name: 'What is seen here' })
  await seen.getByRole('button', { name: 'v(n1)' }).click()
  await expect(seen.getByRole('button', { name: 'v(n1)' })).toHaveAttribute('aria-pressed', 'true')
  await seen.getByRole('button', { name: 'make it the output' }).click()
  // 5 kΩ of 6 kΩ, in the end as well as at every frequency.
  await expect(figure(page, 'final')).toContainText(/833\.3\smV/)
  await expect(page.getByText('n1 / V1')).toBeVisible()
  await expect(sheetOf(page).getByText('output', { exact: true })).toBeVisible()
  // Set aside and put back: R3 open leaves no current.
  await choose(page, 'R3')
  await say(page, 'aside')
  await expect(figure(page, 'final')).toContainText(/1\.000\sV/)
  await page.keyboard.press('Control+z')
  await expect(figure(page, 'final')).toContainText(/833\.3\smV/)
})

test('a loop is opened on its wire, and the drawing says where', async ({ page }) => {
  await blankSheet(page)
  await say(page, 'opamp', '9k', 'ArrowDown', '1k')
  await touch(page, await pinAt(page, 'R1', 1, 0.5))
  await say(page, 'to U1.minus')
  const pin = await pinAt(page, 'R1', 0, 0.5)
  await touch(page, { x: pin.x - 16, y: pin.y })
  await page.getByRole('button', { name: 'open a loop here' }).click()
  await expect(sheetOf(page).getByText('loop opened here: its gain is the output')).toBeVisible()
  await expect(page.locator('[data-symbol="V2"]')).toHaveCount(1)
  await page.keyboard.press('Control+z')
  await expect(page.locator('[data-symbol="V2"]')).toHaveCount(0)
})

/** Words that stick out of the room that the core has given them, with how far, px at a zoom of 1. */
async function stickingOut(page: Page): Promise<string[]> {
  await page.evaluate(() => document.fonts.ready)
  return page.evaluate(() => {
    const world = document.querySelector('.sheet .world')!
    const zoom = new DOMMatrix(getComputedStyle(world).transform).a
    return [...world.querySelectorAll('.label, .net, .tag')].flatMap((frame) => {
      const words = document.createRange()
      words.selectNodeContents(frame)
      const [inner, outer] = [words.getBoundingClientRect(), frame.getBoundingClientRect()]
      const out = Math.max(outer.left - inner.left, inner.right - outer.right) / zoom
      // A hair beside the room is none: letters have air at their sides.
      return out > 0.6 ? [`${frame.textContent} by ${out.toFixed(1)}`] : []
    })
  })
}

test('a circuit that oscillates says so on its drawing, and meets nothing in the ledger', async ({ page }) => {
  const [project] = (await (await page.request.get('/api/projects')).json()) as { id: string }[]
  const specification = parseSpec({
    response: 'lowpass',
    approximation: 'elliptic',
    order: 3,
    passband: { edges: [1e3], ripple: 1 },
    stopband: { attenuation: 45 },
    realization: { family: 'fdnr-ladder', amplifier: { gain: 1e5, bandwidth: 1e7, output: 50 } },
  })
  const made = await page.request.post(`/api/projects/${project!.id}/designs`, {
    data: designOfSpec('Restless', specification, 'exact'),
  })
  const { id } = (await made.json()) as { id: string }
  await page.goto(`/designs/${id}/circuit`)
  await expect(page.getByRole('list', { name: 'Findings' })).toContainText(
    /Will not work.*oscillates at about [\d.]+\s.?Hz/,
  )
  for (const verdict of ['passband', 'stopband'])
    await expect(page.locator(`[data-verdict="${verdict}"]`)).toContainText(/not met|oscillates/)
})

test('words are written within the room that drawings leave for them, in the font as it ships', async ({ page }) => {
  const [project] = (await (await page.request.get('/api/projects')).json()) as { id: string }[]
  for (const family of ['lc-ladder', 'diplexer', 'rlc-section', 'image-sections', 'sallen-key']) {
    const specification = parseSpec({
      response: 'lowpass',
      approximation: 'butterworth',
      order: family === 'rlc-section' ? 2 : 4,
      passband: { edges: [48.7e3] },
      realization: { family },
    })
    const made = await page.request.post(`/api/projects/${project!.id}/designs`, {
      data: designOfSpec(family, specification, 'exact'),
    })
    const { id } = (await made.json()) as { id: string }
    await page.goto(`/designs/${id}/circuit`)
    await page.locator('.label').first().waitFor()
    await page.getByLabel('layer').selectOption('operating-point')
    await page.locator('.tag').first().waitFor()
    expect(await stickingOut(page)).toEqual([])
  }
  await blankSheet(page)
  await say(page, '47.68kohm', 'ArrowDown', '88.88mH', 'MMWW_mmww', 'nmos 48u/0.8u')
  await expect(sheetOf(page).getByText('MMWW_mmww')).toBeVisible()
  expect(await stickingOut(page)).toEqual([])
})

test('a circuit says what it is, drawn or derived', async ({ page }) => {
  await page.goto('/designs/porpoise-click-band-pass/circuit')
  await page.locator('.label').first().waitFor()
  await page.keyboard.press('Control+k')
  await page.getByPlaceholder('Type a part of its name').fill('what is this')
  await page.keyboard.press('Enter')
  await expect(page.getByText(/^This is: .*band-pass of order \d/)).toBeVisible()
})
