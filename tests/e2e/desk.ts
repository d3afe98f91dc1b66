import { createHash, randomBytes } from 'node:crypto'
import { request as httpRequest } from 'node:http'
import { expect, type Page } from '@playwright/test'
import mariadb from 'mariadb'
import { connectionConfig } from '../../environment/database-url'
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

/**
 * Begins a session past the form, where signing in is not the subject: comparing a password takes a second. By the
 * driver alone, as the models belong to whichever database was opened last.
 */
export async function signInQuickly(page: Page, email = 'admin@portansel.example'): Promise<void> {
  const word = randomBytes(32).toString('base64url')
  // The demo's database is its own: there, signing in takes its second.
  if (!process.env.FIDES_E2E_DATABASE) {
    const data = { email, password: DEMO_PASSWORD }
    const answer = await page.request.post(admin() + '/api/v1/session', { headers: SAME_ORIGIN, data })
    expect(answer.status()).toBe(200)
    return
  }
  const connection = await mariadb.createConnection(connectionConfig(process.env.FIDES_E2E_DATABASE!))
  try {
    await connection.query(
      `INSERT INTO session (hash, member_id, whole, agent, created_at, seen_at, confirmed_at)
       SELECT ?, id, TRUE, 'tests', UTC_TIMESTAMP(3), UTC_TIMESTAMP(3), UTC_TIMESTAMP(3) FROM member WHERE email = ?`,
      [createHash('sha256').update(word).digest('hex'), email],
    )
  } finally {
    await connection.end()
  }
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
