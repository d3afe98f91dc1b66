import { expect, test, type Page } from '@playwright/test'
import type { Link } from '../../core/schemas'
import { admin, SAME_ORIGIN, signInQuickly, visit } from './desk'

/** Makes a link, or changes the one given, past the forms: they are not the subject here. */
async function put(page: Page, data: Record<string, unknown>, link?: Link): Promise<Link> {
  const answer = link
    ? await page.request.patch(`${admin()}/api/v1/links/${link.id}`, {
        headers: { ...SAME_ORIGIN, 'if-match': `"${link.version}"` },
        data,
      })
    : await page.request.post(`${admin()}/api/v1/links`, { headers: SAME_ORIGIN, data })
  expect(answer.status(), await answer.text()).toBeLessThan(300)
  return (await answer.json()) as Link
}

test('an address is traced for two moments, told apart in one table, by an address that can be passed on', async ({
  page,
}) => {
  await signInQuickly(page)
  const endsAt = new Date(Date.now() + 2 * 86_400_000).toISOString()
  await put(page, { domain: 'ansl.example', slug: 'e2e-moments', destination: 'https://today.example/', endsAt })
  await page.goto(admin() + '/trace?address=ansl.example/e2e-moments')
  await page.getByRole('button', { name: 'Compare with…' }).click()
  const compared = page.getByRole('region', { name: 'Compared' })
  await expect(compared.getByText('Both get the same answer.')).toBeVisible()
  await page.getByRole('textbox', { name: 'Other moment' }).fill('in 5 days')
  await page.getByRole('textbox', { name: 'Other moment' }).press('Enter')
  await expect(compared.getByText(/^They differ in status and location/)).toBeVisible()
  await expect(compared.getByRole('cell', { name: '410' })).toBeVisible()
  await expect(compared.getByRole('cell', { name: 'https://today.example/' })).toBeVisible()
  await expect(page).toHaveURL(/vsAt=/)
  await page.reload()
  await expect(compared.getByRole('cell', { name: '410' })).toBeVisible()
  await page.getByRole('button', { name: 'Stop comparing' }).click()
  await expect(compared).toHaveCount(0)
})

test('a past destination is looked up by its path and restored', async ({ page }) => {
  await signInQuickly(page)
  const found = await page.request.get(`${admin()}/api/v1/links?q=ansl.example/map`)
  const link = ((await found.json()) as { items: Link[] }).items.find(({ slug }) => slug === 'map')!
  const before = { location: link.destination }
  await put(page, { destination: 'https://after.example/', reason: 'by mistake' }, link)
  await expect.poll(() => visit('ansl.example', '/map')).toMatchObject({ location: 'https://after.example/' })
  await page.goto(admin() + '/ledger')
  await page.getByRole('button', { name: 'Look up past destination…' }).click()
  await page.getByRole('textbox', { name: 'Short address' }).fill('/map')
  await page.getByRole('textbox', { name: /^Date and time/ }).fill('yesterday 9:00')
  // At once: what reads dates may still be loading.
  await page.getByRole('textbox', { name: /^Date and time/ }).press('Enter')
  const past = page.getByRole('region', { name: 'Past destination' })
  await expect(past.getByRole('status')).toContainText('ansl.example/map')
  await page.getByRole('textbox', { name: /^Date and time/ }).fill('yesterday 10:00')
  await page.getByRole('button', { name: 'Look up', exact: true }).click()
  await expect(past.getByRole('status')).toContainText(', 10:00')
  await past.getByRole('button', { name: 'Restore the link as it was then' }).click()
  await expect(page.getByRole('status').filter({ hasText: 'As it was on' })).toBeVisible()
  await expect.poll(() => visit('ansl.example', '/map')).toMatchObject(before)
  // A second time there is nothing to bring back, and that is said.
  await past.getByRole('button', { name: 'Restore the link as it was then' }).click()
  await expect(past.getByText('All that can be set stands now as it stood then.')).toBeVisible()
})
