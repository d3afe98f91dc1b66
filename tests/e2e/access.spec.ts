import { expect, test, type Page } from '@playwright/test'
import { faults, widthOf } from './axe'
import { admin, signInQuickly } from './desk'

const SCREENS: [name: string, path: string, ready: (page: Page) => Promise<unknown>][] = [
  ['docket', '/docket', (page) => expect(page.getByRole('heading', { name: 'Remedies' })).toBeVisible()],
  [
    'docket, nothing set aside',
    '/docket?state=set-aside',
    (page) => expect(page.getByText('No cases', { exact: true })).toBeVisible(),
  ],
  ['domains', '/domains', (page) => expect(page.getByRole('link', { name: 'rider.example' })).toBeVisible()],
  [
    'add a domain',
    '/domains',
    async (page) => {
      await page.getByRole('button', { name: 'Add a domain' }).click()
      await page.getByRole('textbox', { name: 'Domain' }).fill('co.uk')
      await page.getByRole('button', { name: 'Check this name' }).click()
      await expect(page.getByText('is a public suffix')).toBeVisible()
    },
  ],
  ['traffic', '/traffic', (page) => expect(page.getByRole('button', { name: /^By link/ })).toBeVisible()],
  ['a tag', '/tags?tag=season', (page) => expect(page.getByRole('heading', { name: 'Tag season' })).toBeVisible()],
  ['not found', '/misses', (page) => expect(page.getByRole('heading', { name: 'Not found' })).toBeVisible()],
  ['own pages', '/domains/1?tab=pages', (page) => expect(page.getByRole('textbox', { name: 'Heading' })).toBeVisible()],
  [
    'fallbacks',
    '/domains/1?tab=fallbacks',
    (page) => expect(page.getByRole('textbox', { name: 'Not found' })).toBeVisible(),
  ],
  [
    'slug rules',
    '/domains/2?tab=slug-rules',
    async (page) => {
      await page.getByRole('checkbox', { name: 'Case-sensitive' }).click()
      await expect(page.getByText('addresses would be shared')).toBeVisible()
    },
  ],
  [
    'rules',
    '/domains/1?tab=rules',
    (page) => expect(page.getByRole('button', { name: '/archive/*', exact: true })).toBeVisible(),
  ],
  [
    'a rule and its test bench',
    '/domains/1?tab=rules',
    async (page) => {
      await page.getByRole('button', { name: '/archive/*', exact: true }).click()
      await page.getByRole('textbox', { name: 'Addresses' }).fill('/archive/2024')
      await expect(page.getByText('this rule', { exact: true })).toBeVisible()
    },
  ],
  [
    'a conflict',
    '/docket',
    async (page) => {
      await page.getByRole('button', { name: /fares and/ }).click()
      await page.getByRole('button', { name: /more remed/ }).click()
      await expect(page.getByText('Accept as is, with a reason')).toBeVisible()
    },
  ],
  [
    'rename',
    '/links/2',
    async (page) => {
      await page.getByRole('button', { name: 'More', exact: false }).first().click()
      await page.getByText('Rename…', { exact: true }).click()
      await expect(page.getByRole('dialog').getByText('as a further slug')).toBeVisible()
    },
  ],
  ['certificate', '/domains/1?tab=certificate', (page) => expect(page.getByText('Names that need one')).toBeVisible()],
  ['renewal', '/domains/1?tab=renewal', (page) => expect(page.getByText('for five years')).toBeVisible()],
  [
    'old website',
    '/domains/3?tab=old-paths',
    (page) => expect(page.getByRole('button', { name: 'Read the log' })).toBeVisible(),
  ],
  ['register', '/register?link=2', (page) => expect(page.getByRole('article')).toBeVisible()],
  [
    'register, none fits',
    '/register?q=nothing-like-this',
    (page) => expect(page.getByText('No links match these filters')).toBeVisible(),
  ],
  ['a link', '/links/2', (page) => expect(page.getByRole('article')).toBeVisible()],
  ['trace', '/trace?address=ansl.example/Night', (page) => expect(page.getByText('Fields we send')).toBeVisible()],
  ['ledger', '/ledger', (page) => expect(page.getByRole('button', { name: /^Undo/ }).first()).toBeVisible()],
  [
    'your account',
    '/settings/account',
    (page) => expect(page.getByRole('heading', { name: 'Sessions' })).toBeVisible(),
  ],
  ['exchange', '/exchange', (page) => expect(page.getByRole('heading', { name: 'Export' })).toBeVisible()],
  ['settings', '/settings', (page) => expect(page.getByText('editor@portansel.example')).toBeVisible()],
  [
    'new link',
    '/register',
    async (page) => {
      await expect(page.getByRole('row').nth(3)).toBeVisible()
      await page.keyboard.press('n')
      await page.getByRole('button', { name: 'More options' }).click()
      await expect(page.getByRole('textbox', { name: 'X-Robots-Tag' })).toBeVisible()
    },
  ],
]

/** What axe finds of a page as it stands, in light and then in the dark. */
async function inBoth(page: Page): Promise<void> {
  for (const colorScheme of ['light', 'dark'] as const) {
    await page.emulateMedia({ colorScheme })
    await expect(page.locator(`.v-application.v-theme--${colorScheme}`)).toBeAttached()
    expect(await faults(page), colorScheme).toEqual([])
  }
}

test.describe('axe finds no serious fault in light and dark', () => {
  // One window for all: what it has loaded and compiled serves each of them.
  let page: Page
  test.beforeAll(async ({ browser }) => {
    page = await browser.newPage({ reducedMotion: 'reduce', timezoneId: 'Europe/Lisbon' })
    await signInQuickly(page)
  })
  test.afterAll(() => page.close())
  for (const [name, path, ready] of SCREENS)
    test(name, async () => {
      await page.goto(admin() + path)
      await ready(page)
      await inBoth(page)
    })
  test('sign-in', async ({ page }) => {
    await page.goto(admin() + '/sign-in')
    await expect(page.getByRole('button', { name: 'Sign in' })).toBeVisible()
    // A plain form, which follows the system alone.
    for (const colorScheme of ['light', 'dark'] as const) {
      await page.emulateMedia({ colorScheme })
      expect(await faults(page), colorScheme).toEqual([])
    }
  })
  test('set-up', async ({ page }) => {
    await page.goto(admin() + '/set-up?ticket=x')
    await expect(page.getByRole('button', { name: 'Set up' })).toBeVisible()
    await inBoth(page)
  })
})

test('at 360 px nothing runs over the edge, and a link opens as a page', async ({ page }) => {
  // Eighteen pages, each until it rests: on a busy machine that is more than a minute.
  test.setTimeout(180_000)
  await page.setViewportSize({ width: 360, height: 740 })
  await signInQuickly(page)
  // What is told as it comes never ends: without it a page comes to rest.
  await page.route('**/api/v1/traffic/events', (route) => route.abort())
  for (const path of [
    '/docket',
    '/docket?case=1',
    '/domains',
    '/domains/1',
    '/domains/2?tab=slug-rules',
    '/domains/1?tab=rules',
    '/domains/1?tab=fallbacks',
    '/domains/1?tab=certificate',
    '/domains/1?tab=renewal',
    '/domains/3?tab=old-paths',
    '/register',
    '/trace?address=ansl.example/Night',
    '/ledger',
    '/settings',
    '/settings/privacy',
    '/traffic',
    '/tags?tag=season',
    '/links/2',
  ]) {
    await page.goto(admin() + path)
    await expect(page.getByRole('heading').first()).toBeVisible()
    await page.waitForLoadState('networkidle')
    await expect.poll(() => widthOf(page)).toBeLessThanOrEqual(360)
  }
  await page.goto(admin() + '/register')
  await page.getByRole('main').getByRole('link').first().click()
  await expect(page).toHaveURL(/\/links\/\d+$/)
  await expect(page.getByRole('article')).toBeVisible()
})

test('the window of 1280 by 800 shows at least 15 links', async ({ page }) => {
  await signInQuickly(page)
  await page.goto(admin() + '/register')
  await expect(page.getByRole('row').nth(20)).toBeAttached()
  const shown = await page.evaluate(
    () =>
      [...document.querySelectorAll('tbody tr')].filter((row) => row.getBoundingClientRect().bottom <= innerHeight)
        .length,
  )
  expect(shown).toBeGreaterThanOrEqual(15)
})
