import { readFileSync } from 'node:fs'
import { expect, test, type Locator, type Page } from '@playwright/test'
import type { PlanView } from '../../core/schemas'
import { makeSetupTicket } from '../../server/usecases/people/setup'
import { TestFides } from '../system/fides'
import { Outside, top } from '../system/outside'

// docs/guide.md, step by step, on an installation in which there is nothing: what is pressed and filled in is found by
// the guide's own words.
test.describe.configure({ mode: 'serial', timeout: 240_000 })
const HOST = 'ansl.example'
const SEEN = { timeout: 60_000 }

/** The steps of the guide by their numbers: the words in bold, in their order. */
const STEPS = new Map(
  [...readFileSync('docs/guide.md', 'utf8').matchAll(/^(\d+)\. ((?:.|\n(?= +\S))*)/gm)].map(([, number, text]) => [
    Number(number),
    [...text!.matchAll(/\*\*([^*]+)\*\*/g)].map(([, words]) => words!.replace(/\s+/g, ' ')),
  ]),
)

let outside: Outside
let fides: TestFides
let page: Page
/** The lines the zone's keeper placed. */
let placed = ''
let serial = 2026111801
const serve = (lines: string) =>
  outside.world.put(`${HOST}.`, `${top(HOST).replace('2026111801', String(++serial))}${lines}`)
const at = (path: string) => fides.system.adminAddress + path

test.beforeAll(async ({ browser }) => {
  outside = await Outside.start(600)
  outside.world.put(`${HOST}.`, top(HOST))
  fides = await TestFides.start({
    bare: true,
    environment: (settings) => outside.environment(settings, { FIDES_TTL_SPEED: '600' }),
  })
  page = await (await browser.newContext({ viewport: { width: 1280, height: 800 }, reducedMotion: 'reduce' })).newPage()
})
test.afterAll(async () => {
  await fides?.stop()
  await outside?.stop()
})

const field = (words: string, within: Page | Locator = page) =>
  within.getByRole('textbox', { name: words, exact: true })
const press = (words: string, within: Page | Locator = page) =>
  within.getByRole('button', { name: words, exact: true }).click()
const section = (words: string) =>
  page
    .getByRole('navigation', { name: 'Sections' })
    .getByRole('link', { name: new RegExp(`^${words}`) })
    .click()
/** The words in bold of a step, of which there must be so many. */
function words(step: number, count: number): string[] {
  const bold = STEPS.get(step) ?? []
  expect(bold, `step ${step} of docs/guide.md`).toHaveLength(count)
  return bold
}

test('the guide has the steps that are followed here', () => {
  expect([...STEPS.keys()]).toEqual([1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12])
})

test('the first hour: an administrator, a domain, its records, and its opening', async () => {
  const [organisation, name, email, password, setUp] = words(1, 5)
  await page.goto(at(`/set-up?ticket=${await makeSetupTicket(fides.db)}`))
  await field(organisation!).fill('Port Ansel Transit')
  await field(name!).fill('Ines Caldwell')
  await field(email!).fill('ines@portansel.example')
  await page.getByLabel(password!).first().fill('tram lantern mussel quay')
  await press(setUp!)
  await expect(page.getByRole('heading', { name: 'Settings' })).toBeVisible()

  const [domains, add, domain, check, really] = words(2, 5)
  await section(domains!)
  await press(add!)
  const dialog = page.getByRole('dialog')
  await field(domain!, dialog).fill(HOST)
  await press(check!, dialog)
  await press(really!, dialog)
  await expect(page.getByRole('heading', { name: HOST })).toBeVisible()

  const [hand, close] = words(3, 2)
  await press(hand!)
  await expect(field('Text', dialog)).toHaveValue(/ IN TXT "fides=/)
  await press(close!, dialog)

  // The person who keeps the zone places what the text says.
  const { records } = (await (await page.request.get(at('/api/v1/domains/1/plan'))).json()) as PlanView
  const lines = records.map(({ forms, ttl, type, data }) => `${forms.absolute} ${ttl} IN ${type} ${data}`)
  placed = `${lines.join('\n')}\n`
  serve(placed)

  const [again, open] = words(4, 2)
  const step = (title: string) => page.getByRole('listitem').filter({ hasText: title })
  await press(again!)
  await expect(step('Verify ownership').getByLabel('done')).toBeVisible(SEEN)
  await expect(step('Wait for old answers to expire').getByLabel('done')).toBeVisible(SEEN)
  await press(open!)
  await expect(page.getByText(`${HOST} is open`)).toBeVisible(SEEN)
})

test('the first hour: a link, a trace, a rule, another member', async () => {
  const [newLink, destination, slug, create] = words(5, 4)
  await press(newLink!)
  const dialog = page.getByRole('dialog')
  await field(destination!, dialog).fill('https://www.portanseltransit.example/fares')
  await field(slug!, dialog).fill('fares')
  await expect(dialog.getByText(`Available: ${HOST}/fares`)).toBeVisible()
  await press(create!, dialog)
  await expect.poll(async () => (await fides.visit(`${HOST}/fares`)).status).toBe(302)

  const [trace] = words(6, 1)
  await expect(dialog).toHaveCount(0)
  await page.keyboard.press('/')
  await page.keyboard.type(`${HOST}/fares`)
  await page.getByRole('option').filter({ hasText: trace! }).click()
  await expect(page.getByText('https://www.portanseltransit.example/fares').first()).toBeVisible()

  const [domains, rules, newRule, pattern, to, createRule] = words(7, 6)
  await section(domains!)
  await page.getByRole('link', { name: HOST }).click()
  await page.getByRole('navigation', { name: 'Of this domain' }).getByRole('link', { name: rules! }).last().click()
  await press(newRule!)
  await field(pattern!, dialog).fill('/stop/:id')
  await field(to!, dialog).fill('https://live.portansel.example/{id}')
  await expect(dialog.getByText('No link and no other rule matches any of its addresses.')).toBeVisible()
  await press(createRule!, dialog)
  await expect
    .poll(async () => (await fides.visit(`${HOST}/stop/4417`)).location)
    .toBe('https://live.portansel.example/4417')

  const [account, settings, name, email, invite] = words(8, 5)
  await press(account!)
  await page.getByRole('link', { name: settings!, exact: true }).click()
  await field(name!).fill('Tomas Vale')
  await field(email!).fill('tomas@portansel.example')
  await press(invite!)
  await expect(page.getByRole('listitem').filter({ hasText: 'Tomas Vale' })).toBeVisible()
})

test('a round a week: the docket tells what broke and settles it, traffic, ledger, a copy', async () => {
  const [docket] = words(9, 1)
  // Somebody takes the records out of the zone by mistake, and puts them back.
  serve('')
  await section(docket!)
  const broken = page.getByRole('article', { name: new RegExp(`^${HOST}: .*(gone|missing)`) })
  await expect(broken).toBeVisible(SEEN)
  serve(placed)
  await expect(broken).toHaveCount(0, SEEN)

  const [traffic] = words(10, 1)
  await section(traffic!)
  await expect(page.getByRole('heading', { name: 'Traffic' })).toBeVisible()

  const [ledger, undo] = words(11, 2)
  await section(ledger!)
  await page.getByRole('textbox', { name: /^Search address/ }).fill('/stop/:id')
  await page.getByRole('button', { name: new RegExp(`^${undo}: Created rule`) }).click()
  await expect.poll(async () => (await fides.visit(`${HOST}/stop/4417`)).status).toBe(404)

  const [exchange, download] = words(12, 2)
  await section(exchange!)
  const file = page.waitForEvent('download')
  await page.getByRole('link', { name: download!, exact: true }).click()
  expect(readFileSync(await (await file).path(), 'utf8')).toContain('https://www.portanseltransit.example/fares')
})
