import { expect, test, type Page } from '@playwright/test'
import { faults, widthOf } from './axe'
import { admin, mailbox, signInQuickly } from './desk'

/** A page as it is read in light and dark, and on a phone. */
async function fits(page: Page) {
  for (const colorScheme of ['dark', 'light'] as const) {
    await page.emulateMedia({ colorScheme, reducedMotion: 'reduce' })
    expect(await faults(page), colorScheme).toEqual([])
  }
  await page.setViewportSize({ width: 360, height: 740 })
  await expect.poll(() => widthOf(page)).toBeLessThanOrEqual(360)
  expect(await faults(page), 'on a phone').toEqual([])
  await page.setViewportSize({ width: 1280, height: 800 })
}

test('a member says what they are told, sees a trial mail come, and stops mails from outside', async ({
  page,
  browser,
}) => {
  test.setTimeout(120_000)
  await signInQuickly(page)
  await page.goto(admin() + '/settings')
  await page.getByRole('link', { name: /^Notifications/ }).click()
  const many = page.getByLabel('Urgent from (visits a day)')
  await expect(many).toHaveValue('50')
  await fits(page)
  await many.fill('some')
  await many.press('Enter')
  await expect(page.getByText('What is told at once: a whole number of visits a day.')).toBeVisible()
  await expect(many).toHaveValue('some')
  await many.fill('0')
  await page.getByLabel('No mail at some hours').press('Space')
  await many.press('Enter')
  await expect(page.getByRole('status').filter({ hasText: 'Saved: notifications' })).toBeVisible()

  await page.getByRole('button', { name: 'Send test e-mail' }).press('Enter')
  await expect(async () => {
    await page.getByRole('button', { name: 'Refresh' }).click()
    await expect(page.getByRole('listitem').filter({ hasText: 'Test e-mail' })).toContainText('Sent', { timeout: 500 })
  }).toPass()
  const mails = async () =>
    (await (await page.request.get(mailbox() + '/mails.json')).json()) as { subject: string; text: string }[]
  const subjects = (await mails()).map(({ subject }) => subject)
  expect(subjects).toContain('Test e-mail from Fides for Port Ansel Transit')

  // Whatever harms nobody in particular is many by now: its mails stop mails without anybody signing in.
  const stopIn = ({ text }: { text: string }) => /http:\S+\/stop-mails\?key=\S+/.exec(text)?.[0]
  await expect.poll(async () => (await mails()).some(stopIn), { timeout: 45_000 }).toBe(true)
  const stop = (await mails()).map(stopIn).find((address) => address !== undefined)!
  const stranger = await (await browser.newContext()).newPage()
  await stranger.goto(stop.slice(0, -3) + 'AAA')
  await stranger.getByRole('button', { name: 'Stop these mails' }).click()
  await expect(stranger.getByText(/Invalid unsubscribe link/)).toBeVisible()
  await stranger.goto(stop)
  await stranger.getByRole('button', { name: 'Stop these mails' }).press('Enter')
  await expect(stranger.getByText(/^Unsubscribed\./)).toBeVisible()
  expect(await faults(stranger)).toEqual([])
  await stranger.close()
  await page.reload()
  await expect(page.getByLabel('Notify me immediately of urgent cases')).not.toBeChecked()
  // As a mail program does it (RFC 8058): by one POST, from nowhere in particular.
  const clicked = await page.request.post(stop.replace('/stop-mails', '/api/v1/stop-mails'), {
    headers: { 'content-type': 'application/x-www-form-urlencoded', cookie: '' },
    data: 'List-Unsubscribe=One-Click',
  })
  expect(clicked.status()).toBe(204)
})

test('a secret address gives the dates to a program that is not signed in', async ({ page, request }) => {
  await signInQuickly(page)
  await page.goto(admin() + '/settings/notices')
  await page.getByRole('button', { name: /^(?:Create address|Replace): Calendar of dates$/ }).click()
  const address = await page.locator('code.secret').innerText()
  const calendar = await request.get(address, { headers: { cookie: '' } })
  expect(calendar.headers()['content-type']).toBe('text/calendar; charset=utf-8')
  expect(await calendar.text()).toContain('BEGIN:VEVENT')
  await page.getByRole('button', { name: 'Delete: Calendar of dates' }).click()
  await expect(page.getByRole('button', { name: 'Create address: Calendar of dates' })).toBeVisible()
  expect((await request.get(address)).status()).toBe(404)
})

test('days are noted at a link, stand in the month, and are ticked off', async ({ page }) => {
  await signInQuickly(page)
  await page.goto(admin() + '/dates')
  await expect(page.getByRole('link', { name: /ansl\.example\/museum: review/ })).toBeVisible()
  await fits(page)
  await page.keyboard.press('j')
  await expect(page).toHaveURL(/month=\d{4}-\d{2}/)
  await page.keyboard.press('k')
  await page.getByRole('link', { name: /ansl\.example\/museum: review/ }).click()
  await expect(page.getByRole('heading', { name: 'Days · 1' })).toBeVisible()
  await page.getByRole('button', { name: 'Add a date' }).press('Enter')
  await page.getByRole('button', { name: 'Add date' }).click()
  await expect(page.getByText('Enter a day, such as 2026-12-24.')).toBeVisible()
  await page.getByLabel('Date', { exact: true }).fill('2027-05-01')
  await page.getByLabel(/^Note, like/).fill('the summer hours')
  await page.keyboard.press('Enter')
  await expect(page.getByText('Sat 1 May 2027')).toBeVisible()
  expect(await faults(page)).toEqual([])
  await page.getByRole('button', { name: 'Mark as done: Sat 1 May 2027' }).click()
  await expect(page.getByText('Sat 1 May 2027')).toBeHidden()
})

test('a webhook is made, tried, shown with what it was sent, rested and taken away', async ({ page }) => {
  await signInQuickly(page)
  await page.goto(admin() + '/settings/webhooks')
  await page.getByLabel('URL', { exact: true }).fill('hooks.example')
  await page.getByRole('button', { name: 'Create webhook' }).click()
  await expect(page.getByText(/^Give a web address like/)).toBeVisible()
  await page.getByLabel('URL', { exact: true }).fill('http://127.0.0.1:8123/hook')
  await page.keyboard.press('Enter')
  await expect(page.getByText(/^127\.0\.0\.1 is not a public address/)).toBeVisible()
  await page.getByLabel('URL', { exact: true }).fill('http://hooks.example/hook')
  await page.keyboard.press('Enter')
  await expect(page.getByText('whsec_')).toBeVisible()
  await page.getByRole('button', { name: 'Try http://hooks.example/hook' }).click()
  await expect(async () => {
    await page.getByRole('button', { name: 'Refresh' }).click()
    await expect(page.getByText(/◆ Failed \(/).first()).toBeVisible({ timeout: 500 })
  }).toPass()
  await page.getByRole('button', { name: 'Payload' }).click()
  await expect(page.getByText('"type": "trial"')).toBeVisible()
  await fits(page)
  await page.getByRole('button', { name: 'Disable http://hooks.example/hook' }).click()
  await expect(page.getByText(/✕ Disabled\./)).toBeVisible()
  await page.getByRole('button', { name: 'Delete http://hooks.example/hook' }).click()
  await expect(page.getByText('No webhooks')).toBeVisible()
})
