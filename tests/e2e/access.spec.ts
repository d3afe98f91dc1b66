import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { expect, test, type Page } from '@playwright/test'
import { admin, signInQuickly } from './desk'

const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8')

/** Serious and critical findings of axe-core under WCAG 2.2 A and AA, as text that says where. */
async function faults(page: Page): Promise<string[]> {
  await page.evaluate(axe)
  return page.evaluate(async () => {
    const run = (globalThis as unknown as { axe: { run(context: Document, options: object): Promise<{ violations: { id: string; impact: string; nodes: { html: string; failureSummary: string }[] }[] }> } }).axe
    const { violations } = await run.run(document, { runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'] })
    return violations
      .filter((violation) => ['serious', 'critical'].includes(violation.impact))
      .map((violation) => `${violation.id}: ${violation.nodes.slice(0, 3).map((node) => `${node.html.slice(0, 160)} (${node.failureSummary.split('\n')[1]})`).join(' | ')}`)
  })
}

const SCREENS: [name: string, path: string, ready: (page: Page) => Promise<unknown>][] = [
  ['register', '/register?link=2', (page) => expect(page.getByRole('article')).toBeVisible()],
  ['register, none fits', '/register?q=nothing-like-this', (page) => expect(page.getByText('No link fits these filters')).toBeVisible()],
  ['a link', '/links/2', (page) => expect(page.getByRole('article')).toBeVisible()],
  ['trace', '/trace?address=ansl.example/Night', (page) => expect(page.getByText('Fields we send')).toBeVisible()],
  ['ledger', '/ledger', (page) => expect(page.getByRole('button', { name: /^Undo/ }).first()).toBeVisible()],
  ['settings', '/settings', (page) => expect(page.getByText('editor@portansel.example')).toBeVisible()],
  ['new link', '/register', async (page) => {
    await expect(page.getByRole('row').nth(3)).toBeVisible()
    await page.keyboard.press('n')
    await page.getByRole('button', { name: 'Show dates and headers' }).click()
    await expect(page.getByRole('textbox', { name: 'X-Robots-Tag' })).toBeVisible()
  }],
]

for (const colorScheme of ['light', 'dark'] as const) {
  test.describe(colorScheme, () => {
    test.use({ colorScheme, contextOptions: { reducedMotion: 'reduce' } })
    for (const [name, path, ready] of SCREENS) {
      test(`${name}: axe finds no serious fault`, async ({ page }) => {
        await signInQuickly(page)
        await page.goto(admin() + path)
        await ready(page)
        expect(await faults(page)).toEqual([])
      })
    }
    test('sign-in: axe finds no serious fault', async ({ page }) => {
      await page.goto(admin() + '/sign-in')
      await expect(page.getByRole('button', { name: 'Sign in' })).toBeVisible()
      expect(await faults(page)).toEqual([])
    })
    test('set-up: axe finds no serious fault', async ({ page }) => {
      await page.goto(admin() + '/set-up?ticket=x')
      await expect(page.getByRole('button', { name: 'Set up' })).toBeVisible()
      expect(await faults(page)).toEqual([])
    })
  })
}

test('at 360 px nothing runs over the edge, and a link opens as a page', async ({ page }) => {
  await page.setViewportSize({ width: 360, height: 740 })
  await signInQuickly(page)
  for (const path of ['/register', '/trace?address=ansl.example/Night', '/ledger', '/settings', '/links/2']) {
    await page.goto(admin() + path)
    await page.waitForLoadState('networkidle')
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(360)
  }
  await page.goto(admin() + '/register')
  await page.getByRole('row').nth(1).click()
  await expect(page).toHaveURL(/\/links\/\d+$/)
  await expect(page.getByRole('article')).toBeVisible()
})

test('the window of 1280 by 800 shows at least 15 links', async ({ page }) => {
  await signInQuickly(page)
  await page.goto(admin() + '/register')
  await expect(page.getByRole('row').nth(20)).toBeAttached()
  const shown = await page.evaluate(() => [...document.querySelectorAll('tbody tr')].filter((row) => row.getBoundingClientRect().bottom <= innerHeight).length)
  expect(shown).toBeGreaterThanOrEqual(15)
})
