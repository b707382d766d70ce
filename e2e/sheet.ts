import type { Locator, Page } from '@playwright/test'
import { expect } from './voskel.js'

/** A hand on the sheet: what a person presses, says and pulls there. */

export const sheetOf = (page: Page): Locator => page.getByRole('application', { name: 'Circuit sheet' })

/** A figure below a diagram, with its name. */
export const figure = (page: Page, name: string): Locator => page.getByText(name, { exact: true }).locator('..')

/** @returns how many keys were pressed */
export async function press(page: Page, ...keys: string[]): Promise<number> {
  for (const key of keys) await page.keyboard.press(key)
  return keys.length
}

/** Words said at the tip, each taken with Enter; keys such as `ArrowDown` are pressed. */
export async function say(page: Page, ...words: string[]): Promise<void> {
  for (const word of words) {
    if (/^(Arrow|Tab)/.test(word)) await page.keyboard.press(word)
    else {
      await page.keyboard.type(word)
      await page.keyboard.press('Enter')
    }
  }
}

export async function blankSheet(page: Page): Promise<void> {
  await page.goto('/')
  await page.getByRole('region', { name: 'Skarn Holm listening buoy' }).waitFor()
  await page.keyboard.press('n')
  await page.getByRole('group', { name: 'From what?' }).waitFor()
  await page.keyboard.press('b')
  await sheetOf(page).waitFor()
  await expect(sheetOf(page)).toBeFocused()
}

interface Place {
  x: number
  y: number
}

/** Where a pin is on the page: at a part of the width and the height of its symbol. */
export async function pinAt(page: Page, part: string, across: number, down: number): Promise<Place> {
  const box = (await page.locator(`[data-symbol="${part}"]`).boundingBox())!
  return { x: box.x + across * box.width, y: box.y + down * box.height }
}

/** The tip goes where the hand presses. */
export async function touch(page: Page, { x, y }: Place): Promise<void> {
  await page.mouse.click(x, y)
}

/** A wire is pulled, or a part moved. */
export async function pull(page: Page, from: Place, to: Place): Promise<void> {
  await page.mouse.move(from.x, from.y)
  await page.mouse.down()
  await page.mouse.move((from.x + to.x) / 2, (from.y + to.y) / 2, { steps: 4 })
  await page.mouse.move(to.x, to.y, { steps: 4 })
  await page.mouse.up()
}

/** Parts are chosen, one after the other. */
export async function choose(page: Page, ...parts: string[]): Promise<void> {
  for (const [k, part] of parts.entries()) {
    const { x, y } = await pinAt(page, part, 0.5, 0.5)
    if (k > 0) await page.keyboard.down('Shift')
    await page.mouse.click(x, y)
    if (k > 0) await page.keyboard.up('Shift')
  }
}

interface DrawnCircuit {
  parts: { id: string; kind: string; values: Record<string, number>; at: object; aside?: string }[]
  wires: { id: string; ends: object[]; bends?: object[] }[]
  labels: { id: string; name: string }[]
  notes?: { text: string; as: string }[]
}

/** The circuit as the server has it. */
export async function circuitOf(page: Page): Promise<DrawnCircuit> {
  const id = page.url().split('/')[4]!
  await expect(page.getByTestId('saved')).toHaveText(/^saved/)
  const answer = (await (await page.request.get(`/api/designs/${id}`)).json()) as {
    document: { circuit: { circuit: DrawnCircuit } }
  }
  return answer.document.circuit.circuit
}

/** Where the name of a net stands. */
export async function nameAt(page: Page, net: string): Promise<Place> {
  const { x, y, width, height } = (await sheetOf(page).getByText(net, { exact: true }).boundingBox())!
  return { x: x + width / 2, y: y + height / 2 }
}
