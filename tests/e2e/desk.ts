import { request as httpRequest } from 'node:http'
import { expect, type Page } from '@playwright/test'
import { DEMO_PASSWORD } from '../../server/database/seed/write-demo'

/** What a browser says of a page of the desk itself. */
export const SAME_ORIGIN = { 'sec-fetch-site': 'same-origin' }
export const admin = () => process.env.FIDES_E2E_ADMIN!
export const mailbox = () => process.env.FIDES_E2E_MAILBOX!
const gatewayPort = () => Number(process.env.FIDES_E2E_GATEWAY_PORT)

/** Signs in through the form, as a person does. */
export async function signIn(page: Page, email = 'admin@portansel.example'): Promise<void> {
  await page.goto(admin() + '/')
  await page.getByLabel('E-mail address').fill(email)
  await page.getByLabel('Password').fill(DEMO_PASSWORD)
  await page.getByRole('button', { name: 'Sign in' }).click()
  await expect(page.getByRole('heading', { name: 'Docket' })).toBeVisible()
}

/** Signs in by the API, where signing in is not the matter. */
export async function signInQuickly(page: Page, email = 'admin@portansel.example'): Promise<void> {
  const answer = await page.request.post(admin() + '/api/v1/session', {
    data: { email, password: DEMO_PASSWORD },
    headers: SAME_ORIGIN,
  })
  expect(answer.status()).toBe(200)
}

/** What the gateway answers a stranger. */
export function visit(
  host: string,
  path: string,
  more: Record<string, string> = {},
): Promise<{ status: number; location: string | undefined }> {
  return new Promise((resolve, reject) => {
    httpRequest({ host: '127.0.0.1', port: gatewayPort(), path, headers: { host, ...more } }, (response) => {
      response.resume().on('end', () => resolve({ status: response.statusCode!, location: response.headers.location }))
    })
      .on('error', reject)
      .end()
  })
}
