import { expect, test, type Browser, type Page } from '@playwright/test'
import { PASSWORD, TestFides, until } from '../system/fides'
import { faults, widthOf } from './axe'
import { SAME_ORIGIN } from './desk'

test.describe.configure({ mode: 'serial', timeout: 45_000 })

let fides: TestFides
let page: Page
const at = (path: string) => fides.system.adminAddress + path
const gateway = (path: string) => `http://127.0.0.1:${fides.system.settings.FIDES_GATEWAY_PORT}${path}`

test.beforeAll(async ({ browser }) => {
  test.setTimeout(120_000)
  fides = await TestFides.start()
  for (const slug of ['fares', 'night']) await fides.link({ slug, destination: `https://www.example/${slug}` })
  page = await (await browser.newContext({ viewport: { width: 1280, height: 800 }, reducedMotion: 'reduce' })).newPage()
  const signedIn = await page.request.post(at('/api/v1/session'), {
    headers: SAME_ORIGIN,
    data: { email: 'administrator@port.test', password: PASSWORD },
  })
  expect(signedIn.status()).toBe(200)
})
test.afterAll(() => fides?.stop())

/** A stranger with a browser and a phone of their own, who asks under our domain. */
async function stranger(browser: Browser, number: number, more: object = {}): Promise<Page> {
  const context = await browser.newContext({
    userAgent:
      `Mozilla/5.0 (Linux; Android 14; Phone ${number}) AppleWebKit/537.36 Chrome/130.0.0.0 Mobile ` + 'Safari/537.36',
    viewport: { width: 320, height: 640 },
    locale: 'en-GB',
    ...more,
  })
  const visitor = await context.newPage()
  // The address bar holds our domain; its requests go to the gateway on loopback.
  await visitor.route('http://ansl.example/**', async (route) => {
    const url = new URL(route.request().url())
    const response = await route.fetch({
      url: gateway(url.pathname + url.search),
      headers: { ...route.request().headers(), host: 'ansl.example' },
      maxRedirects: 0,
    })
    const location = response.headers().location
    // Where visitors are sent on lies outside; there is no outside here.
    if (location?.startsWith('https:')) await route.fulfill({ body: `arrived at ${location}` })
    else await route.fulfill({ response })
  })
  return visitor
}

test('who mistypes sees what was meant, on a small phone, in light and dark, and by keyboard', async ({ browser }) => {
  for (const [number, colorScheme] of [
    [1, 'light'],
    [2, 'dark'],
  ] as const) {
    const visitor = await stranger(browser, number, { colorScheme })
    await expect(async () => {
      await visitor.goto('http://ansl.example/fraes')
      await expect(visitor.getByRole('heading', { name: 'Closest address' })).toBeVisible({ timeout: 1000 })
    }).toPass({ timeout: 20_000 })
    expect(await faults(visitor)).toEqual([])
    await expect.poll(() => widthOf(visitor)).toBeLessThanOrEqual(320)
    await visitor.keyboard.press('Tab')
    await expect(visitor.getByRole('link', { name: 'ansl.example/fares' })).toBeFocused()
    await visitor.keyboard.press('Tab')
    const field = visitor.getByLabel('Enter another address')
    await expect(field).toBeFocused()
    await field.fill('night')
    await visitor.keyboard.press('Enter')
    await expect(visitor.getByText('arrived at https://www.example/night')).toBeVisible()
    await visitor.context().close()
  }
})

test('an administrator sees the case and settles it by keyboard; who mistypes again lands', async ({ browser }) => {
  await until('the case', async () => {
    const { body } = await fides.call('administrator', 'GET', '/cases?lane=misses')
    return body.items.length > 0
  })
  await page.goto(at('/docket?lane=misses'))
  await expect(page.getByRole('heading', { name: 'ansl.example/fraes' })).toBeVisible()
  await expect(page.getByText('two characters swapped').first()).toBeVisible()
  expect(await faults(page)).toEqual([])
  await page.locator('body').press('a')
  await expect(page.getByText('ansl.example/fraes now leads where ansl.example/fares does.')).toBeVisible()

  const visitor = await stranger(browser, 3)
  await expect(async () => {
    await visitor.goto('http://ansl.example/fraes')
    await expect(visitor.getByText('arrived at https://www.example/fares')).toBeVisible({ timeout: 1000 })
  }).toPass({ timeout: 20_000 })
  await visitor.context().close()

  await page.goto(at('/misses?state=answered'))
  await expect(page.getByRole('row', { name: /fraes/ })).toContainText('served since')
})

test('several are settled in one go, with a preview, and one is folded away as noise', async () => {
  for (const visitor of ['a', 'b', 'c'])
    for (const slug of ['nigth', 'farse', 'wifi'])
      await fides.visit(`ansl.example/${slug}`, { headers: { 'user-agent': `Mozilla/5.0 (iPhone) ${visitor}` } })
  await until('the misses', async () => (await fides.call('viewer', 'GET', '/misses')).body.counts.open === 3)
  await page.goto(at('/misses'))
  await expect(page.getByRole('row', { name: /wifi/ })).toContainText('no match')
  expect(await faults(page)).toEqual([])
  await page.getByRole('checkbox', { name: 'Choose ansl.example/nigth' }).check()
  await page.getByRole('checkbox', { name: 'Choose ansl.example/farse' }).check()
  await page.getByRole('button', { name: 'Settle in one go…' }).press('Enter')
  const dialog = page.getByRole('dialog')
  await expect(dialog.getByText('Would have served 6 visitors in the last 28 days.')).toBeVisible()
  expect(await faults(page)).toEqual([])
  // What was typed survives Escape (components/misses/SettleDialog.vue).
  const why = dialog.getByRole('textbox', { name: /^Reason/ })
  await why.fill('Typed in haste')
  await expect
    .poll(() => page.evaluate(() => Object.values(sessionStorage).some((kept) => kept.includes('in haste'))))
    .toBe(true)
  await page.keyboard.press('Escape')
  await expect(dialog).toBeHidden()
  await page.getByRole('button', { name: 'Settle in one go…' }).press('Enter')
  await expect(why).toHaveValue('Typed in haste')
  await dialog.getByRole('button', { name: 'Settle 2' }).press('Enter')
  await expect(page.getByText('2 addresses settled.')).toBeVisible()

  await page.getByRole('button', { name: 'ansl.example/wifi' }).click()
  await page.getByRole('button', { name: 'Mark as noise' }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Settle', exact: true }).click()
  await page
    .getByRole('button', { name: /^Noise/ })
    .first()
    .click()
  await expect(page.getByRole('row', { name: /wifi/ })).toBeVisible()
})

test('a link’s further slugs are added and taken away where the link is', async () => {
  const { body } = await fides.call('administrator', 'GET', '/links?q=night')
  await page.goto(at(`/links/${body.items[0].id}`))
  await expect(page.getByRole('heading', { name: /Further slugs/ })).toBeVisible()
  await page.getByRole('button', { name: 'Add a slug…' }).click()
  await page.getByRole('textbox', { name: 'Slug' }).fill('fares')
  await page.getByRole('button', { name: 'Add', exact: true }).click()
  await expect(page.getByText('“fares” is taken on ansl.example')).toBeVisible()
  await page.getByRole('textbox', { name: 'Slug' }).fill('nightbus')
  await page.getByRole('button', { name: 'Add', exact: true }).click()
  await expect(page.getByText('ansl.example/nightbus')).toBeVisible()
  expect(await faults(page)).toEqual([])
  await page.getByRole('button', { name: 'Remove ansl.example/nightbus' }).click()
  await expect(page.getByRole('button', { name: 'Remove ansl.example/nightbus' })).toBeHidden()
})

test('the domain’s own pages are worded with a preview at phone width, and visitors see it', async ({ browser }) => {
  const { body } = await fides.call('administrator', 'GET', '/domains')
  const domain = body.items.find(({ host }: { host: string }) => host === 'ansl.example')
  await page.goto(at(`/domains/${domain.id}?tab=pages`))
  await page.getByRole('textbox', { name: 'Name', exact: true }).fill('Port Ansel Transit')
  await page.getByRole('textbox', { name: 'Heading' }).fill('We have no such address')
  const preview = page.frameLocator('iframe[title="Preview of the page"]')
  await expect(preview.getByRole('heading', { name: 'We have no such address' })).toBeVisible()
  await page.getByRole('textbox', { name: 'Colour' }).fill('#ffee88')
  await expect(page.getByText('Choose a darker one.')).toBeVisible()
  await page.getByRole('textbox', { name: 'Colour' }).fill('#1f5f7a')
  expect(await faults(page)).toEqual([])
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText('Saved').first()).toBeVisible()
  const visitor = await stranger(browser, 5)
  await expect(async () => {
    await visitor.goto('http://ansl.example/elsewhere')
    await expect(visitor.getByRole('heading', { name: 'We have no such address' })).toBeVisible({ timeout: 1000 })
  }).toPass({ timeout: 20_000 })
  await visitor.context().close()
})

test('all of it fits a narrow screen', async () => {
  await page.setViewportSize({ width: 360, height: 740 })
  for (const path of ['/misses', '/misses?state=noise', `/domains/1?tab=pages`]) {
    await page.goto(at(path))
    await page.waitForLoadState('networkidle')
    await expect.poll(() => widthOf(page), { message: path }).toBeLessThanOrEqual(360)
    // Nor does what scrolls by itself run over its edge.
    const over = await page.locator('section').evaluateAll((all) => all.map((one) => one.scrollWidth - one.clientWidth))
    expect(Math.max(0, ...over), path).toBeLessThanOrEqual(1)
    expect(await faults(page), path).toEqual([])
  }
})
