import { spawnSync } from 'node:child_process'
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Locator } from '@playwright/test'
import { addCurve, openNetlist } from './curves.js'
import { expect, test } from './voskel.js'

/** Numbers that a practitioner knows by heart, read off the screen. Facts of the trade: common practice, no source. */

async function addCursor(panel: Locator, name: string, on?: string) {
  await panel.getByRole('button', { name: '+ cursor' }).click()
  if (on) await panel.getByLabel(`Curve of cursor ${name}`).selectOption(on)
}

async function place(panel: Locator, name: string, at: string) {
  await panel.getByLabel(`Place of cursor ${name}`).fill(at)
  await panel.getByLabel(`Place of cursor ${name}`).press('Enter')
}

const RESONATOR = `Series resonator
V1 in 0 AC 1
RS in a 50
L1 a b 10n
C1 b out 3p
R1 out 0 50
.end
`

// f₀ = 918.9 MHz; there 10 mA, 50 Ω, 5 mW; ±45° where the reactance is the 100 Ω of both resistances.
test('the series resonator: current, impedance and power in one diagram with two axes, its peak and both −3 dB points', async ({
  page,
}) => {
  const { region, panel } = await openNetlist(page, RESONATOR)
  await region.getByLabel('What is drawn').first().selectOption({ label: 'Value in its unit' })
  await addCurve(region, 'I(R1)')
  await addCurve(region, 'P(R1)')
  await addCurve(region, 'V(a)/I(R1)', true)
  await region.getByRole('button', { name: 'No longer draw v(out)' }).first().click()
  const diagram = region.getByRole('img', { name: /^Value in its unit over frequency of I\(R1\), P\(R1\)/ })
  await expect(diagram).toHaveAttribute(
    'aria-label',
    /at the right Value in its unit over frequency of V\(a\)\/I\(R1\)/,
  )

  await addCursor(panel, 'a', 'I(R1)')
  await panel.getByRole('button', { name: 'Cursor a to peak' }).click()
  await expect(panel.getByLabel('Place of cursor a')).toHaveValue(/^918\.881\sMHz$/)
  await expect(panel.getByLabel('magnitude at cursor a')).toHaveValue(/^10\.00\smA$/)
  await expect(panel).toContainText(/P\(R1\) 5\.000\smW/)
  await expect(panel).toContainText(/V\(a\)\/I\(R1\) 50\.00\sΩ/)

  for (const name of ['b', 'c']) {
    await addCursor(panel, name, 'I(R1)')
    await panel.getByRole('button', { name: `Cursor ${name} to −3 dB` }).click()
    await expect(panel.getByLabel(`magnitude at cursor ${name}`)).toHaveValue(/^7\.071\smA$/)
  }
  await panel.getByRole('button', { name: 'Cursor c to −3 dB' }).click()
  // X = ∓100 Ω: below resonance capacitive, the current leads; above inductive, it lags. (√(R² + 4L/C) ∓ R)/(4πL).
  await expect(panel.getByLabel('phase at cursor c')).toHaveValue(/^45\.00\s?°$/)
  await expect(panel.getByLabel('phase at cursor b')).toHaveValue(/^−45\.00\s?°$/)
  await expect(panel.getByLabel('Place of cursor c')).toHaveValue(/^419\.\d+\sMHz$/)
  await expect(panel.getByLabel('Place of cursor b')).toHaveValue(/^2\.01\d+\sGHz$/)

  // A changed circuit keeps its curves and cursors.
  await page.getByRole('tab', { name: /^Circuit/ }).click()
  await page.locator('.label [data-part="R1"]').click()
  await page.keyboard.type('150')
  await page.keyboard.press('Enter')
  await page.getByRole('tab', { name: /^Frequency/ }).click()
  await expect(panel.getByLabel('magnitude at cursor a')).toHaveValue(/^5\.000\smA$/)
})

// 180 Ω and 2.2 µF: cutoff 401.9 Hz; at 500 Hz gain 0.627, output lags by 51.2°, that is 284.5 µs; 4 V peak gives 2.51 V peak.
test('in against out: the cutoff, the lag in degrees and microseconds, by frequency and over time', async ({
  page,
}) => {
  const { region, panel } = await openNetlist(page, 'RC\nV1 in 0 AC 4\nR1 in out 180\nC1 out 0 2.2u\n.end\n')
  await addCursor(panel, 'a')
  await panel.getByRole('button', { name: 'Cursor a to −3 dB' }).click()
  await expect(panel.getByLabel('Place of cursor a')).toHaveValue(/^401\.9\d*\sHz$/)
  await expect(panel.getByLabel('phase at cursor a')).toHaveValue(/^−45\.00\s?°$/)
  await place(panel, 'a', '500')
  await expect(panel.getByLabel('phase at cursor a')).toHaveValue(/^−51\.2\d\s?°$/)
  await expect(panel).toContainText(/lags by 284\.\d\sµs/)
  await region.getByLabel('Magnitude in').selectOption({ label: 'factor' })

  await panel.getByLabel('settled').check()
  await panel.getByRole('button', { name: 'A sine of the frequency of cursor a over time' }).click()
  const time = page.getByRole('region', { name: 'Time', exact: true })
  await expect(time.getByText(/^Settled, at 500\.0\sHz/)).toContainText('0.6265 times V1')
  const courses = time.getByRole('region', { name: 'Courses' })
  await expect(courses.getByRole('row', { name: /^v\(out\)/ })).toContainText(/5\.01\d\sV/)
  await expect(courses.getByRole('row', { name: /^v\(in\)/ })).toContainText(/8\.000\sV/)
  await expect(courses).toContainText(/v\(out\) lags by 51\.2\d\s?°, 284\.\d\sµs, against v\(in\)/)

  // The cursor moves the source.
  await page.getByRole('tab', { name: /^Frequency/ }).click()
  await place(panel, 'a', '401.9')
  await page.getByRole('tab', { name: /^Time/ }).click()
  await expect(time.getByText(/^Settled, at 401\.9\sHz/)).toContainText(/lags by 45\.00\s?°/)
})

// 1 kΩ and 1 µF: 159.15 Hz. Below the corner all of it comes out, at the corner 1/√2 of it, above a tenth for a decade.
test('a sine below, at and above the corner, in one action each', async ({ page }) => {
  const { panel } = await openNetlist(page, 'RC\nV1 in 0 AC 1\nR1 in out 1k\nC1 out 0 1u\n.end\n')
  await addCursor(panel, 'a')
  const time = page.getByRole('region', { name: 'Time', exact: true })
  for (const [at, said] of [
    ['15.915', /0\.995 times V1 .* lags by 5\.71\d\s?°/],
    ['159.155', /0\.7071 times V1 .* lags by 45\.00\s?°/],
    ['1.59155k', /0\.0995 times V1 .* lags by 84\.29\s?°/],
  ] as const) {
    await page.getByRole('tab', { name: /^Frequency/ }).click()
    await place(panel, 'a', at)
    await panel.getByRole('button', { name: 'A sine of the frequency of cursor a over time' }).click()
    await expect(time.getByText(/^Settled, at/)).toContainText(said)
  }
})

// 1 mH with 1 nF: 10⁶ rad/s; a parallel 1 MΩ bounds the impedance.
test('the impedance of a parallel circuit, in rad/s', async ({ page }) => {
  const { region, panel } = await openNetlist(
    page,
    'Tank\nI1 0 out AC 1\nL1 out 0 1m\nC1 out 0 1n\nR1 out 0 1Meg\n.end\n',
  )
  await region.getByLabel('What is drawn').first().selectOption({ label: 'Value in its unit' })
  await addCurve(region, 'Z(out)')
  await region.getByRole('button', { name: 'No longer draw v(out)' }).first().click()
  await region.getByLabel('Values along').selectOption({ label: 'even decades' })
  await region.getByLabel('Frequency in').selectOption('rad/s')
  await addCursor(panel, 'a', 'Z(out)')
  await panel.getByRole('button', { name: 'Cursor a to peak' }).click()
  await expect(panel.getByLabel('magnitude at cursor a')).toHaveValue(/^1\.000\sMΩ$/)
  // 10⁶ rad/s are 159.155 kHz.
  await expect(panel.getByLabel('Place of cursor a')).toHaveValue(/^1\sMrad\/s$/)
  await expect(panel.getByLabel('phase at cursor a')).toHaveValue(/^0\.000\s?°$/)
  // Half a decade below it is the coil's.
  await place(panel, 'a', '100k')
  await expect(panel.getByLabel('magnitude at cursor a')).toHaveValue(/^101\.0\sΩ$/)
})

test('a curve of one’s own: completed, its unit said, wrong at its place, kept with the design', async ({ page }) => {
  const { region, panel } = await openNetlist(page, RESONATOR)
  await region.getByRole('button', { name: '+ curve' }).first().click()
  const field = region.getByLabel('Expression of the curve')
  await field.pressSequentially('db(V(o')
  await page.getByRole('option', { name: 'out net' }).click()
  await expect(field).toHaveValue('db(V(out')
  await field.pressSequentially(')/V(in))')
  const form = region.getByRole('form', { name: 'Curve' })
  await expect(form.getByRole('status')).toContainText('in dB')
  await field.fill('abs(V(out))^2/re(Z(V1))')
  await expect(form.getByRole('status')).toContainText('in W')
  await field.fill('V(out)+I(R1)')
  await expect(form.getByRole('alert')).toContainText('V and A do not add')
  await field.fill('V(out)+2')
  await expect(form.getByRole('alert')).toContainText('write the number with its unit, as 2V')
  await field.fill('sqr(V(out))')
  await expect(form.getByRole('alert')).toContainText('"sqr" is none of')
  await field.fill('V(nowhere)')
  await expect(form.getByRole('alert')).toContainText('There is no net "nowhere"')
  await field.fill('db(V(out)/V(in)')
  await expect(form.getByRole('alert')).toContainText('a bracket is not closed')
  await form.getByRole('button', { name: 'draw', exact: true }).click()
  // It is not taken, and what was drawn stays.
  await expect(field).toBeVisible()
  await field.fill('db(V(out)/V(in))')
  await field.press('Enter')
  await expect(
    region.getByRole('img', { name: /Magnitude over frequency of v\(out\), db\(V\(out\)\/V\(in\)\)/ }),
  ).toBeVisible()
  await addCursor(panel, 'a', 'db(V(out)/V(in))')
  await panel.getByRole('button', { name: 'Cursor a to peak' }).click()
  await expect(panel.getByLabel('value at cursor a')).toHaveValue(/^−6\.021\sdB$/)
  await expect(page.getByTestId('saved')).toHaveText(/^saved/)
  await page.reload()
  await expect(panel.getByLabel('value at cursor a')).toHaveValue(/^−6\.021\sdB$/)
})

test('a range is typed and drawn out, what cannot be is said, everything comes back', async ({ page }) => {
  const { region } = await openNetlist(page, 'RC\nV1 in 0 AC 1\nR1 in out 1k\nC1 out 0 1u\n.end\n')
  const [from, to] = [region.getByLabel('Range from'), region.getByLabel('Range to')]
  const before = await from.inputValue()
  await from.fill('1k')
  await to.fill('1k')
  await to.press('Enter')
  await expect(region.getByRole('alert')).toContainText('It must end above where it begins.')
  await from.fill('0')
  await to.press('Enter')
  await expect(region.getByRole('alert')).toContainText('it begins above 0 Hz')
  await from.fill('100')
  await to.fill('10k')
  await to.press('Enter')
  await expect(region.getByRole('alert')).toBeHidden()
  await expect(region.getByRole('button', { name: 'Range: everything' })).toBeVisible()

  const diagram = region.getByRole('img', { name: /^Magnitude over frequency/ })
  const box = (await diagram.boundingBox())!
  await page.mouse.move(box.x + 200, box.y + 60)
  await page.mouse.down()
  await page.mouse.move(box.x + 330, box.y + 60, { steps: 4 })
  await page.mouse.up()
  await expect(from).not.toHaveValue(/^100\sHz$/)
  await region.getByRole('button', { name: 'Range: everything' }).click()
  await expect(from).toHaveValue(before)
})

// A sine that two diodes clip is symmetric: only odd harmonics; a linear circuit adds none.
test('test signals, spectrum with distortion, and one course against another', async ({ page }) => {
  const { region } = await openNetlist(page, 'RC\nV1 in 0 AC 1\nR1 in out 1k\nC1 out 0 1u\n.end\n', 'Time')
  await region.getByRole('button', { name: 'test signal' }).click()
  const form = region.getByRole('form', { name: 'Test signal' })
  await form.getByLabel('Test signal').selectOption('Square wave')
  await form.getByLabel('Frequency').fill('1k')
  await form.getByRole('button', { name: 'Use it' }).click()
  await expect(region).toContainText('Square, triangle, sawtooth at V1')
  await addCurve(region, 'V(in)')
  // Odd harmonics of 1/n: √(π²/8 − 1) of the fundamental, 48.34 %; of the 20 that are looked at √(1/9 + 1/25 + … + 1/361), 45.69 %.
  await expect(region.getByRole('region', { name: 'Courses' })).toContainText(/V\(in\): distortion 45\.69\s%/)
  await region.getByLabel('What is drawn').selectOption({ label: 'Spectrum' })
  await expect(region.getByRole('img', { name: /spectrum: v\(out\), V\(in\)/ })).toBeVisible()
  await region.getByLabel('What is drawn').selectOption({ label: 'One against another' })
  await expect(region.getByRole('img', { name: /one against another/ })).toBeVisible()
})

/*
 * Two stages with a capacitor across the second: 1 mS into 1 MΩ, 2 mS into 100 kΩ, 10 pF. Gain 1000·200 = 106.0 dB; the corner
 * 1/(2π·R1·C·(1 + gm2·R2)) nearly, the unity-gain frequency gm1/(2π·C) = 15.9 MHz nearly (common practice, no source).
 */
const TWO_STAGES = `Two stages
V1 in 0 AC 1
G1 a 0 in 0 1m
R1 a 0 1Meg
CA a 0 0.2p
CC a out 10p
G2 out 0 a 0 20m
R2 out 0 10k
CL out 0 5p
.end
`

test('a two-stage amplifier: gain, corner, unity-gain frequency and margins promised, and the command line agrees', async ({
  page,
}) => {
  const { panel } = await openNetlist(page, TWO_STAGES)
  const form = panel.getByRole('form', { name: 'Promise' })
  const promised = [
    ['Peak', 'ac.peakDb', '100'],
    ['Cutoff', 'ac.cutoffs[0]', '50'],
    ['Unity-gain frequency', 'ac.gainCrossing', '10M'],
    ['Phase margin', 'ac.phaseMarginDeg', '45'],
  ] as const
  for (const [name, , least] of promised) {
    await panel.getByRole('button', { name: `Promise ${name}`, exact: true }).click()
    await form.getByLabel('At least').fill(least)
    await form.getByRole('button', { name: 'Promise it' }).click()
    await expect(page.locator(`[data-verdict="${name}"]`).locator('.visually-hidden')).toHaveText(/met:/)
  }
  const unity = page.locator('[data-verdict="Unity-gain frequency"]')
  await expect(unity).toContainText(/15\.\d+\sMHz/)

  const folder = mkdtempSync(join(tmpdir(), 'voskel-'))
  const [circuit, require] = [join(folder, 'two.cir'), join(folder, 'promised.json')]
  writeFileSync(circuit, TWO_STAGES)
  const scale = { '10M': 1e7 } as Record<string, number>
  writeFileSync(
    require,
    JSON.stringify(
      promised.map(([id, measure, least]) => ({
        kind: 'value',
        id,
        of: { measure },
        min: scale[least] ?? Number(least),
      })),
    ),
  )
  const run = spawnSync('npx', ['voskel', 'verify', circuit, '--require', require], { encoding: 'utf8' })
  const ledger = JSON.parse(run.stdout) as { id: string; achieved: number; met: boolean }[]
  expect(ledger).toHaveLength(4)
  for (const { id, achieved, met } of ledger) {
    const cell = page.locator(`[data-verdict="${id}"]`)
    await expect(cell.locator('.visually-hidden')).toHaveText(met ? 'met:' : 'not met:')
    // The first digits are the same, whatever prefix stands behind them.
    const digits = String(Number(Math.abs(achieved).toPrecision(4)))
      .replace('.', '')
      .replace(/^0+|0+$/g, '')
    expect((await cell.locator('.figures b').innerText()).replace(/[^0-9]/g, '').replace(/^0+|0+$/g, '')).toBe(digits)
  }
})

// kT/C: 1 kΩ and 100 nF, whatever the resistance, 203.6 nV in all at 27 °C (H. Nyquist, Phys. Rev. 32, 1928, 110–113).
test('noise: its density by parts, the whole of it, and a signal over it promised', async ({ page }) => {
  const { region, panel } = await openNetlist(page, 'RC\nV1 in 0 AC 1\nR1 in out 1k\nC1 out 0 100n\n.end\n')
  await region.getByLabel('Range from').fill('1m')
  await region.getByLabel('Range to').fill('10G')
  await region.getByLabel('Range to').press('Enter')
  await region.getByLabel('What is drawn').first().selectOption({ label: 'Noise density' })
  const noise = panel.getByRole('region', { name: 'Noise' })
  await expect(noise).toContainText(/203\.6\snV effective/)
  await expect(noise).toContainText(/of it R1 100\s?%/)
  await noise.getByRole('button', { name: 'Promise the signal over the noise of v(out)' }).click()
  const form = panel.getByRole('form', { name: 'Promise' })
  await form.getByLabel('At least').fill('130')
  await form.getByRole('button', { name: 'Promise it' }).click()
  // 20·log₁₀(1 V/203.6 nV) = 133.8 dB
  await expect(page.locator('[data-verdict="signal over noise of v(out)"]')).toContainText(/133\.8\sdB/)
})

// First order: f₀ = 1/(2πRC), so that one per cent more of R or C is one per cent less; at f₀ −½·1 % of the magnitude, 0.0434 dB.
test('what one per cent more of a part does: at a cursor, to the poles, over frequency', async ({ page }) => {
  const { region, panel } = await openNetlist(page, 'RC\nV1 in 0 AC 1\nR1 in out 1k\nC1 out 0 100n\n.end\n')
  await addCursor(panel, 'a')
  await panel.getByRole('button', { name: 'Cursor a to −3 dB' }).click()
  const parts = panel.getByRole('region', { name: 'What parts do' })
  await expect(parts).toContainText(/At a (R1|C1) −0\.0434\sdB, −0\.286\s?°/)
  await expect(parts).toContainText(/Poles at 1\.592\skHz/)
  await expect(parts).toContainText(/R1 f −1\.00\s%/)
  await region.getByLabel('What is drawn').first().selectOption({ label: 'What 1 % of each part does' })
  await expect(region.getByRole('img', { name: /^What 1 % of each part does over frequency/ })).toBeVisible()
})

// R = 10 kΩ, C = 10 nF: 1591 Hz; ln 9·τ = 219.7 µs; a divider of two equal 10 kΩ loads a capacitor like 5 kΩ, with 1 nF 31.83 kHz.
test('the textbook’s formula beside a measure, a number by hand that follows edits, and what a part sees', async ({
  page,
}) => {
  const { panel } = await openNetlist(page, 'RC\nV1 in 0 AC 1\nR1 in out 10k\nC1 out 0 10n\n.end\n')
  const measures = panel.getByRole('region', { name: 'Measures' })
  await expect(measures).toContainText(
    /by formula 1\.592\skHz, the same: 1\/\(2π·τ\), τ = R·C1, R = 10\.00\skΩ seen by C1/,
  )
  await panel.getByRole('button', { name: 'Promise Cutoff', exact: true }).click()
  const form = panel.getByRole('form', { name: 'Promise' })
  await form.getByLabel('Or found by hand').fill('1.6k')
  await form.getByLabel('may differ by').fill('1')
  await form.getByRole('button', { name: 'Compare' }).click()
  const hand = panel.getByRole('region', { name: 'By hand' })
  await expect(hand).toContainText(/1\.600\skHz ± 1\.00\s%, here 1\.592\skHz, −0\.528\s%, within/)

  await page.getByRole('tab', { name: /^Circuit/ }).click()
  await page.locator('.label [data-part="C1"]').click()
  await page.keyboard.type('1n')
  await page.keyboard.press('Enter')
  await page.getByRole('tab', { name: /^Frequency/ }).click()
  await expect(hand).toContainText(/here 15\.92\skHz, \+895\s%, not within/)
})

test('what a part sees: the resistance of the divider, its voltage, and the corner', async ({ page }) => {
  await openNetlist(page, 'Divider\nV1 in 0 AC 1\nR1 in out 10k\nR2 out 0 10k\nC1 out 0 1n\n.end\n')
  await page.getByRole('tab', { name: /^Circuit/ }).click()
  await page.locator('[data-symbol="C1"]').click({ force: true })
  await page.getByRole('button', { name: 'C1 in detail' }).click()
  await expect(page.getByLabel('What it sees')).toHaveText(
    /sees 5\.000\skΩ, and 50\.00\s% of the input without it, corner 31\.83\skHz/,
  )
})

test('the greatest between two cursors is promised as it is, not as it was drawn', async ({ page }) => {
  const { region, panel } = await openNetlist(page, RESONATOR)
  await addCurve(region, 'I(R1)', true)
  for (const [name, at] of [
    ['a', '500M'],
    ['b', '2G'],
  ] as const) {
    await addCursor(panel, name, 'I(R1)')
    await place(panel, name, at)
  }
  await panel.getByRole('button', { name: 'Promise the greatest from a to b' }).click()
  const form = panel.getByRole('form', { name: 'Promise' })
  await expect(form).toContainText(/now 10\.00\smA/)
  await form.getByLabel('At least').fill('9m')
  await form.getByRole('button', { name: 'Promise it' }).click()
  await expect(page.locator('[data-verdict="greatest from a to b"]')).toContainText(/10\.00\smA/)
})

/** First order, and what follows from it: where it has lost 3 dB, what it does elsewhere. */
const FIRST_ORDER: [string, string, [at: string, cells: Record<string, RegExp>, said?: RegExp][]][] = [
  [
    '170 Ω and 10 µF: 93.6 Hz; at 50 Hz late by 28.1°, 1.561 ms',
    'R1 in out 170\nC1 out 0 10u',
    [
      ['−3 dB', { Place: /^93\.6\d*\sHz$/ }],
      ['50', { phase: /^−28\.1\d\s?°$/, magnitude: /^−1\.09\d\sdB$/ }, /lags by 1\.561\sms/],
    ],
  ],
  ['1 kΩ and 2.5 µF: 63.7 Hz', 'R1 in out 1k\nC1 out 0 2.5u', [['−3 dB', { Place: /^63\.66\d*\sHz$/ }]]],
  ['1.1 kΩ and 1 µF: 144.7 Hz', 'R1 in out 1.1k\nC1 out 0 1u', [['−3 dB', { Place: /^144\.68\d*\sHz$/ }]]],
  [
    'a high-pass of 10 µF and 10 kΩ: 1.59 Hz; at 5 Hz ahead by 17.66°, 9.81 ms',
    'C1 in out 10u\nR1 out 0 10k',
    [
      ['−3 dB', { Place: /^1\.59155\sHz$/ }],
      ['5', { phase: /^17\.66\s?°$/ }, /leads by 9\.8\d+\sms/],
    ],
  ],
  [
    'a high-pass of 750 Ω and 3 nF: 70.74 kHz',
    'C1 in out 3n\nR1 out 0 750',
    [['−3 dB', { Place: /^70\.735\d*\skHz$/ }]],
  ],
  [
    '1 kΩ and 1 µF: 159.15 Hz, −75.96 dB at 1 MHz, −20 dB a decade',
    'R1 in out 1k\nC1 out 0 1u',
    [
      ['−3 dB', { Place: /^159\.155\sHz$/ }],
      ['1M', { magnitude: /^−75\.96\sdB$/ }, /slope −20\.00\sdB a decade/],
    ],
  ],
  [
    'a divider of two equal 10 kΩ with 1 nF: 31.83 kHz, 1/63 at 1 MHz',
    'R1 in out 10k\nR2 out 0 10k\nC1 out 0 1n',
    [
      ['−3 dB', { Place: /^31\.831\skHz$/ }],
      // 0.5 V leave 7.95 mV: 20·lg(7.954/500)
      ['1M', { magnitude: /^−35\.97\sdB$/ }],
    ],
  ],
  [
    'an integrator: from 300 Hz to 20 kHz it falls by 36.48 dB, and is a quarter of a period late',
    'G1 0 out in 0 1m\nC1 out 0 1u\nR1 out 0 1G',
    [
      ['300', { phase: /^−90\.00\s?°$/ }],
      ['20k', { phase: /^−90\.00\s?°$/ }, /magnitude −36\.48\sdB/],
    ],
  ],
]
test.describe('first order, by heart', () => {
  for (const [name, elements, places] of FIRST_ORDER)
    test(name, async ({ page }) => {
      const { region, panel } = await openNetlist(page, `First order\nV1 in 0 AC 1\n${elements}\n.end\n`)
      await region.getByLabel('Range from').fill('100m')
      await region.getByLabel('Range to').fill('10M')
      await region.getByLabel('Range to').press('Enter')
      await expect(region.getByRole('button', { name: 'Range: everything' })).toBeVisible()
      for (const [k, [at, cells, said]] of places.entries()) {
        const cursor = 'ab'[k]!
        await addCursor(panel, cursor)
        if (at === '−3 dB') await panel.getByRole('button', { name: `Cursor ${cursor} to −3 dB` }).click()
        else await place(panel, cursor, at)
        for (const [cell, wanted] of Object.entries(cells)) {
          const label = cell === 'Place' ? `Place of cursor ${cursor}` : `${cell} at cursor ${cursor}`
          await expect(panel.getByLabel(label)).toHaveValue(wanted)
        }
        if (said) await expect(panel.getByRole('region', { name: 'Cursors' })).toContainText(said)
      }
    })
})

// 53 dB with a single pole at 10 kHz: gain × bandwidth is constant, 10^(53/20)·10 kHz = 4.467 MHz.
test('an amplifier of 53 dB with a pole at 10 kHz has gain 1 at 4.47 MHz', async ({ page }) => {
  const { panel } = await openNetlist(
    page,
    'Amplifier\nV1 in 0 AC 1\nE1 a 0 in 0 446.6835922\nR1 a out 1k\nC1 out 0 15.91549431n\n.end\n',
  )
  const measures = panel.getByRole('region', { name: 'Measures' })
  await expect(measures.getByRole('row', { name: /^Peak/ }).first()).toContainText(/53\.00\sdB/)
  await expect(measures.getByRole('row', { name: /^Unity-gain frequency/ })).toContainText(/4\.467\sMHz/)
})

// τ = 100 µs: 63.2 % after one time constant, 86.5 % after two; a square wave of peak A becomes a triangle of A/(4·f·τ).
test('over time: one and two time constants, and the triangle of an integrated square wave', async ({ page }) => {
  const { panel } = await openNetlist(page, 'RC\nV1 in 0 AC 1\nR1 in out 1k\nC1 out 0 100n\n.end\n', 'Time')
  for (const [name, at, value] of [
    ['a', '100u', /^632\.1\smV$/],
    ['b', '200u', /^864\.7\smV$/],
  ] as const) {
    await addCursor(panel, name)
    await place(panel, name, at)
    await expect(panel.getByLabel(`value at cursor ${name}`)).toHaveValue(value)
  }
  const { region } = await openNetlist(page, 'Integrator\nV1 in 0 AC 1\nR1 in out 10k\nC1 out 0 10u\n.end\n', 'Time')
  await region.getByRole('button', { name: 'test signal' }).click()
  const form = region.getByRole('form', { name: 'Test signal' })
  await form.getByLabel('Test signal').selectOption('Square wave')
  await form.getByLabel('Frequency').fill('1k')
  await form.getByRole('button', { name: 'Use it' }).click()
  // τ = 100 ms, f = 1 kHz, A = 1 V: 2.5 mV to each side of its middle, once it has settled.
  await region.getByLabel('Window from').fill('2')
  await region.getByLabel('Window to').fill('2.004')
  await region.getByLabel('Window to').press('Enter')
  const courses = region.getByRole('region', { name: 'Courses' })
  await expect(courses.getByRole('row', { name: /^v\(out\)/ })).toContainText(/5\.000\smV/)
})

test('a half wave is right where the diode lets go; what answers a large sine is read off the waveform', async ({
  page,
}) => {
  const netlist = 'half wave\nV1 in 0 SIN(0 5 50)\nD1 in out d\nR1 out 0 1k\n.model d d(is=1e-14)\n.end\n'
  const { panel } = await openNetlist(page, netlist, 'Time')
  await addCursor(panel, 'a')
  await place(panel, 'a', '9.64m')
  // By the circuit's own equation, solved at that time: 16.0 mV.
  await expect(panel.getByLabel('value at cursor a')).toHaveValue(/^16\.0\d\smV$/)
  await expect(panel.getByText(/^In the last period shown, at 50\.00\sHz/)).toContainText(/distortion 5\d\.\d/)
})

test('settled is solved; what settles to nothing says why, and shows the run from rest', async ({ page }) => {
  const netlist = 'integrator\nV1 in 0 AC 1\nR1 in a 1k\nC1 a out 1n\nX1 0 a out amp\nR2 out 0 1k\n'
  const amp = '.subckt amp p m o\nE1 o 0 p m 1e8\n.ends\n.end\n'
  const { panel } = await openNetlist(page, netlist + amp)
  await addCursor(panel, 'a')
  await place(panel, 'a', '20k')
  await panel.getByLabel('settled').check()
  await panel.getByRole('button', { name: 'A square wave of the frequency of cursor a over time' }).click()
  const time = page.getByRole('region', { name: 'Time', exact: true })
  await expect(time.getByText(/^The circuit settles to nothing/)).toContainText('The run from rest is shown.')
})
