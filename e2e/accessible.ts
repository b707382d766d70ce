import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import type { Page } from '@playwright/test'
import type { AxeResults } from 'axe-core'

const AXE = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8')

/** Violations of WCAG 2.2 A and AA that axe-core finds on the page, contrast included. */
export async function violations(page: Page): Promise<string[]> {
  await page.evaluate(AXE)
  const result = (await page.evaluate(
    'axe.run({ runOnly: ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"] })',
  )) as AxeResults
  return result.violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.target.join(' ')).join(', ')}`)
}
