import { expect, test, type Page } from '@playwright/test'
import { faults, widthOf } from './axe'
import { admin, mailbox, signInQuickly, visit } from './desk'

/** An old server's file, as people write them. */
const OLD = [
  'RewriteEngine On',
  '# the season before',
  'Redirect 301 /e2e-regatta https://events.portansel.example/regatta-2026',
  'Redirect 302 /FARES https://www.portansel.example/fares/2025?old=1',
  'Redirect 302 /night https://www.portansel.example/night/old',
  'Redirect 302 /strike https://www.portansel.example/service/strike',
  'RewriteRule ^e2e-(?!pdf)(.*)$ https://www.portansel.example/$1 [R=301,L]',
  ...Array.from(
    { length: 40 },
    (_, at) => `Redirect 301 /e2e-halt/${4400 + at}.html https://live.portansel.example/h/${4400 + at}`,
  ),
].join('\n')

/** Its access log, in the Combined Log Format. */
const LOG = [
  ['/e2e-regatta', 301],
  ['/e2e-regatta?from=mail', 301],
  ['/e2e-halt/4417.html', 301],
  ['/e2e-halt/4439.html', 301],
  ['/e2e-page-that-was-there', 200],
  ['/e2e-never-there', 404],
]
  .map(
    ([target, status]) =>
      `192.0.2.7 - - [20/Nov/2026:10:00:00 +0000] "GET ${target} HTTP/1.1" ${status} 0 "-" "Mozilla/5.0"`,
  )
  .join('\n')

/** Pastes a text into the Exchange, by keyboard, and waits until it is read. */
async function paste(page: Page, text: string) {
  await page.goto(admin() + '/exchange')
  const field = page.getByRole('textbox', { name: 'Or paste text' })
  await field.fill(text)
  const read = page.getByRole('button', { name: 'Read it', exact: true })
  await expect(read).toBeEnabled()
  await read.press('Enter')
  await page.waitForURL(/\/exchange\/\d+$/)
  await expect(page.getByRole('table', { name: 'Lines' })).toBeVisible()
}

test('an old server’s file is read, a clash settled, a rule taken, replayed, brought in, visited and undone', async ({
  page,
}) => {
  await signInQuickly(page)
  await paste(page, OLD)
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Proposal from')
  expect(await faults(page)).toEqual([])
  // What cannot be carried over is named with its line and column.
  await page.getByRole('button', { name: /^Not supported/ }).click()
  await expect(page.getByRole('row').filter({ hasText: 'look-ahead' })).toBeVisible()
  await page.getByRole('button', { name: /^All/ }).click()
  // Three clashes are decided by keyboard: two stay as they are here, one is taken as the file has it.
  await expect(page.getByRole('row').filter({ hasText: 'FARES' })).toContainText('today')
  for (const [name, decision] of [
    ['FARES', /^Keep existing$/],
    ['night', /^Replace with the file.s$/],
    ['strike', /^Keep existing$/],
    // What stands below these addresses is a rule in that file's program, and meets rules there are.
    ['e2e-regatta(/.+)', /^Skip$/],
    ['night(/.+)', /^Skip$/],
    ['strike(/.+)', /^Skip$/],
  ] as const) {
    const clash = page.locator(`select[aria-label$="/${name}"]`)
    await clash.focus()
    const options = await clash.getByRole('option').allTextContents()
    const wanted = options.map((text) => text.trim()).find((text) => decision.test(text))
    expect(wanted, `${name} offers ${options.join(', ')}`).toBeDefined()
    await clash.selectOption(wanted!)
  }
  await expect(page.getByRole('button', { name: /^Undecided/ })).toHaveCount(0)
  // Forty lines of one shape are one rule.
  const family = page.getByRole('region', { name: /40 lines follow one pattern/ })
  await expect(family).toContainText('/e2e-halt/:id(\\d{4}).html')
  await family.getByRole('button', { name: 'Use the rule' }).press('Enter')
  await expect(family).toContainText('The rule is used.')
  // An old log says how many of last month's visitors would land.
  await page
    .getByLabel('Access log')
    .setInputFiles({ name: 'access.log', mimeType: 'text/plain', buffer: Buffer.from(LOG) })
  await expect(page.getByText('/e2e-page-that-was-there')).toBeVisible()
  await page.getByRole('button', { name: 'Replay 28 days' }).click()
  await expect(page.getByText('same result')).toBeVisible({ timeout: 30_000 })
  expect((await visit('ansl.example', '/e2e-regatta')).status).toBe(404)
  await page.getByRole('button', { name: /^Import 1 link and \d rules? and 1 changed$/ }).press('Enter')
  await expect(page.getByRole('status').filter({ hasText: /^Imported/ })).toBeVisible()
  await expect
    .poll(() => visit('ansl.example', '/e2e-regatta'))
    .toEqual({ status: 301, location: 'https://events.portansel.example/regatta-2026' })
  expect(await visit('ansl.example', '/e2e-halt/4417.html')).toEqual({
    status: 301,
    location: 'https://live.portansel.example/h/4417',
  })
  await expect
    .poll(async () => (await visit('ansl.example', '/night')).location)
    .toBe('https://www.portansel.example/night/old')
  await page.goto(admin() + '/ledger')
  await page
    .getByRole('button', { name: /^Undo: Imported/ })
    .first()
    .press('Enter')
  await expect.poll(async () => (await visit('ansl.example', '/e2e-halt/4417.html')).status).toBe(404)
  expect((await visit('ansl.example', '/night')).location).not.toBe('https://www.portansel.example/night/old')
})

test('a table’s columns are shown and settled; it fits a phone, in light and dark', async ({ page }) => {
  await signInQuickly(page)
  await paste(
    page,
    'Kurz;Ziel;Was\n' +
      '/e2e-one;https://www.portansel.example/one;First\n' +
      '/e2e-two;https://www.portansel.example/two;Second',
  )
  await page.getByText('Import settings').click()
  await page.getByRole('combobox', { name: 'Column 3 holds' }).selectOption('Note')
  const again = page.getByRole('button', { name: 'Apply settings' })
  await expect(again).toBeEnabled()
  await again.press('Enter')
  await expect(page.getByRole('button', { name: 'Import 2 links' })).toBeVisible()
  for (const colorScheme of ['light', 'dark'] as const) {
    await page.emulateMedia({ colorScheme })
    await page.setViewportSize({ width: 360, height: 740 })
    await expect.poll(() => widthOf(page)).toBeLessThanOrEqual(360)
    expect(await faults(page)).toEqual([])
  }
  await page.getByRole('button', { name: 'Discard' }).press('Enter')
  await expect(page.getByRole('heading', { name: 'Recent imports' })).toBeVisible()
})

test('a file is fetched under the guards of checks, and a colleague asked to look at one', async ({ page }) => {
  await signInQuickly(page, 'editor@portansel.example')
  await page.goto(admin() + '/exchange')
  await page.getByRole('textbox', { name: 'Or fetch from a URL' }).fill('http://127.0.0.1:1/old.conf')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('alert').filter({ hasText: '127.0.0.1' })).toBeVisible()
  await paste(page, '/e2e-asked https://www.portansel.example/asked 302')
  await page.getByRole('button', { name: 'Ask for a review' }).press('Enter')
  const form = page.getByRole('form', { name: 'Ask for a review' })
  await form.getByLabel(/e-mail address$/).fill('nobody@portansel.example')
  await page.keyboard.press('Enter')
  await expect(form.getByText('No member has the address nobody@portansel.example.')).toBeVisible()
  await form.getByLabel(/e-mail address$/).fill('viewer@portansel.example')
  await form.getByLabel('Message (optional)').fill('Is this the page?')
  expect(await faults(page)).toEqual([])
  await page.keyboard.press('Enter')
  await expect(page.getByText('E-mail to viewer@portansel.example queued.')).toBeVisible()
  await expect.poll(async () => (await page.request.get(mailbox())).text()).toContain('asks you to review Pasted text')
  await page.getByRole('button', { name: 'Discard' }).click()
})

test('the reference is searched, opened by keyboard and fits a phone', async ({ page }) => {
  await signInQuickly(page, 'viewer@portansel.example')
  await page.goto(admin() + '/settings')
  await page.getByRole('link', { name: /^API/ }).press('Enter')
  await page.getByLabel('Find').fill('links/many')
  await expect(page.getByText('1 operation with')).toBeVisible()
  await page.locator('summary').press('Enter')
  await expect(page.getByRole('row').filter({ hasText: 'Idempotency-Key' })).toBeVisible()
  await expect(page.getByLabel('Example of makeOrChangeLinks')).toContainText('/api/v1/links/many')
  for (const colorScheme of ['light', 'dark'] as const) {
    await page.emulateMedia({ colorScheme })
    await page.setViewportSize({ width: 360, height: 740 })
    await expect.poll(() => widthOf(page)).toBeLessThanOrEqual(360)
    expect(await faults(page)).toEqual([])
  }
  await page.goto(admin() + '/reference#createRule')
  await expect(page.getByLabel('Example of createRule')).toBeVisible()
})

test('a viewer sees a file and can decide nothing of it', async ({ page, browser }) => {
  await signInQuickly(page, 'editor@portansel.example')
  await paste(page, '/e2e-viewed https://www.portansel.example/viewed 302')
  await expect(page.getByText('Import 1 link: needs an administrator.')).toBeVisible()
  const other = await (await browser.newContext()).newPage()
  await signInQuickly(other, 'viewer@portansel.example')
  await other.goto(page.url())
  await expect(other.getByRole('row').filter({ hasText: 'e2e-viewed' })).toBeVisible()
  await expect(other.getByRole('combobox', { name: /^Decision/ })).toBeDisabled()
  await expect(other.getByRole('button', { name: 'Discard' })).toHaveCount(0)
  await page.getByRole('button', { name: 'Discard' }).click()
})

test('a bookmark asks for the short address of the page one is on, signed in or out', async ({ page, context }) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write'])
  await page.goto(admin() + '/sign-in')
  await signInQuickly(page)
  await page.goto(admin() + '/exchange')
  const code = await page.getByRole('link', { name: 'Short address' }).getAttribute('href')
  const { destination } = await (await page.request.get(`${admin()}/api/v1/links/1`)).json()
  await context.clearCookies()
  // A page that lets no script of its own run; what a person runs is not its own.
  await page.route('https://pages.example/**', (route) =>
    route.fulfill({
      contentType: 'text/html',
      headers: { 'content-security-policy': "default-src 'none'" },
      body: '<title>Pier works</title>',
    }),
  )
  await page.goto('https://pages.example/pier-works')
  const opened = page.waitForEvent('popup')
  await page.evaluate(code!.replace(/^javascript:/, ''))
  const window = await opened
  await window.waitForURL(/\/sign-in/)
  await signInQuickly(window)
  await window.goto(`${admin()}/quick?to=${encodeURIComponent('https://pages.example/pier-works')}&title=Pier%20works`)
  await expect(window.getByRole('textbox', { name: 'Title' })).toHaveValue('Pier works')
  expect(await faults(window)).toEqual([])
  await window.getByRole('textbox', { name: /^Slug/ }).fill('e2e-pier-works')
  await window.keyboard.press('Enter')
  await expect(window.getByRole('status').filter({ hasText: 'Copied: ansl.example/e2e-pier-works' })).toBeVisible()
  expect(await window.evaluate(() => navigator.clipboard.readText())).toBe('https://ansl.example/e2e-pier-works')
  // A page that has one is told it first.
  await window.goto(`${admin()}/quick?to=${encodeURIComponent(destination)}`)
  await expect(window.getByRole('button', { name: 'Copy ansl.example/fares' })).toBeVisible()
  await window.goto(`${admin()}/quick?to=javascript:alert(1)`)
  await expect(window.getByText('Only pages with http:// or https://')).toBeVisible()
})
