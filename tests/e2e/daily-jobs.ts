import { expect, type Page } from '@playwright/test'
import { admin, visit } from './desk'
import type { Hands } from './hands'

/** Something people do at the desk every day. */
export interface Job {
  name: string
  /** Actions counted on the desk as it was at first. */
  before: number
  most: number
  /** Where the person is. */
  from: string
  ready(page: Page): Promise<void>
  work(hands: Hands, page: Page): Promise<void>
}

export const listed = (page: Page) => expect(page.getByRole('row').nth(3)).toBeVisible()
export const article = (page: Page) => expect(page.getByRole('article').first()).toBeVisible()
const clipboard = (page: Page) => page.evaluate(() => navigator.clipboard.readText())
export const said = (page: Page, text: string | RegExp) =>
  expect(page.getByRole('status').filter({ hasText: text }).first()).toBeVisible()
const openCases = async (page: Page) =>
  (await (await page.request.get(`${admin()}/api/v1/cases?lane=targets`)).json()).items.filter(
    ({ remark }: { remark: boolean }) => !remark,
  ) as { id: number; name: string }[]

/** Find, create, change, resolve: each by keyboard alone. */
export const DAILY_JOBS: Job[] = [
  {
    name: 'create a link and copy it',
    before: 7,
    most: 3,
    from: '/register',
    ready: listed,
    async work(hands, page) {
      await hands.press('n')
      await expect(page.getByRole('textbox', { name: 'Destination' })).toBeFocused()
      await hands.paste('https://jobs.example/created')
      await hands.press('Control+Enter')
      await said(page, /is created\. Its address is copied\./)
      expect(await clipboard(page)).toMatch(/^https:\/\/ansl\.example\/\S+$/)
    },
  },
  {
    name: 'create a link with its own slug',
    before: 7,
    most: 6,
    from: '/register',
    ready: listed,
    async work(hands, page) {
      await hands.press('n')
      await expect(page.getByRole('textbox', { name: 'Destination' })).toBeFocused()
      await hands.paste('https://jobs.example/own')
      await hands.press('Tab')
      await hands.press('Tab')
      await hands.type('jobs-own')
      await hands.press('Control+Enter')
      await said(page, 'ansl.example/jobs-own is created')
      expect(await clipboard(page)).toBe('https://ansl.example/jobs-own')
    },
  },
  {
    name: 'create several links from pasted lines',
    before: 21,
    most: 3,
    from: '/register',
    ready: listed,
    async work(hands, page) {
      await hands.press('n')
      await expect(page.getByRole('textbox', { name: 'Destination' })).toBeFocused()
      await hands.paste(
        'lanternjob https://jobs.example/a\nmusselbed https://jobs.example/b\nquaysong https://jobs.example/c\n',
      )
      await expect(page.getByRole('button', { name: 'Create 3 links' })).toBeVisible()
      await hands.press('Control+Enter')
      await said(page, '3 links are created.')
    },
  },
  {
    name: 'find and open a pasted address',
    before: 4,
    most: 3,
    from: '/docket',
    ready: (page) => expect(page.getByRole('heading', { name: 'Docket' })).toBeVisible(),
    async work(hands, page) {
      await hands.press('/')
      await hands.paste('“https://www.ansl.example/Fares/?utm_source=mail”\n')
      await expect(page.getByRole('option').first()).toContainText('Open link')
      await hands.press('Enter')
      await expect(page.getByRole('article', { name: 'ansl.example/fares' })).toBeVisible()
    },
  },
  {
    name: 'find a link by its title and open it',
    before: 4,
    most: 3,
    from: '/docket',
    ready: (page) => expect(page.getByRole('heading', { name: 'Docket' })).toBeVisible(),
    async work(hands, page) {
      await hands.press('/')
      await hands.type('Fares and tickets')
      await expect(page.getByRole('option').first()).toContainText('ansl.example/fares')
      await hands.press('Enter')
      await expect(page.getByRole('article', { name: 'ansl.example/fares' })).toBeVisible()
    },
  },
  {
    name: 'copy a link from the register',
    before: 3,
    most: 2,
    from: '/register',
    ready: listed,
    async work(hands, page) {
      await hands.press('j')
      await hands.press('c')
      await said(page, 'Copied https://')
      expect(await clipboard(page)).toMatch(/^https:\/\/[a-z.]+\.example\/\S+$/)
    },
  },
  {
    name: 'change a destination',
    before: 4,
    most: 4,
    from: '/links/3',
    ready: article,
    async work(hands, page) {
      const { domain, slug } = await (await page.request.get(`${admin()}/api/v1/links/3`)).json()
      await hands.press('e')
      await expect(page.getByRole('textbox', { name: 'Destination' })).toBeFocused()
      await hands.type('https://jobs.example/changed')
      await hands.press('Enter')
      await said(page, 'Saved')
      await expect.poll(async () => (await visit(domain, `/${slug}`)).location).toBe('https://jobs.example/changed')
    },
  },
  {
    name: 'settle the top case of a lane',
    before: 3,
    most: 2,
    from: '/docket?lane=targets',
    ready: article,
    async work(hands, page) {
      const before = await openCases(page)
      await hands.press('a')
      await expect.poll(async () => (await openCases(page)).length).toBeLessThan(before.length)
      // The next case has the focus.
      await expect(page.locator('.case[aria-current]')).toBeFocused()
    },
  },
  {
    name: 'undo what was just decided',
    before: 2,
    most: 1,
    from: '/docket?lane=targets',
    ready: article,
    async work(hands, page) {
      await hands.press('u')
      await said(page, /^Undone/)
    },
  },
  {
    name: 'set a case aside',
    before: 4,
    most: 3,
    from: '/docket?lane=domains',
    ready: article,
    async work(hands, page) {
      await hands.press('s')
      await expect(page.getByRole('textbox', { name: 'Reason' })).toBeFocused()
      await hands.type('Waits for the agency')
      await hands.press('Enter')
      await said(page, 'Set aside')
    },
  },
  {
    name: 'apply the morning round and undo it',
    before: 34,
    most: 3,
    from: '/docket',
    ready: (page) => expect(page.getByRole('region', { name: 'Morning round' })).toBeVisible(),
    async work(hands, page) {
      await hands.press('m')
      await expect(page.getByRole('button', { name: /^Apply \d+ fixes/ })).toBeEnabled()
      await hands.press('a')
      await expect(page.getByText(/fix(es)? applied/)).toBeVisible({ timeout: 30_000 })
      await hands.press('u')
      await said(page, 'Undone: morning round')
    },
  },
]
