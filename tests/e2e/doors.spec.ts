import { expect, test, type Page } from '@playwright/test'
import { generateSync } from 'otplib'
import { faults, widthOf } from './axe'
import { admin, SAME_ORIGIN, signInQuickly } from './desk'
import { DEMO_PASSWORD } from '../../server/database/seed/write-demo'

const VIEWER = 'viewer@portansel.example'
test.use({ contextOptions: { reducedMotion: 'reduce' } })

/** The desk by a name: an address cannot have passkeys. */
const named = () => admin().replace('127.0.0.1', 'localhost')

async function signInTo(page: Page, email: string): Promise<void> {
  await page.goto(named() + '/sign-in')
  await page.getByLabel('E-mail address').fill(email)
  await page.getByLabel('Password').fill(DEMO_PASSWORD)
  await page.keyboard.press('Enter')
}

test('a passkey is added, asked for when signing in, and removed', async ({ page }) => {
  const devtools = await page.context().newCDPSession(page)
  await devtools.send('WebAuthn.enable')
  await devtools.send('WebAuthn.addVirtualAuthenticator', {
    options: {
      protocol: 'ctap2',
      transport: 'internal',
      hasResidentKey: true,
      hasUserVerification: true,
      isUserVerified: true,
      automaticPresenceSimulation: true,
    },
  })
  await signInTo(page, VIEWER)
  await expect(page.getByRole('heading', { name: 'Docket' }).or(page.getByRole('row').first()).first()).toBeVisible()
  await page.goto(named() + '/settings/account')
  await expect(page.getByText('Not set up. Your password alone gives access.')).toBeVisible()
  await page.getByLabel('Device name').fill('Test key')
  await page.keyboard.press('Enter')
  await expect(page.getByText('Store these recovery codes')).toBeVisible()
  await expect(page.getByText('Test key')).toBeVisible()
  expect(await faults(page)).toEqual([])

  await page.getByRole('button', { name: 'Account and settings' }).click()
  await page.getByRole('button', { name: 'Sign out' }).click()
  await signInTo(page, VIEWER)
  await page.getByRole('button', { name: 'Use a passkey' }).click()
  await expect(page).toHaveURL(({ pathname }) => pathname === '/register')
  await page.goto(named() + '/settings/account')
  await expect(page.getByText('Signed in').first()).toBeVisible()
  await page.getByRole('button', { name: 'Remove Test key' }).click()
  await expect(page.getByText('Not set up')).toBeVisible()
})

test('an authenticator is added by keyboard, asked for, and removed after a proof', async ({ page }) => {
  await signInQuickly(page, VIEWER)
  await page.goto(admin() + '/settings/account')
  await page.getByRole('button', { name: 'Add an authenticator' }).focus()
  await page.keyboard.press('Enter')
  const secret = (await page.locator('code.secret').textContent())!.replaceAll(' ', '')
  const code = (steps: number) => generateSync({ secret, epoch: Math.floor(Date.now() / 1000) + steps * 30 })
  await page.getByLabel('Six-digit code').fill('000000')
  await page.keyboard.press('Enter')
  await expect(page.getByText('This code is not right')).toBeVisible()
  await page.getByLabel('Six-digit code').fill(code(-1))
  await page.keyboard.press('Enter')
  await expect(page.getByText('Store these recovery codes')).toBeVisible()
  const recovery = (await page.locator('.codes li').first().textContent())!

  await page.context().clearCookies()
  await page.goto(admin() + '/sign-in')
  await page.getByLabel('E-mail address').fill(VIEWER)
  await page.getByLabel('Password').fill(DEMO_PASSWORD)
  await page.keyboard.press('Enter')
  await expect(page.getByLabel('Six digits from your authenticator')).toBeFocused()
  expect(await faults(page)).toEqual([])
  await page.getByLabel('Six digits from your authenticator').fill(code(0))
  await page.keyboard.press('Enter')
  await expect(page).toHaveURL(({ pathname }) => pathname === '/register')

  // A quarter of an hour later it is asked for again.
  const once = { times: 1 }
  await page.route(
    '**/api/v1/account/code',
    async (route) => {
      await route.fulfill({
        status: 403,
        contentType: 'application/problem+json',
        body: JSON.stringify({
          type: 'about:blank',
          title: 'Confirm',
          status: 403,
          detail: 'x',
          confirm: ['code', 'recovery'],
        }),
      })
    },
    once,
  )
  await page.goto(admin() + '/settings/account')
  await page.getByRole('button', { name: 'Remove authenticator' }).click()
  await expect(page.getByRole('heading', { name: 'Confirm your identity' })).toBeVisible()
  await page.getByRole('button', { name: 'Use a recovery code' }).click()
  await page.getByLabel('Recovery code').fill(recovery)
  await page.keyboard.press('Enter')
  await expect(page.getByText('Not set up')).toBeVisible()
})

test('a member is invited, chooses a password at the one-time address, and is in', async ({ page, browser }) => {
  await signInQuickly(page)
  await page.goto(admin() + '/settings')
  await page.getByLabel('Name', { exact: true }).fill('Rosa Quay')
  await page.getByLabel('E-mail address').fill('rosa@portansel.example')
  await page.getByRole('button', { name: 'Invite member' }).click()
  const address = (await page.locator('code.address').textContent())!
  const guest = await (await browser.newContext({ reducedMotion: 'reduce' })).newPage()
  await guest.goto(address)
  await expect(guest.getByText('Choose the password for Rosa Quay')).toBeVisible()
  await guest.getByLabel('New password').fill('qwertyuiop')
  await expect(guest.getByText('too easy to guess')).toBeVisible()
  expect(await faults(guest)).toEqual([])
  await guest.getByLabel('New password').fill('ferry otter umbrella nine')
  await expect(guest.getByText(/hard to guess\.$/)).toBeVisible()
  await guest.keyboard.press('Enter')
  await expect(guest.getByRole('heading', { name: 'Docket' })).toBeVisible()
  await guest.goto(address)
  await guest.reload()
  await expect(guest.getByText('has been used or has expired')).toBeVisible()
  await guest.context().close()
})

test('at 360 px the account and a one-time address keep to the edge', async ({ page }) => {
  await page.setViewportSize({ width: 360, height: 740 })
  await signInQuickly(page)
  for (const path of ['/settings/account', '/settings', '/welcome#nothing']) {
    await page.goto(admin() + path)
    await expect(page.getByRole('heading').first()).toBeVisible()
    await page.waitForLoadState('networkidle')
    await expect.poll(() => widthOf(page)).toBeLessThanOrEqual(360)
  }
})

test('a page of another site cannot change anything with the cookie', async ({ page }) => {
  await signInQuickly(page)
  const refused = await page.request.post(admin() + '/api/v1/links', {
    data: {},
    headers: { 'sec-fetch-site': 'cross-site' },
  })
  expect(refused.status()).toBe(403)
  const taken = await page.request.post(admin() + '/api/v1/links', { data: {}, headers: SAME_ORIGIN })
  expect(taken.status()).toBe(422)
})
