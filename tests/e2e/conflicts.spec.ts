import { expect, test, type Page } from '@playwright/test'
import { TestFides } from '../system/fides'
import { DEMO_PASSWORD, writeDemo } from '../../server/database/seed/write-demo'
import type { ForgivenessReport } from '../../core/schemas'
import { SAME_ORIGIN } from './desk'

test.describe.configure({ mode: 'serial', timeout: 150_000 })

// A Fides of its own: these tests turn a domain's addresses round.
let fides: TestFides
let page: Page
const at = (path: string) => fides.system.adminAddress + path
const visit = async (address: string) => {
  const { status, location } = await fides.visit(address)
  return { status, location }
}

test.beforeAll(async ({ browser }) => {
  test.setTimeout(120_000)
  fides = await TestFides.start({ fill: async (db) => void (await writeDemo(db)) })
  page = await (await browser.newContext({ viewport: { width: 1280, height: 800 }, reducedMotion: 'reduce' })).newPage()
  expect(
    (
      await page.request.post(at('/api/v1/session'), {
        headers: SAME_ORIGIN,
        data: { email: 'admin@portansel.example', password: DEMO_PASSWORD },
      })
    ).status(),
  ).toBe(200)
})
test.afterAll(() => fides?.stop())

/** Chooses an option; on a busy machine one that is clicked while its list still opens is not taken. */
const choose = (label: string, option: string) =>
  expect(async () => {
    const select = page.locator('.v-select', { has: page.getByRole('combobox', { name: label, exact: true }) })
    if (!(await select.getByText(option, { exact: true }).isVisible())) {
      if ((await page.getByRole('option').count()) === 0) await select.click({ timeout: 2000 })
      await page.getByRole('option', { name: option, exact: true }).click({ timeout: 2000 })
    }
    await expect(select.getByText(option, { exact: true })).toBeVisible({ timeout: 1000 })
    // The next list of options would otherwise stand beside this one while it closes.
    if ((await page.getByRole('option').count()) > 0) await page.keyboard.press('Escape')
    await expect(page.getByRole('option')).toHaveCount(0, { timeout: 1000 })
  }).toPass({ timeout: 30_000 })

test('capitals from matter to do not: clashes are shown with visits and placements, and settled', async () => {
  await page.goto(at('/domains/2?tab=slug-rules'))
  await page.getByRole('checkbox', { name: 'Case-sensitive' }).click()
  await expect(page.getByText('3 addresses would be shared; choose the link that keeps each')).toBeVisible()
  const review = page.getByRole('region', { name: 'Effect on existing links' })
  await expect(review.getByText('1 placement, 20 copies, cannot be changed').first()).toBeVisible()
  const save = page.getByRole('button', { name: 'Save', exact: true })
  await expect(save).toBeDisabled()
  await choose('Decision for Jobs', 'Rename')
  await review.getByRole('textbox', { name: 'New slug' }).fill('job-fair')
  await choose('Decision for Press', 'Merge into another')
  await choose('Decision for Drive', 'End')
  await review.getByRole('checkbox', { name: /Keep all undecided/ }).check()
  await page.getByRole('textbox', { name: 'Reason (kept in the ledger)' }).fill('Posters are set in capitals')
  await expect(save).toBeEnabled({ timeout: 40_000 })
  await save.click()
  await expect(page.getByRole('status').filter({ hasText: 'Saved the slug rules' })).toBeVisible()
  await expect
    .poll(() => visit('go.portansel.example/JOBS'))
    .toMatchObject({ location: 'https://careers.portansel.example/openings' })
  expect(await visit('go.portansel.example/job-fair')).toMatchObject({
    location: 'https://events.portansel.example/job-fair',
  })
  expect(await visit('go.portansel.example/PRESS')).toMatchObject({
    location: 'https://media.portansel.example/releases/latest',
  })
  await page.goto(at('/register?q=go.portansel.example/press'))
  await expect(page.getByRole('row').filter({ hasText: 'also Press' })).toBeVisible()
})

test('a rule says whom it hides and is hidden by, with a witness; keyboard and drag both reorder', async () => {
  await page.goto(at('/domains/1?tab=rules'))
  const form = page.getByRole('dialog')
  const make = async (pattern: string, destination: string) => {
    await page.getByRole('button', { name: 'New rule' }).click()
    await form.getByRole('textbox', { name: 'Pattern' }).fill(pattern)
    await form.getByRole('textbox', { name: 'Destination' }).fill(destination)
    await form.getByRole('button', { name: 'Create rule' }).click()
  }
  // A family that a link of its own stands in.
  await make('/muse*', 'https://museums.example/{0}')
  await expect(form.getByText('seems meant for ansl.example/museum as well')).toBeVisible()
  await expect(form.getByRole('link', { name: 'ansl.example/museum' })).toBeVisible()
  await form.getByRole('textbox', { name: 'Reason for saving anyway' }).fill('museums to come')
  await form.getByRole('button', { name: 'Create rule' }).click()
  await expect(form).toHaveCount(0)
  await expect.poll(() => visit('ansl.example/muses')).toMatchObject({ location: 'https://museums.example/s' })

  // A rule that is never reached behind it; the bench tells which of them takes an address.
  await page.getByRole('button', { name: 'New rule' }).click()
  await form.getByRole('textbox', { name: 'Pattern' }).fill('/muse-:name')
  await form.getByRole('textbox', { name: 'Destination' }).fill('https://{name}.example/')
  await form.getByRole('textbox', { name: 'Addresses' }).fill('/muse-clio\n/fares')
  await expect(form.getByText('Captures may stand only after the host')).toBeVisible()
  await form.getByRole('textbox', { name: 'Destination' }).fill('https://muses.example/{name}')
  await expect(form.getByText('https://museums.example/-clio')).toBeVisible()
  const reach = form.getByRole('region', { name: 'What this rule matches' })
  await expect(reach.getByText('Never applies: earlier rules match all of it.')).toBeVisible()
  await expect(reach.getByRole('listitem').filter({ hasText: 'matches all its addresses first' })).toContainText(
    '/muse*',
  )
  // Past requests are put to it without being asked.
  await expect(form.getByText(/The last \d+ days, [\d,]+ requests/)).toBeVisible()
  await expect(form.getByText('link ansl.example/fares')).toBeVisible()
  await form.getByRole('button', { name: 'Create rule' }).click()
  await expect(form.getByText('Rule never applies.')).toBeVisible()
  const witness = await form.locator('.witness').first().innerText()
  expect((await visit(witness)).location).toMatch(/^https:\/\/museums\.example\//)
  await form.getByRole('textbox', { name: 'Reason for saving anyway' }).fill('it goes up next')
  await form.getByRole('button', { name: 'Create rule' }).click()
  await expect(form).toHaveCount(0)

  const patterns = () => page.locator('.pattern').allInnerTexts()
  const muses = () => patterns().then((all) => all.filter((text) => text.startsWith('/muse')))
  await expect.poll(muses).toEqual(['/muse*', '/muse-:name'])
  // The list says what is wrong, and the field which of them matches.
  const row = page.getByRole('listitem').filter({ has: page.getByRole('button', { name: '/muse-:name', exact: true }) })
  await expect(row.getByText(/^Never applies: rules \d+ and \d+ together match all its addresses first/)).toBeVisible()
  await page.getByRole('textbox', { name: 'Which rule matches an address?' }).fill('ansl.example/muse-clio')
  await expect(page.getByText(/Rule \d+ matches too, but comes later\./)).toBeVisible()
  await row.getByRole('button', { name: /^Move above rule \d+$/ }).click()
  await expect.poll(muses).toEqual(['/muse-:name', '/muse*'])
  const review = page.getByRole('region', { name: 'New order, not saved yet' })
  await expect(review.getByText('Resolved: Rule never applies.')).toBeVisible()
  await expect(review.getByText(/The last \d+ days, [\d,]+ requests/)).toBeVisible()
  await review.getByRole('button', { name: 'Cancel' }).click()
  await expect.poll(muses).toEqual(['/muse*', '/muse-:name'])

  await page.getByRole('button', { name: /^\/muse-:name, number/ }).focus()
  await page.keyboard.press('ArrowUp')
  await expect.poll(muses).toEqual(['/muse-:name', '/muse*'])
  await expect(page.getByRole('button', { name: /^\/muse-:name, number/ })).toBeFocused()
  expect(await visit('ansl.example/muse-clio')).toMatchObject({ location: 'https://museums.example/-clio' })
  // An order that is not saved is still there after a look elsewhere.
  await page
    .getByRole('navigation', { name: 'Of this domain' })
    .getByRole('link', { name: /^Fallbacks/ })
    .click()
  await page
    .getByRole('navigation', { name: 'Of this domain' })
    .getByRole('link', { name: /^Rules/ })
    .click()
  await expect.poll(muses).toEqual(['/muse-:name', '/muse*'])
  await review.getByRole('button', { name: 'Save order' }).click()
  await expect(review).toHaveCount(0)
  await expect.poll(() => visit('ansl.example/muse-clio')).toMatchObject({ location: 'https://muses.example/clio' })

  // Dragged back behind the other, it is hidden again, and that is said before it happens.
  const handle = await page.getByRole('button', { name: /^\/muse-:name, number/ }).boundingBox()
  const target = await page.getByRole('button', { name: /^\/muse\*, number/ }).boundingBox()
  await page.mouse.move(handle!.x + 8, handle!.y + 10)
  await page.mouse.down()
  await page.mouse.move(handle!.x + 8, handle!.y + 30, { steps: 4 })
  await page.mouse.move(target!.x + 8, target!.y + target!.height + 14, { steps: 8 })
  await page.mouse.up()
  await expect(review.getByText('New: Rule never applies.')).toBeVisible()
  await review.getByRole('button', { name: 'Save order' }).click()
  await expect(page.getByText('This would be in conflict')).toBeVisible()
  await page.getByRole('textbox', { name: 'Reason for saving anyway' }).fill('only to see')
  await review.getByRole('button', { name: 'Save anyway' }).click()
  await expect.poll(muses).toEqual(['/muse*', '/muse-:name'])
  await expect.poll(() => visit('ansl.example/muse-clio')).toMatchObject({ location: 'https://museums.example/-clio' })
})

test('a slug is explained while it is typed; a conflict asks for a reason', async () => {
  await page.goto(at('/register'))
  await expect(page.getByRole('row').nth(3)).toBeVisible()
  await page.keyboard.press('n')
  const form = page.getByRole('dialog')
  await form.getByRole('textbox', { name: 'Destination' }).fill('https://events.portansel.example/winter-market')
  await form.getByRole('button', { name: 'More options' }).click()
  await form.getByRole('textbox', { name: 'Title' }).fill('Winter market at the harbour')
  await form.getByRole('textbox', { name: 'Slug' }).fill('winterr')
  await expect(form.getByText('One typing error from')).toContainText('ansl.example/winter')
  await expect(form.getByText('Spoken form: Whiskey India November Tango Echo Romeo Romeo')).toBeVisible()
  await form.getByRole('button', { name: 'Create', exact: true }).click()
  await expect(form.getByText('This would be in conflict')).toBeVisible()
  await form.getByRole('button', { name: 'market', exact: true }).click()
  await expect(form.getByText('Available: ansl.example/market')).toBeVisible()
  await form.getByRole('button', { name: 'Create', exact: true }).click()
  await page.getByRole('link', { name: 'Open', exact: true }).click()
  await expect(page.getByRole('article', { name: 'ansl.example/market' })).toBeVisible()

  await page.getByRole('button', { name: 'More ▾' }).click()
  await page.getByText('Rename…', { exact: true }).click()
  await page.getByRole('dialog').getByRole('textbox', { name: 'Slug' }).fill('harbour-market')
  // What is said of a slug moves the button: it is there before the button is pressed.
  await expect(page.getByRole('dialog').getByText('Available: ansl.example/harbour-market')).toBeVisible()
  await expect(page.getByRole('dialog').getByText('Spoken form: Hotel Alfa')).toBeVisible()
  await page.getByRole('dialog').getByRole('button', { name: 'Rename', exact: true }).click()
  await expect(page.getByRole('article', { name: 'ansl.example/harbour-market' })).toContainText('ansl.example/market')
  await page.goto(at('/register?q=harbour-market'))
  await expect(page.getByRole('row').filter({ hasText: 'harbour-market' })).toContainText('also market')
  await expect
    .poll(() => visit('ansl.example/market'))
    .toMatchObject({ location: 'https://events.portansel.example/winter-market' })
})

test('forgiveness mends “Fares).” and the ledger says so', async () => {
  expect((await visit('ansl.example/Fares).')).status).toBe(404)
  // Requests are stored with the gateway's next batch.
  const report = async () => {
    const { parts } = (await (await page.request.get(at('/api/v1/domains/1/forgiveness'))).json()) as ForgivenessReport
    return parts.find(({ part }) => part === 'punctuation')
  }
  await expect.poll(async () => (await report())?.would).toBe(1)
  await page.goto(at('/domains/1?tab=slug-rules'))
  await expect(page.getByText('Would have corrected 1.')).toBeVisible()
  await page.getByRole('checkbox', { name: 'Punctuation at the end' }).click()
  await page.getByRole('button', { name: 'Save tolerant matching' }).click()
  await expect
    .poll(() => visit('ansl.example/Fares).'))
    .toEqual({ status: 307, location: 'https://www.portanseltransit.example/fares/2027' })
  await expect.poll(async () => (await report())?.did).toBeGreaterThan(0)
  await page.goto(at('/ledger'))
  const since = /It has corrected \d+ requests? since, the last one ansl\.example\/fares\)\./
  await expect(page.getByText(since)).toBeVisible()
})

test('a conflict on the docket is settled by a verified remedy, and a scan tells how far it is', async () => {
  await page.goto(at('/docket'))
  await page.getByRole('button', { name: /card and.*cards/ }).click()
  await expect(page.getByText('Tried on the register as it stands').first()).toBeVisible()
  await page.getByRole('button', { name: /more remed/ }).click()
  await page.getByRole('radio', { name: /Accept as is/ }).check()
  await expect(page.getByRole('button', { name: /Apply remedy/ })).toBeDisabled()
  await page.getByRole('textbox', { name: 'Reason' }).fill('The museum shop is known by it')
  await page.getByRole('button', { name: /Apply remedy/ }).click()
  await expect(page.getByText('Kept as it is.')).toBeVisible()
  await expect(page.getByRole('button', { name: /card and.*cards/ })).toHaveCount(0)
  await page.getByRole('button', { name: 'Scan for conflicts' }).click()
  await expect(page.getByText(/Scanned 1,2\d\d addresses, .*: \d+ conflicts\./)).toBeVisible()
})
