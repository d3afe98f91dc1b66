import { expect, test, type Page } from '@playwright/test'
import { TestFides } from '../system/fides'
import { GATEWAY, KEY, NAME_SERVERS, Outside, top } from '../system/outside'
import { DEMO_PASSWORD } from '../../server/database/seed/write-demo'
import { faults, widthOf } from './axe'
import { SAME_ORIGIN } from './desk'
import { fillBeforeRider, RIDER, SPEED } from './rider'

test.describe.configure({ mode: 'serial', timeout: 240_000 })
const SEEN = { timeout: 60_000 }

let outside: Outside
let fides: TestFides
let page: Page
const at = (path: string) => fides.system.adminAddress + path

test.beforeAll(async ({ browser }) => {
  outside = await Outside.start(SPEED)
  outside.world.put('rider.example.', RIDER)
  outside.world.put('ansl.example.', `${top('ansl.example')}@ IN A ${GATEWAY.ipv4}\n@ IN AAAA ${GATEWAY.ipv6}\n`)
  fides = await TestFides.start({
    fill: fillBeforeRider,
    environment: (settings) => outside.environment(settings, { FIDES_TTL_SPEED: String(SPEED) }),
  })
  page = await (
    await browser.newContext({
      viewport: { width: 1280, height: 800 },
      reducedMotion: 'reduce',
      permissions: ['clipboard-read', 'clipboard-write'],
    })
  ).newPage()
  expect(
    (
      await page.request.post(at('/api/v1/session'), {
        headers: SAME_ORIGIN,
        data: { email: 'admin@portansel.example', password: DEMO_PASSWORD },
      })
    ).status(),
  ).toBe(200)
})
test.afterAll(async () => {
  await fides?.stop()
  await outside?.stop()
})

/** Checks the screen as it stands, in both appearances, and that it fits a phone. */
async function check(name: string) {
  for (const colorScheme of ['light', 'dark'] as const) {
    await page.emulateMedia({ colorScheme })
    expect(await faults(page), `${name}, ${colorScheme}`).toEqual([])
  }
  await page.emulateMedia({ colorScheme: 'light' })
  await page.setViewportSize({ width: 360, height: 740 })
  await expect.poll(() => widthOf(page), { message: name }).toBeLessThanOrEqual(360)
  await page.setViewportSize({ width: 1280, height: 800 })
}
const step = (name: string) => page.getByRole('listitem').filter({ hasText: name })

test('a name in use is told to be in use, and refused names get a sentence', async () => {
  await page.goto(at('/domains'))
  await page.getByRole('button', { name: 'Add a domain' }).click()
  const dialog = page.getByRole('dialog', { name: 'Add a domain' })
  for (const [host, sentence] of [
    ['co.uk', 'is a public suffix'],
    ['a_b.example', 'has an underscore'],
    ['ansl.example', 'is one of the organisation’s domains already'],
  ]) {
    await dialog.getByRole('textbox', { name: 'Domain' }).fill(host!)
    await dialog.getByRole('button', { name: 'Check this name' }).click()
    await expect(dialog.getByText(sentence!)).toBeVisible()
    await expect(dialog.getByRole('textbox', { name: 'Domain' })).toHaveValue(host!)
  }
  await dialog.getByRole('textbox', { name: 'Domain' }).fill('rider.example')
  await dialog.getByRole('textbox', { name: 'Domain' }).press('Enter')
  await expect(dialog.getByText('“Rider survey 2026”')).toBeVisible()
  await expect(dialog.getByText('Mail is delivered here')).toBeVisible()
  await expect(dialog.getByText('Better take a sub-domain beside it')).toBeVisible()
  expect(await faults(page)).toEqual([])
  await dialog.getByRole('button', { name: 'Add rider.example' }).click()
  await expect(page.getByRole('heading', { name: 'rider.example' })).toBeVisible()
})

test('its zone is brought, a faulty one refused line by line with what was typed kept', async () => {
  await page.getByRole('button', { name: 'Read the zone…' }).click()
  const dialog = page.getByRole('dialog', { name: 'Read the zone of rider.example' })
  const paste = dialog.getByRole('textbox', { name: 'Or paste it' })
  await paste.fill(`${RIDER}broken A 300.1.1.1\n`)
  await dialog.getByRole('button', { name: 'Read the file' }).click()
  await expect(dialog.getByText(/^Line 12: /)).toBeVisible()
  await expect(paste).toHaveValue(/300\.1\.1\.1/)
  await paste.fill(RIDER)
  await dialog.getByRole('button', { name: 'Read the file' }).click()
  await expect(dialog).toBeHidden()
  await expect(page.getByText('are led to')).toBeVisible()
  await expect(page.getByText('Mail is delivered here')).toBeVisible()
})

test('the old website’s addresses become links that wait', async () => {
  await page.getByRole('link', { name: 'import its paths as links' }).click()
  await page
    .getByRole('textbox', { name: 'Or paste lines of it' })
    .fill(
      '192.0.2.9 - - [24/Nov/2026:10:00:00 +0000] "GET /survey HTTP/1.1" 200 51\n192.0.2.9 - - ' +
        '[24/Nov/2026:10:00:01 +0000] "GET /panel HTTP/1.1" 200 51',
    )
  await page
    .getByRole('textbox', { name: 'New base address of the old pages' })
    .fill('https://www.portanseltransit.example/riders')
  await page.getByRole('button', { name: 'Read the log' }).click()
  await page.getByRole('checkbox', { name: 'Make a link of /panel' }).uncheck()
  await check('old website')
  await page.getByRole('button', { name: 'Make 1 link' }).click()
  await expect(page.getByText('Made 1 link')).toBeVisible()
  expect((await fides.visit('rider.example/survey')).status).toBe(421)
  await page.getByRole('link', { name: 'Records' }).click()
  await expect(page.getByText('1 link is waiting and goes live at once.')).toBeVisible()
})

test('records are given in the forms providers ask for, and the zone before and after', async () => {
  await page.getByRole('button', { name: `Copy the value ${GATEWAY.ipv4}` }).click()
  expect(await page.evaluate(() => navigator.clipboard.readText())).toBe(GATEWAY.ipv4)
  await page.getByRole('button', { name: 'Copy the name _fides', exact: true }).click()
  expect(await page.evaluate(() => navigator.clipboard.readText())).toBe('_fides')
  await page.getByRole('button', { name: 'Zone before / after' }).click()
  const dialog = page.getByRole('dialog', { name: 'Zone rider.example, before and after' })
  await dialog.getByRole('button', { name: 'Compare lookups' }).click()
  await expect(dialog.getByLabel('before', { exact: true })).toContainText('198.51.100.7')
  await expect(dialog.getByLabel('after', { exact: true })).toContainText(GATEWAY.ipv4)
  await expect(dialog.getByLabel('Zone file, after')).toContainText('; the website of the survey')
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    dialog.getByRole('link', { name: 'Download the changed zone' }).click(),
  ])
  expect(download.suggestedFilename()).toBe('rider.example.zone')
  await check('zone before and after')
  await dialog.getByRole('button', { name: 'Close' }).click()
})

test('the records are handed over: whoever keeps the zone sees them without an account, and nothing else', async ({
  browser,
}) => {
  await page.getByRole('button', { name: 'Hand over to someone else…' }).click()
  const dialog = page.getByRole('dialog')
  const text = await dialog.getByRole('textbox', { name: 'Text' }).inputValue()
  expect(text).toMatch(/^ {2}_fides\.rider\.example\. \d+ IN TXT "fides=/m)
  expect(text).toMatch(/They replace these, which please remove:\n\n {2}rider\.example\. \d+ IN A /)
  const address = new URL(/https?:\/\/\S+\/handover\?key=\S+/.exec(text)![0])
  await dialog.getByRole('button', { name: 'Close' }).click()
  const stranger = await (await browser.newContext({ viewport: { width: 360, height: 740 } })).newPage()
  try {
    const open = (key: string) => stranger.goto(`${new URL(page.url()).origin}/handover?key=${key}`)
    const key = address.searchParams.get('key')!
    await open(key)
    await expect(stranger.getByRole('heading', { name: 'Records for rider.example' })).toBeVisible()
    await expect(stranger.getByText('0 of 3 records have arrived')).toBeVisible()
    await expect(stranger.getByText('does not have it yet').first()).toBeVisible()
    expect(await stranger.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(360)
    await open(key.slice(0, -2) + (key.endsWith('AA') ? 'BA' : 'AA'))
    await expect(stranger.getByRole('alert')).toBeVisible()
    await expect(stranger.getByText('_fides')).toHaveCount(0)
    await stranger.goto(`${new URL(page.url()).origin}/domains/1`)
    await expect(stranger).toHaveURL(/\/sign-in/)
  } finally {
    await stranger.context().close()
  }
})

test('the key is given, the plan followed by push, and it is watched spreading', async () => {
  await outside.world.prime(['rider.example'], ['A', 'AAAA'])
  await page.getByRole('button', { name: 'Add update key' }).click()
  await page.getByRole('textbox', { name: 'Primary name server’s address' }).fill(NAME_SERVERS[0])
  await page.getByRole('textbox', { name: 'Key name' }).fill(KEY.name)
  await page.getByLabel('Secret (base64)').fill(KEY.secret)
  // What was typed survives a reload, but for the secret (components/domain/UpdateKeyForm.vue).
  await expect
    .poll(() => page.evaluate((name) => Object.values(sessionStorage).some((kept) => kept.includes(name)), KEY.name))
    .toBe(true)
  await page.reload()
  await expect(page.getByRole('textbox', { name: 'Key name' })).toHaveValue(KEY.name)
  await expect(page.getByLabel('Secret (base64)')).toHaveValue('')
  await page.getByLabel('Secret (base64)').fill(KEY.secret)
  await page.getByRole('button', { name: 'Save key' }).click()
  await expect(page.getByText(`Records are placed at ${NAME_SERVERS[0]}`)).toBeVisible()

  await step('Lower the old record’s TTL').getByRole('button', { name: 'Place by dynamic update' }).click()
  await expect(step('Lower the old record’s TTL').getByLabel('done')).toBeVisible()
  await step('Verify ownership').getByRole('button', { name: 'Place by dynamic update' }).click()
  await expect(step('Verify ownership').getByLabel('done')).toBeVisible()
  await expect(step('Wait for the old TTL').getByLabel('done')).toBeVisible(SEEN)
  await step('Point the address here').getByRole('button', { name: 'Place by dynamic update' }).click()
  await expect(page.getByRole('status').filter({ hasText: 'Spreading' })).toBeVisible()
  await expect(page.getByText(/^Demo clock: TTLs run 600 times as fast$/)).toBeVisible()
  await expect(step('Point the address here').getByLabel('done')).toBeVisible()
  await check('spreading')
  await expect(page.getByRole('status').filter({ hasText: '3 of 3 resolvers see the new address' })).toBeVisible(SEEN)
  await expect(step('Wait for old answers to expire').getByLabel('done')).toBeVisible(SEEN)
})

test('it is opened, and the waiting link works', async () => {
  await page.getByRole('button', { name: 'Open rider.example' }).click()
  await expect(page.getByText('rider.example is open; 1 link went live.')).toBeVisible()
  await expect(page.getByRole('status').filter({ hasText: /^.*Open$/ })).toBeVisible()
  await expect
    .poll(() => fides.visit('rider.example/survey').then(({ status, location }) => ({ status, location })))
    .toEqual({ status: 302, location: 'https://www.portanseltransit.example/riders/survey' })
})

test(
  'a record broken at the name server becomes a case within the watch interval, and is put right from ' + 'the docket',
  async () => {
    const zone = outside.world.authorities[0]!.zones.get('rider.example.')!
    outside.world.authorities[0]!.zones.put(
      'rider.example.',
      zone.records.filter(
        (record) => !(record.name === 'rider.example.' && (record.type === 'A' || record.type === 'AAAA')),
      ),
    )
    outside.world.catchUp()
    await page.keyboard.press('g')
    await page.keyboard.press('d')
    await expect(page.getByRole('article', { name: 'rider.example: The A and AAAA records are gone' })).toBeVisible(
      SEEN,
    )
    await expect(page.getByText('Restore the records')).toBeVisible()
    await expect(page.getByText('Looked up in the sets as')).toBeVisible()
    await check('docket')

    await page.keyboard.press('s')
    const dialog = page.getByRole('dialog', { name: 'Set aside rider.example' })
    await dialog.getByRole('button', { name: 'Set aside' }).click()
    await expect(dialog.getByText('Enter a reason')).toBeVisible()
    await dialog.getByRole('textbox', { name: 'Reason' }).fill('The agency is at it')
    await dialog.getByRole('textbox', { name: 'Reason' }).press('Enter')
    await expect(page.getByText('No open cases')).toBeVisible()
    await page.keyboard.press('u')
    await expect(page.getByText('Restore the records')).toBeVisible()

    await page.keyboard.press('a')
    await expect(page.getByText('took the change')).toBeVisible()
    await expect(page.getByText('No open cases')).toBeVisible(SEEN)
    expect(
      outside.world.authorities[0]!.zones.get('rider.example.')!
        .set('rider.example.', 'A')
        .map((record) => record.data),
    ).toEqual([GATEWAY.ipv4])
    await page.goto(at('/docket?state=settled'))
    await expect(page.getByText(/automatically/)).toBeVisible()
  },
)

test('fallbacks and renewal are saved, over the watch’s own changes, and a clash with a person is told', async () => {
  await page.goto(at('/domains'))
  await page.getByRole('link', { name: 'rider.example' }).click()
  await page.getByRole('link', { name: 'Renewal' }).click()
  await page.getByRole('textbox', { name: 'Registrar' }).fill('Harbour Names')
  await page.getByRole('textbox', { name: 'First-year price' }).fill('0.99')
  await page.getByRole('textbox', { name: 'Yearly price' }).fill('28.50')
  await expect(page.getByText('€114.99 for five years')).toBeVisible()
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(page.getByText('Saved', { exact: true })).toBeVisible()

  await page.getByRole('link', { name: 'Fallbacks' }).click()
  await page.getByRole('textbox', { name: 'Root' }).fill('javascript:alert(1)')
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(page.getByRole('textbox', { name: 'Root' })).toHaveValue('javascript:alert(1)')
  await expect(page.locator('.v-messages__message').first()).toBeVisible()
  await page.getByRole('textbox', { name: 'Root' }).fill('https://www.portanseltransit.example/riders')
  // Somebody else saves the same field meanwhile.
  const [row] = await fides.db.Domain.findAll({ where: { host: 'rider.example' } })
  expect(
    (
      await page.request.patch(at(`/api/v1/domains/${row!.id}`), {
        headers: { ...SAME_ORIGIN, 'if-match': `"${row!.version}"` },
        data: { rootDestination: 'https://theirs.example/' },
      })
    ).status(),
  ).toBe(200)
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect(page.getByRole('row', { name: /^Root/ })).toContainText('https://theirs.example/')
  await expect(page.getByRole('textbox', { name: 'Root' })).toHaveValue('https://www.portanseltransit.example/riders')
  await page.getByRole('button', { name: 'Save', exact: true }).click()
  await expect
    .poll(async () => (await fides.visit('rider.example/')).location)
    .toBe('https://www.portanseltransit.example/riders')
})
