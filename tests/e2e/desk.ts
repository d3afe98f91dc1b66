import { request as httpRequest } from 'node:http'
import { expect, type Page } from '@playwright/test'
import { openDatabase, type Database } from '../../server/database/open'
import { DEMO_PASSWORD } from '../../server/database/seed/write-demo'
import { beginSession } from '../../server/usecases/people/sessions'

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

let database: Database | undefined

/** Begins a session past the form, where signing in is not the subject: comparing a password takes a second. */
export async function signInQuickly(page: Page, email = 'admin@portansel.example'): Promise<void> {
  const db = (database ??= openDatabase(process.env.FIDES_E2E_DATABASE!, { poolSize: 1 }))
  const member = (await db.Member.findOne({ where: { email } }))!
  const { word } = await beginSession(db, member, 'tests', true)
  // A host cookie is set for an address with https; a browser sends it to loopback without.
  const url = admin().replace('http:', 'https:')
  await page.context().addCookies([{ name: '__Host-fides', value: word, url, secure: true, httpOnly: true }])
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
