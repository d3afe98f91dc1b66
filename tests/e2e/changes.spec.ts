import { expect, test, type Page } from '@playwright/test'
import { faults, widthOf } from './axe'
import { admin, mailbox, signInQuickly, visit } from './desk'

/** Who comes as a browser counts; all else is taken for a robot. */
const BROWSER = { 'user-agent': 'Mozilla/5.0 (X11; Linux x86_64; rv:132.0) Gecko/20100101 Firefox/132.0' }
const TO = 'ferries.portansel.example'
const rowOf = (page: Page, slug: string) => page.getByRole('row').filter({ hasText: slug })

/** Proposes to move the ferries' host, by keyboard where that is quicker, and waits until it is worked out. */
async function proposeMove(page: Page, reason: string) {
  await page.goto(admin() + '/changes/new')
  await page.getByRole('radio', { name: 'Links to a host' }).check()
  await page.getByRole('textbox', { name: 'Host', exact: true }).fill('harbourferries.example')
  await page.getByRole('button', { name: 'Move a host' }).press('Enter')
  await page.getByRole('textbox', { name: 'To host' }).fill(TO)
  await page.getByRole('textbox', { name: 'Reason' }).fill(reason)
  await page.keyboard.press('Enter')
  await page.waitForURL(/\/changes\/\d+$/)
  await expect(page.getByRole('button', { name: /^Change \d+ links$/ })).toBeVisible()
}

test('a partner’s host is moved for all its links: seen first, replayed, made, undone as one', async ({ page }) => {
  await signInQuickly(page)
  let before = await visit('go.portansel.example', '/ferry')
  for (let more = 0; more < 3; more++) before = await visit('go.portansel.example', '/ferry', BROWSER)
  expect(before.location).toContain('harbourferries.example')
  await proposeMove(page, 'The ferries move')
  await expect(rowOf(page, '/ferry').first()).toContainText(`https://${TO}/?ref=pat-04`)
  expect(await faults(page)).toEqual([])

  // What visitors asked for just now may still be on its way to the database.
  await expect(async () => {
    await page.getByRole('button', { name: /^(Replay 28 days|Again)$/ }).click()
    await expect(page.getByText(/The last 28 days, [1-9][\d,]* requests/)).toBeVisible({ timeout: 20_000 })
    await expect(page.getByRole('button', { name: /^different destination/ })).toBeEnabled({ timeout: 100 })
  }).toPass({ timeout: 60_000 })
  await page.getByRole('button', { name: /^different destination/ }).click()
  await expect(page.getByText('go.portansel.example/ferry,')).toBeVisible()

  // One is left out; nobody's visit is another yet.
  await page.getByRole('checkbox', { name: 'Change ferries.example/tickets' }).uncheck()
  await expect(page.getByRole('button', { name: 'Left out 1' })).toBeVisible()
  expect(await visit('go.portansel.example', '/ferry')).toEqual(before)

  await page.getByRole('button', { name: /^Change \d+ links$/ }).click()
  await expect(page.getByRole('link', { name: 'In the ledger' })).toBeVisible()
  await expect
    .poll(async () => (await visit('go.portansel.example', '/ferry')).location)
    .toBe(before.location!.replace('harbourferries.example', TO))
  expect((await visit('ferries.example', '/tickets')).location).toContain('harbourferries.example')

  await page.getByRole('link', { name: 'In the ledger' }).click()
  await expect(page.getByText(`moves harbourferries.example to ${TO}`).first()).toBeVisible()
  await page.getByRole('button', { name: /^Undo/ }).first().click()
  await expect(page.getByRole('status').filter({ hasText: 'Undone' })).toBeVisible()
  await expect.poll(() => visit('go.portansel.example', '/ferry')).toEqual(before)
})

test('is set for a moment, made by itself, and told in the list and by mail', async ({ page }) => {
  await signInQuickly(page)
  await proposeMove(page, 'At its moment')
  await page.getByRole('checkbox', { name: 'Schedule' }).check()
  await expect(page.getByRole('button', { name: /^Change \d+ links$/ })).toBeDisabled()
  // The stand-ins know no such host: it is made all the same.
  await page.getByLabel(/^Date and time/).waitFor()
  const id = /changes\/(\d+)/.exec(page.url())![1]!
  const at = new Date(Date.now() + 20_000).toISOString()
  const proposal = await (await page.request.get(`${admin()}/api/v1/changes/${id}`)).json()
  await page.request.patch(`${admin()}/api/v1/changes/${id}`, {
    headers: { 'sec-fetch-site': 'same-origin', 'if-match': `"${proposal.version}"` },
    data: { at, stops: { broken: false, changed: true } },
  })
  await page.reload()
  await page.getByRole('button', { name: /^Set for/ }).click()
  await expect(page.getByText(/Scheduled for/)).toBeVisible()
  await page.goto(admin() + '/changes')
  await expect(page.getByText('Scheduled').first()).toBeVisible()
  await page.goto(`${admin()}/changes/${id}`)
  await expect(page.getByRole('link', { name: 'In the ledger' })).toBeVisible({ timeout: 45_000 })
  await expect
    .poll(async () => (await visit('go.portansel.example', '/ferry')).location, { timeout: 15_000 })
    .toContain(TO)
  // Who set it is told, and comes from the mail to where it can be undone.
  await expect(async () => {
    await page.goto(mailbox())
    await page.getByRole('link', { name: /^Made: \d+ links changed at / }).click({ timeout: 1000 })
  }).toPass({ timeout: 30_000 })
  await expect(page.getByText(`moves harbourferries.example to ${TO}`)).toBeVisible()
  await page
    .frameLocator('iframe')
    .getByRole('link', { name: /View or undo in the ledger/ })
    .waitFor()
  await page.goto(admin() + '/ledger')
  await page.getByRole('button', { name: /^Undo/ }).first().click()
  await expect(page.getByRole('status').filter({ hasText: 'Undone' })).toBeVisible()
})

test('keeps what was typed where something is missing, and fits a phone in light and dark', async ({ page }) => {
  await signInQuickly(page)
  await page.goto(admin() + '/register?q=ferry')
  await expect(page.getByRole('row').nth(2)).toBeVisible()
  await page.getByRole('link', { name: 'Change links…' }).click()
  await expect(page.getByRole('radio', { name: /^All links in the register: “ferry”/ })).toBeChecked()
  await page.getByRole('button', { name: 'Find and replace' }).click()
  await page.getByRole('textbox', { name: 'Find', exact: true }).fill('(')
  await page.getByRole('checkbox', { name: 'Regular expression' }).check()
  await page.getByRole('textbox', { name: 'Reason' }).fill('Kept')
  await page.getByRole('button', { name: 'Preview' }).click()
  await expect(page.getByText(/Not a valid RE2 expression/)).toBeVisible()
  await expect(page.getByRole('textbox', { name: 'Reason' })).toHaveValue('Kept')
  for (const colorScheme of ['light', 'dark'] as const) {
    await page.emulateMedia({ colorScheme, reducedMotion: 'reduce' })
    expect(await faults(page), colorScheme).toEqual([])
  }
  await page.setViewportSize({ width: 360, height: 740 })
  await expect.poll(() => widthOf(page)).toBeLessThanOrEqual(360)
  await page.setViewportSize({ width: 1280, height: 800 })
  await page.getByRole('checkbox', { name: 'Regular expression' }).uncheck()
  await page.getByRole('button', { name: 'Preview' }).click()
  await page.waitForURL(/\/changes\/\d+$/)
  await expect(page.getByRole('button', { name: /^Unchanged [1-9]/ })).toBeVisible()
  await page.setViewportSize({ width: 360, height: 740 })
  await expect.poll(() => widthOf(page)).toBeLessThanOrEqual(360)
  expect(await faults(page)).toEqual([])
})
