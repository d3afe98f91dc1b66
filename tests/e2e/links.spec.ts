import { createServer } from 'node:http'
import { once } from 'node:events'
import { chromium, expect, test } from '@playwright/test'
import { DEMO_PASSWORD } from '../../server/database/seed/write-demo'
import { SAME_ORIGIN, admin, signIn, signInQuickly, visit } from './desk'

test('make a link, visit it, change it, visit again within a second, undo', async ({ page }) => {
  await signIn(page)
  await page.getByRole('button', { name: 'New link n' }).click()
  const form = page.getByRole('dialog')
  await form.getByRole('textbox', { name: 'Destination' }).fill('https://one.example/page')
  await form.getByRole('textbox', { name: 'Slug' }).fill('e2e-first')
  await expect(form.getByText('Available: ansl.example/e2e-first')).toBeVisible()
  await form.getByRole('button', { name: 'More options' }).click()
  await form.getByRole('textbox', { name: 'Title' }).fill('First of the tests')
  await form.getByRole('radio', { name: /307/ }).check()
  await form.getByRole('button', { name: 'Create', exact: true }).click()
  await expect(page.getByRole('status').filter({ hasText: 'ansl.example/e2e-first is created' })).toBeVisible()
  // What comes next has the focus.
  await expect(page.getByRole('link', { name: 'Open', exact: true })).toBeFocused()
  await page.keyboard.press('Enter')
  await expect(page.getByRole('article', { name: 'ansl.example/e2e-first' })).toBeVisible()
  await expect
    .poll(() => visit('ansl.example', '/E2E-first/'))
    .toEqual({ status: 307, location: 'https://one.example/page' })

  const article = page.getByRole('article')
  await article.getByRole('textbox', { name: 'Destination' }).fill('https://two.example/page')
  await expect(article.getByRole('region', { name: 'Consequences' })).toContainText('Takes effect immediately.')
  await article.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByRole('status').filter({ hasText: 'Saved' })).toBeVisible()
  await expect
    .poll(() => visit('ansl.example', '/e2e-first'), { intervals: [20] })
    .toEqual({ status: 307, location: 'https://two.example/page' })

  await page.getByRole('button', { name: 'Undo', exact: true }).click()
  await expect(page.getByRole('status').filter({ hasText: 'Undone' })).toBeVisible()
  await expect
    .poll(() => visit('ansl.example', '/e2e-first'), { intervals: [20] })
    .toEqual({ status: 307, location: 'https://one.example/page' })
})

test('a browser that visits the short address lands on the page', async ({ page }) => {
  // The destination is a page of this test's own; Chromium is told where the made-up names live.
  const site = createServer((_request, response) =>
    response.setHeader('Content-Type', 'text/html').end('<title>Landed</title><h1>The timetable</h1>'),
  ).listen(0, '127.0.0.1')
  await once(site, 'listening')
  const { port } = site.address() as { port: number }
  await signInQuickly(page)
  const made = await page.request.post(admin() + '/api/v1/links', {
    headers: SAME_ORIGIN,
    data: { domain: 'ansl.example', slug: 'e2e-land', destination: `http://site.example:${port}/timetable` },
  })
  expect(made.status()).toBe(201)
  await expect.poll(async () => (await visit('ansl.example', '/e2e-land')).status).toBe(302)
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      `--host-resolver-rules=MAP ansl.example 127.0.0.1:${process.env.FIDES_E2E_GATEWAY_PORT},MAP ` +
        'site.example 127.0.0.1',
    ],
  })
  const stranger = await browser.newPage()
  await stranger.goto('http://ansl.example/e2e-land')
  await expect(stranger.getByRole('heading')).toHaveText('The timetable')
  expect(new URL(stranger.url()).pathname).toBe('/timetable')
  await stranger.goto('http://ansl.example/e2e-nothing-here')
  await expect(stranger.getByRole('heading')).toHaveText('We have no such address')
  await browser.close()
  site.close()
})

test('trace from the address line', async ({ page }) => {
  await signIn(page)
  await page.keyboard.press('/')
  await page.keyboard.type('https://ANSL.example/Night?utm_source=poster')
  // The link itself comes first.
  await expect(page.getByRole('option').first()).toContainText('Open link')
  await expect(page.getByRole('option').nth(1)).toContainText('Trace')
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('heading', { name: 'ANSL.example/Night?utm_source=poster' })).toBeVisible()
  await expect(page.getByText('Not case-sensitive on this domain.')).toBeVisible()
  await expect(page.getByText('Redirects to its destination')).toBeVisible()
  await page.getByRole('textbox', { name: 'Short address' }).fill('ansl.example/nite')
  await page.getByRole('button', { name: 'Trace', exact: true }).click()
  await expect(page.getByText('No link or rule has this address')).toBeVisible()
})

test('a taken slug is told while typing, naming who has it; a twin is pointed out; faults keep what was typed', async ({
  page,
}) => {
  await signIn(page)
  await page.keyboard.press('n')
  const form = page.getByRole('dialog')
  const destination = form.getByRole('textbox', { name: 'Destination' })
  await destination.fill(' www.portanseltransit.example/fares/2027\u200B ')
  await form.getByRole('textbox', { name: 'Slug' }).fill('FARES')
  await expect(
    form.getByText('Corrected: invisible characters removed, stray spaces removed, https:// added.'),
  ).toBeVisible()
  await expect(form.getByText('already leads there')).toContainText('ansl.example/fares')
  await expect(form.getByText('Taken by ansl.example/fares, “Fares and tickets”.')).toBeVisible()
  await form.getByRole('button', { name: 'More options' }).click()
  await form.getByRole('textbox', { name: 'Title' }).fill('Kept')
  await form.getByRole('button', { name: 'Create', exact: true }).click()
  await expect(form.getByText('“FARES” is taken on ansl.example')).toBeVisible()
  await destination.fill('javascript:alert(1)')
  await form.getByRole('button', { name: 'Create', exact: true }).click()
  await expect(form.getByText('Only http:// and https:// destinations are allowed here')).toBeVisible()
  await expect(form.getByRole('textbox', { name: 'Title' })).toHaveValue('Kept')
})

test('two people: the second sees both versions and decides', async ({ page, browser }) => {
  await signInQuickly(page)
  const made = await (
    await page.request.post(admin() + '/api/v1/links', {
      headers: SAME_ORIGIN,
      data: { domain: 'ansl.example', slug: 'e2e-two', destination: 'https://one.example/', title: 'Opened' },
    })
  ).json()
  await page.goto(`${admin()}/links/${made.id}`)
  await page.getByRole('button', { name: 'Change Note' }).click()
  const form = page.getByRole('dialog')
  await form.getByRole('textbox', { name: 'Title' }).fill('Mine')
  const other = await (await browser.newContext()).newPage()
  await signInQuickly(other, 'editor@portansel.example')
  await other.request.patch(`${admin()}/api/v1/links/${made.id}`, {
    data: { title: 'Theirs' },
    headers: { ...SAME_ORIGIN, 'if-match': '"1"' },
  })
  await form.getByRole('button', { name: 'Save' }).click()
  await expect(form.getByText('Someone else has saved this link since you opened it')).toBeVisible()
  await expect(form.getByRole('row', { name: /^Title/ })).toContainText('Theirs')
  await expect(form.getByRole('row', { name: /^Title/ })).toContainText('Mine')
  await form.getByRole('button', { name: 'Overwrite with my version' }).click()
  await expect(page.getByRole('status').filter({ hasText: 'Saved' })).toBeVisible()
  const now = await (await page.request.get(`${admin()}/api/v1/links/${made.id}`)).json()
  expect(now).toMatchObject({ title: 'Mine', version: 3 })
})

test('a session that ends while somebody types is taken up in place; nothing typed is lost', async ({ page }) => {
  await signInQuickly(page)
  const made = await (
    await page.request.post(admin() + '/api/v1/links', {
      headers: SAME_ORIGIN,
      data: { domain: 'ansl.example', slug: 'e2e-ended', destination: 'https://one.example/', title: 'Opened' },
    })
  ).json()
  await page.goto(`${admin()}/links/${made.id}`)
  await page.getByRole('button', { name: 'Change Note' }).click()
  const form = page.getByRole('dialog', { name: /^Edit/ })
  await form.getByRole('textbox', { name: 'Title' }).fill('Typed before it ended')
  await page.context().clearCookies()
  await form.getByRole('button', { name: 'Save' }).click()
  const again = page.getByRole('dialog', { name: 'Your session has ended' })
  await expect(again.getByText('Sign in again as admin@portansel.example')).toBeVisible()
  await again.getByLabel('Password').fill('not the password')
  await again.getByLabel('Password').press('Enter')
  await expect(again.getByRole('alert')).toContainText('Wrong')
  await again.getByLabel('Password').fill(DEMO_PASSWORD)
  await again.getByLabel('Password').press('Enter')
  await expect(page.getByRole('status').filter({ hasText: 'Saved' })).toBeVisible()
  const now = await (await page.request.get(`${admin()}/api/v1/links/${made.id}`)).json()
  expect(now).toMatchObject({ title: 'Typed before it ended', version: 2 })
})

test('pause, end and retire, each undone from the ledger', async ({ page }) => {
  await signInQuickly(page)
  const made = await (
    await page.request.post(admin() + '/api/v1/links', {
      headers: SAME_ORIGIN,
      data: { domain: 'ansl.example', slug: 'e2e-rest', destination: 'https://rest.example/' },
    })
  ).json()
  await page.goto(`${admin()}/links/${made.id}`)
  for (const [choice, said, status] of [
    ['End', 'Ended', 410],
    ['Retire', 'Retired', 410],
  ] as const) {
    await page.getByRole('button', { name: 'Standing…' }).click()
    await page.getByText(choice, { exact: true }).click()
    await expect(page.getByRole('status').filter({ hasText: `${said}: ansl.example/e2e-rest` })).toBeVisible()
    await expect.poll(async () => (await visit('ansl.example', '/e2e-rest')).status).toBe(status)
  }
  await page.goto(admin() + '/ledger?q=e2e-rest')
  for (const name of [/^Undo: Retired/, /^Undo: Ended/]) {
    // The later is taken back before the earlier is asked for.
    const undone = page.waitForResponse((response) => /\/ledger\/\d+\/undo$/.test(response.url()))
    await page.getByRole('button', { name }).click()
    await undone
  }
  await expect.poll(async () => (await visit('ansl.example', '/e2e-rest')).status).toBe(302)
})

test('a viewer sees figures and no way to change them', async ({ page }) => {
  await signInQuickly(page, 'viewer@portansel.example')
  await page.goto(admin() + '/register?link=1')
  await expect(page.getByRole('article', { name: 'ansl.example/fares' })).toBeVisible()
  await expect(page.getByRole('button', { name: 'New link' })).toHaveCount(0)
  await expect(page.getByRole('article').getByRole('button', { name: 'Change', exact: true })).toHaveCount(0)
  await expect(page.getByRole('button', { name: 'Undo' })).toHaveCount(0)
})

test('a wrong password says so and keeps the address', async ({ page }) => {
  await page.goto(admin() + '/ledger')
  await page.getByLabel('E-mail address').fill('admin@portansel.example')
  await page.getByLabel('Password').fill('not this one')
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByText('Wrong e-mail address or password.')).toBeVisible()
  await expect(page.getByLabel('E-mail address')).toHaveValue('admin@portansel.example')
})
