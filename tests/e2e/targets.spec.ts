import { expect, test, type Page } from '@playwright/test'
import { PASSWORD, TestFides, until } from '../system/fides'
import { TargetWorld } from '../system/target-world'
import { faults, widthOf } from './axe'
import { SAME_ORIGIN } from './desk'

test.describe.configure({ mode: 'serial', timeout: 120_000 })

const SITE = 'www.site.example'
const PAGES = { '/': 'Front', '/network/': 'The night network', '/network/map.pdf': 'Map', '/fares': 'Fares' }
let world: TargetWorld
let fides: TestFides
let page: Page
const at = (path: string) => fides.system.adminAddress + path

test.beforeAll(async ({ browser }) => {
  test.setTimeout(120_000)
  world = await TargetWorld.start()
  world.sites.put({ host: SITE, title: 'Port Ansel Transit', pages: PAGES })
  fides = await TestFides.start({ environment: () => world.environment })
  page = await (await browser.newContext({ viewport: { width: 1280, height: 800 }, reducedMotion: 'reduce' })).newPage()
  const signedIn = await page.request.post(at('/api/v1/session'), {
    headers: SAME_ORIGIN,
    data: { email: 'administrator@port.test', password: PASSWORD },
  })
  expect(signedIn.status()).toBe(200)
})
test.afterAll(async () => {
  await fides?.stop()
  await world?.stop()
})

test('an administrator says when a destination counts as broken, by keyboard', async () => {
  await page.goto(at('/settings'))
  await page.getByRole('link', { name: 'Destination checks' }).focus()
  await page.keyboard.press('Enter')
  const field = (name: string) => page.getByRole('textbox', { name })
  // The settings are read: until then they would come over what is typed.
  await expect(field('Requests a second')).not.toHaveValue('')
  await field('Requests a second').fill('500')
  await expect(page.getByText('At most 100 a second.')).toBeVisible()
  await field('Requests a second').fill('50')
  await field('Failed checks in a row').fill('2')
  await field('Minimum duration').fill('0')
  await field('Private networks').fill('10.1.0.0/16 nonsense')
  await expect(page.getByText('Give networks like')).toBeVisible()
  await field('Private networks').fill('10.1.0.0/16')
  expect(await faults(page)).toEqual([])
  await field('Failed checks in a row').focus()
  await page.keyboard.press('Enter')
  await expect(page.getByRole('status').filter({ hasText: 'Saved: how destinations are checked' })).toBeVisible()
  await page.reload()
  await expect(field('Failed checks in a row')).toHaveValue('2')
})

test('while a link is made its destination is asked, and its title taken over', async () => {
  await page.goto(at('/register'))
  // The one in the band: an empty register offers one too.
  await page.getByRole('button', { name: 'New link n' }).click()
  const dialog = page.getByRole('dialog')
  world.sites.play(SITE, '/fares', 'soft-sign-in')
  await dialog.getByRole('textbox', { name: 'Destination' }).fill(`https://${SITE}/fares`)
  await expect(dialog.getByText('Sign-in required: visitors see a sign-in form.')).toBeVisible()
  world.sites.play(SITE, '/fares', undefined)
  await dialog.getByRole('textbox', { name: 'Destination' }).fill(`https://${SITE}/network/`)
  await expect(dialog.getByText(/Answers 200/)).toBeVisible()
  // A title nobody typed is the page's.
  await expect(dialog.getByText('title “The night network”')).toBeVisible()
  expect(await faults(page)).toEqual([])
  const seen = page.waitForResponse(
    (response) => /checks\/preview$/.test(response.url()) && /map\.pdf/.test(response.request().postData() ?? ''),
  )
  await dialog.getByRole('textbox', { name: 'Destination' }).fill(`https://${SITE}/network/map.pdf`)
  await dialog.getByRole('textbox', { name: 'Slug' }).fill('night')
  await seen
  await dialog.getByRole('button', { name: 'Create', exact: true }).click()
  await expect(page.getByRole('status').filter({ hasText: 'ansl.example/night is created' })).toBeVisible()
})

const row = () => page.getByRole('row', { name: /night/ })

test('a broken site is seen as a doubt, then as a case, where its urgency puts it', async () => {
  // What was asked while the link was made is stored with it; the worker checks it once more after that.
  await until('the first check by the worker', async () => {
    const link = await fides.db.Link.findOne({ where: { slug: 'night' } })
    const target = link && (await fides.db.Target.findOne({ where: { hash: link.destinationHash } }))
    return (
      target?.confidence === 'sound' &&
      target.checkedAt! >= link!.updatedAt &&
      !target.urgent &&
      target.leasedUntil === null &&
      target.dueAt > new Date()
    )
  })
  world.sites.setPages(SITE, { '/': 'Front', '/network/': 'The night network', '/network/map-2027.pdf': 'Map' })
  await page.goto(at('/register'))
  await row().getByRole('checkbox').check()
  const check = async () => {
    await page.getByRole('button', { name: /^Check (?:now|\d+)…$/ }).click()
    await page
      .locator('.v-overlay--active')
      .getByText(/^(The one selected|All links)$/)
      .first()
      .click()
    await expect(page.getByText(/^Checked 1 of 1 destination/)).toBeVisible()
  }
  await check()
  await expect(page.getByText('Checked 1 of 1 destination: 1 doubtful.')).toBeVisible()
  await expect(row().getByRole('img', { name: 'doubtful' })).toBeVisible()
  await page.goto(at('/docket?lane=targets'))
  await expect(page.getByText('No cases', { exact: true })).toBeVisible()
  await page.goto(at('/register'))
  await check()
  await expect(page.getByText('Checked 1 of 1 destination: 1 broken.')).toBeVisible()
  await page
    .getByRole('region', { name: 'Target' })
    .getByRole('button', { name: /Broken/ })
    .click()
  await expect(row()).toBeVisible()
})

test(
  'the remedy from the sitemap is applied by keyboard; the visitor lands; the case settles, and undo brings ' +
    'it back',
  async () => {
    await page.goto(at('/docket?lane=targets'))
    const found = page.getByRole('article', { name: /ansl.example\/night: Page not found/ })
    await expect(found).toBeVisible()
    await expect(found.getByText('Point to the replacement page')).toBeVisible({ timeout: 60_000 })
    expect(await faults(page)).toEqual([])
    await page.locator('body').focus()
    await page.keyboard.press('a')
    await expect(page.getByRole('status').filter({ hasText: 'ansl.example/night now leads to' })).toBeVisible()
    await expect
      .poll(async () => (await fides.visit('ansl.example/night')).location)
      .toBe(`https://${SITE}/network/map-2027.pdf`)
    await expect(page.getByText('No cases', { exact: true })).toBeVisible({ timeout: 60_000 })
    await page.goto(at('/docket?state=settled&lane=targets'))
    await expect(page.getByText(/Settled .* by /)).toBeVisible()
    await page.keyboard.press('u')
    await expect(page.getByRole('status').filter({ hasText: 'Undone' })).toBeVisible()
    await page.goto(at('/docket?lane=targets'))
    await expect(page.getByRole('article', { name: /ansl.example\/night/ })).toBeVisible({ timeout: 60_000 })
  },
)

test('a link shows its checks with their hops, in light and dark, and on a phone', async ({ browser }) => {
  const { body } = await fides.call('administrator', 'GET', '/links?q=night')
  for (const look of [
    { colorScheme: 'light' as const, viewport: { width: 1280, height: 800 } },
    { colorScheme: 'dark' as const, viewport: { width: 360, height: 740 } },
  ]) {
    const context = await browser.newContext({ ...look, storageState: await page.context().storageState() })
    const one = await context.newPage()
    await one.goto(at(`/links/${body.items[0].id}?tab=checks`))
    await one.getByText('Not found,').first().click()
    await expect(one.getByText('/network/map.pdf').last()).toBeVisible()
    expect(await faults(one)).toEqual([])
    await expect.poll(() => widthOf(one)).toBeLessThanOrEqual(look.viewport.width)
    await one.goto(at('/trace?address=ansl.example/night'))
    await expect(one.getByRole('heading', { name: 'Redirects after ours' })).toBeVisible()
    await expect(one.getByText(/answers 404/).first()).toBeVisible()
    expect(await faults(one)).toEqual([])
    await expect.poll(() => widthOf(one)).toBeLessThanOrEqual(look.viewport.width)
    await context.close()
  }
})
