import { expect, test, type Page } from '@playwright/test'
import { readFile } from 'node:fs/promises'
import { faults, widthOf } from './axe'
import { admin, SAME_ORIGIN, signInQuickly, visit } from './desk'

const PHONE =
  'Mozilla/5.0 (Linux; Android 10; K) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/130.0.0.0 Mobile Safari/537.36'
const COMPUTER = 'Mozilla/5.0 (X11; Linux x86_64; rv:132.0) Gecko/20100101 Firefox/132.0'

/** A link of its own, so that nobody else’s visits are among those counted. */
async function makeLink(page: Page, slug: string): Promise<{ id: number }> {
  const made = await page.request.post(admin() + '/api/v1/links', {
    data: { domain: 'ansl.example', slug, destination: `https://www.portansel.example/${slug}`, title: 'Counted' },
    headers: SAME_ORIGIN,
  })
  expect(made.status()).toBe(201)
  const link = (await made.json()) as { id: number }
  await expect
    .poll(async () => (await visit('ansl.example', `/${slug}`, { 'user-agent': 'Probe-bot/1.0' })).status)
    .toBe(302)
  return link
}

/** The rows of the table of groups: name, visits, people. */
const rowsOf = async (page: Page) =>
  (await page.getByRole('region', { name: 'Figures by group' }).locator('tbody tr').allInnerTexts()).map((row) =>
    row
      .split(/[\t\n]+/)
      .map((cell) => cell.trim())
      .filter(Boolean),
  )

test('visits arrive without a reload, are grouped, narrowed, compared and taken out, by mouse and by keyboard', async ({
  page,
}) => {
  test.setTimeout(150_000)
  await signInQuickly(page)
  const link = await makeLink(page, 'counted-here')
  await page.goto(`${admin()}/traffic?link=${link.id}&period=day&by=device`)
  await expect(page.getByRole('heading', { name: 'Traffic' })).toBeVisible()
  await expect(page.getByText('No visits match these filters in this period.')).toBeVisible()
  await expect(page.getByText(/in the last minute/)).toBeVisible()

  for (const language of ['pt', 'en', 'pt'])
    await visit('ansl.example', '/counted-here', { 'user-agent': PHONE, 'accept-language': language })
  await visit('ansl.example', '/counted-here', { 'user-agent': COMPUTER, 'accept-language': 'de' })
  await expect(page.getByRole('status').filter({ hasText: '4 visits' })).toBeVisible({ timeout: 30_000 })
  expect((await rowsOf(page)).map(([name, visits]) => [name, visits])).toEqual([
    ['Phone', '3'],
    ['Computer', '1'],
  ])

  // A row narrows everything to it; so does a second, of something else.
  await page.getByRole('button', { name: 'Phone' }).press('Enter')
  await expect(page.getByRole('button', { name: 'Remove filter: device Phone' })).toBeVisible()
  await expect(page.getByRole('status').filter({ hasText: '3 visits' })).toBeVisible()
  await page.getByRole('button', { name: /^By device/ }).press('Enter')
  await page
    .getByRole('option', { name: 'Language' })
    .or(page.getByText('Language', { exact: true }))
    .last()
    .click()
  await expect
    .poll(async () => (await rowsOf(page)).map(([name, visits]) => [name, visits]))
    .toEqual([
      ['Portuguese', '2'],
      ['English', '1'],
    ])
  await page.getByRole('button', { name: 'English' }).press('Enter')
  await expect(page.getByRole('status').filter({ hasText: '1 visits' })).toBeVisible()
  const address = page.url()
  await page.getByRole('button', { name: /^Remove filter: language/ }).press('Enter')
  await expect(page.getByRole('button', { name: /^Remove filter: language/ })).toHaveCount(0)
  await page.getByRole('button', { name: 'Remove filter: device Phone' }).press('Enter')
  await expect(page.getByRole('status').filter({ hasText: '4 visits' })).toBeVisible()
  // Whoever opens the address of a view sees it as it stood.
  await page.goto(address)
  await expect(page.getByRole('status').filter({ hasText: '1 visits' })).toBeVisible()

  // The whole of it, as a chart and as a table of the same figures, and as a file of them.
  await page.goto(`${admin()}/traffic?period=28`)
  await expect(page.getByText('none before', { exact: true })).toBeVisible()
  const total = Number(
    /([\d,]+) visits/
      .exec(await page.getByRole('status').filter({ hasText: 'visits' }).first().innerText())![1]!
      .replaceAll(',', ''),
  )
  expect(total).toBeGreaterThan(3)
  const chart = await page.getByRole('img', { name: /visits in 28 steps/ }).getAttribute('aria-label')
  expect(Number(/^([\d,]+) visits/.exec(chart!)![1]!.replaceAll(',', ''))).toBe(total)
  await page.getByRole('button', { name: 'As a table' }).press('Enter')
  const table = page.getByRole('region', { name: 'Visits over time, as a table' })
  const visits = await table.locator('tbody tr td:nth-child(2)').allInnerTexts()
  expect(visits).toHaveLength(28)
  const sum = visits.reduce((all, cell) => all + (Number(cell.replaceAll(',', '')) || 0), 0)
  // Visits go on coming meanwhile.
  expect(Math.abs(sum - total)).toBeLessThan(20)
  expect(await faults(page)).toEqual([])

  const download = page.waitForEvent('download')
  await page.getByRole('button', { name: /^Export/ }).press('Enter')
  await page.getByText('CSV', { exact: true }).click()
  const file = await readFile(await (await download).path(), 'utf8')
  const [head, ...lines] = file.trim().split('\r\n')
  expect(head).toBe('link,title,visits,people,visits before,change')
  const first = (await rowsOf(page))[0]!
  expect(lines[0]).toContain(first[0]!)
  expect(
    Math.abs(
      Number(lines[0]!.split(',').at(-4)) - Number(first.find((cell) => /^[\d,]+$/.test(cell))!.replaceAll(',', '')),
    ),
  ).toBeLessThan(20)
})

test('traffic is read in the dark, on a phone, and by country on a map', async ({ page }) => {
  test.setTimeout(90_000)
  await signInQuickly(page)
  await page.goto(admin() + '/traffic?by=country&period=28')
  await expect(page.getByRole('img', { name: /^Visits by country on a map/ })).toBeVisible()
  await expect(page.getByRole('button', { name: 'Unknown' })).toBeVisible()
  for (const colorScheme of ['dark', 'light'] as const) {
    await page.emulateMedia({ colorScheme, reducedMotion: 'reduce' })
    expect(await faults(page), colorScheme).toEqual([])
  }
  await page.setViewportSize({ width: 360, height: 740 })
  await expect.poll(() => widthOf(page)).toBeLessThanOrEqual(360)
  expect(await faults(page), 'on a phone').toEqual([])
  // A long host gives way; the slug and the figures stay.
  await visit('go.portansel.example', '/ferry', { 'user-agent': PHONE })
  await expect(async () => {
    await page.goto(admin() + '/traffic?by=link&period=28')
    await expect(page.getByTitle('Only go.portansel.example/ferry')).toBeVisible({ timeout: 5000 })
  }).toPass({ timeout: 60_000 })
  await expect.poll(() => widthOf(page)).toBeLessThanOrEqual(360)
  await page.setViewportSize({ width: 1280, height: 800 })
  await page.keyboard.press('g')
  await page.keyboard.press('d')
  await expect(page).toHaveURL(/docket/)
  await page.keyboard.press('g')
  await page.keyboard.press('t')
  await expect(page).toHaveURL(/traffic/)
})

test('an administrator says what is kept of visitors, and the text for the privacy page follows', async ({ page }) => {
  await signInQuickly(page)
  await page.goto(admin() + '/settings')
  await page.getByRole('link', { name: /^Privacy/ }).press('Enter')
  await expect(page.getByText('Your address is never kept.')).toBeVisible()
  const days = page.getByLabel('Keep visit records for (days)')
  await expect(days).toHaveValue('90')
  await days.fill('1')
  await days.press('Enter')
  await expect(page.getByText('At least 2 days.')).toBeVisible()
  await expect(days).toHaveValue('1')
  await days.fill('60')
  await days.press('Enter')
  await expect(page.getByText('Visit records are deleted after 60 days.')).toBeVisible()
  expect(await faults(page)).toEqual([])
  await days.fill('90')
  await days.press('Enter')
  await expect(page.getByText('Visit records are deleted after 90 days.')).toBeVisible()
})
