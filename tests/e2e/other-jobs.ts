import { expect, type Page } from '@playwright/test'
import { article, said, type Job } from './daily-jobs'
import { admin, visit } from './desk'

const button = (page: Page, name: string | RegExp) => page.getByRole('button', { name }).first()
const item = (page: Page, name: string) => page.locator('.v-overlay--active .v-list-item').filter({ hasText: name })
const field = (page: Page, name: string | RegExp) => page.getByRole('textbox', { name })
const heading = (name: string) => (page: Page) => expect(page.getByRole('heading', { name }).first()).toBeVisible()
const addressOf = async (page: Page, id: number) => {
  const { domain, slug } = await (await page.request.get(`${admin()}/api/v1/links/${id}`)).json()
  return [domain, `/${slug}`] as const
}

/** What people do a few times a week: each by keyboard alone. */
export const OTHER_JOBS: Job[] = [
  {
    name: 'make a link permanent and temporary again',
    before: 6,
    most: 4,
    from: '/links/3',
    ready: article,
    async work(hands, page) {
      const at = await addressOf(page, 3)
      for (const status of [301, 302]) {
        await hands.select(page.getByRole('combobox', { name: 'Redirect' }), String(status))
        await hands.use(button(page, /^Save/))
        await said(page, 'Saved')
        await expect.poll(async () => (await visit(...at)).status).toBe(status)
      }
    },
  },
  {
    name: 'pause, resume and end a link',
    before: 9,
    most: 7,
    from: '/links/3',
    ready: article,
    async work(hands, page) {
      await hands.use(button(page, 'Standing…'))
      await hands.choose(item(page, 'Pause'))
      await expect(field(page, /^Resumes/)).toBeFocused()
      await hands.press('Enter')
      await said(page, /^Paused/)
      await hands.use(button(page, 'Standing…'))
      await hands.choose(item(page, 'Resume'))
      await said(page, /^Live/)
      await hands.use(button(page, 'Standing…'))
      await hands.choose(item(page, 'End'))
      await said(page, /^Ended/)
    },
  },
  {
    name: 'record where a link is printed',
    before: 5,
    most: 5,
    from: '/links/2',
    ready: article,
    async work(hands, page) {
      await hands.use(
        page.getByRole('navigation', { name: 'Parts of this link' }).getByRole('link', { name: /^Placements/ }),
      )
      await hands.use(button(page, 'Add a placement'))
      await hands.fill(field(page, /^Medium/), 'Stop poster')
      await hands.fill(field(page, 'Place'), 'Quay 4')
      await hands.press('Enter')
      await expect(page.getByRole('region', { name: 'Placements' })).toContainText('Quay 4')
    },
  },
  {
    name: 'last week’s visits by country, as a file',
    before: 7,
    most: 5,
    from: '/traffic',
    ready: heading('Traffic'),
    async work(hands, page) {
      await hands.use(button(page, '7 days'))
      await hands.use(button(page, /^By link/))
      await hands.choose(item(page, 'Country'))
      await expect(page).toHaveURL(/by=country/)
      await hands.use(button(page, /^Export/))
      const download = page.waitForEvent('download')
      await hands.choose(item(page, 'CSV'))
      expect((await download).suggestedFilename()).toMatch(/\.csv$/)
    },
  },
  {
    name: 'compare the last week with a year before',
    before: 3,
    most: 3,
    from: '/traffic',
    ready: heading('Traffic'),
    async work(hands, page) {
      await hands.use(button(page, '7 days'))
      await hands.use(button(page, /^Compare:/))
      await hands.choose(item(page, 'same period last year'))
      await expect(page).toHaveURL(/compare=year/)
      await expect(page.getByText('same period last year').first()).toBeVisible()
    },
  },
  {
    name: 'settle what is certain among the not found, and undo it',
    before: 12,
    most: 4,
    from: '/misses',
    ready: (page) => expect(page.getByRole('row').nth(2)).toBeVisible(),
    async work(hands, page) {
      const open = async () => (await (await page.request.get(`${admin()}/api/v1/misses`)).json()).counts.open as number
      const before = await open()
      await hands.press('c')
      await hands.press('a')
      await hands.use(page.getByRole('dialog').getByRole('button', { name: /^Settle \d+$/ }))
      await said(page, /^\d+ addresses settled\./)
      expect(await open()).toBeLessThan(before - 1)
      await hands.press('u')
      await said(page, /^Undone: \d+ addresses/)
    },
  },
  {
    name: 'move all links from one host to another',
    before: 5,
    most: 5,
    from: '/changes/new',
    ready: heading('Change links'),
    async work(hands, page) {
      await hands.fill(field(page, 'Host'), 'harbourferries.example')
      await hands.use(button(page, 'Move a host'))
      await hands.fill(field(page, 'To host'), 'ferries.portansel.example')
      await hands.press('Enter')
      await hands.use(button(page, /^Change \d+ links$/))
      await expect(page.getByRole('link', { name: 'In the ledger' })).toBeVisible()
    },
  },
  {
    name: 'import 60 lines',
    before: 3,
    most: 3,
    from: '/exchange',
    ready: heading('Exchange'),
    async work(hands, page) {
      const lines = Array.from({ length: 60 }, (_, at) => `/jobs-line-${at} https://jobs.example/line/${at} 302`)
      await hands.fill(field(page, 'Or paste text'), lines.join('\n'))
      await hands.use(button(page, 'Read it'))
      await hands.use(button(page, /^Import 60 links/))
      await said(page, /^Imported/)
      await expect.poll(async () => (await visit('ansl.example', '/jobs-line-59')).status).toBe(302)
    },
  },
  {
    name: 'export a domain for nginx',
    before: 4,
    most: 2,
    from: '/exchange',
    ready: heading('Exchange'),
    async work(hands, page) {
      await hands.select(page.getByRole('combobox', { name: 'As', exact: true }), 'nginx')
      const download = page.waitForEvent('download')
      await hands.use(page.getByRole('link', { name: 'Download' }))
      expect((await download).suggestedFilename()).toMatch(/nginx|\.conf|\.zip/)
    },
  },
  {
    name: 'add a domain and read its zone',
    before: 8,
    most: 7,
    from: '/domains',
    ready: heading('Domains'),
    async work(hands, page) {
      await hands.use(button(page, 'Add a domain'))
      await hands.fill(field(page, 'Domain'), 'jobs.portansel.example')
      await hands.press('Enter')
      await hands.use(page.getByRole('dialog').getByRole('button', { name: /^Add/ }))
      await page.waitForURL(/\/domains\/\d+/)
      await hands.use(button(page, /zone…/))
      await hands.fill(
        field(page, 'Or paste it'),
        '$ORIGIN portansel.example.\n@ 3600 IN SOA ns1 admin 1 7200 900 1209600 300\n' +
          '@ 3600 IN NS ns1\nns1 IN A 192.0.2.53\n',
      )
      await hands.use(button(page, 'Read the file'))
      await said(page, /^Read the zone portansel\.example/)
    },
  },
  {
    name: 'make a rule',
    before: 5,
    most: 4,
    from: '/domains/1?tab=rules',
    ready: (page) => expect(page.getByRole('button', { name: '/archive/*', exact: true })).toBeVisible(),
    async work(hands, page) {
      await hands.use(button(page, 'New rule'))
      await hands.fill(field(page, 'Pattern'), '/jobs-hall/:id(\\d+)')
      await hands.fill(field(page, 'Destination'), 'https://jobs.example/halls/{id}')
      await hands.press('Enter')
      await said(page, 'Rule created: /jobs-hall/')
      await expect
        .poll(async () => (await visit('ansl.example', '/jobs-hall/7')).location)
        .toBe('https://jobs.example/halls/7')
    },
  },
  {
    name: 'see where an address led four weeks ago',
    before: 4,
    most: 4,
    from: '/ledger',
    ready: heading('Ledger'),
    async work(hands, page) {
      await hands.use(button(page, 'Look up past destination…'))
      await hands.fill(field(page, 'Short address'), '/fares')
      await hands.fill(field(page, /^Date and time/), '4 weeks ago')
      await hands.press('Enter')
      await expect(page.getByRole('region', { name: 'Past destination' }).getByRole('status')).toContainText(
        'ansl.example/fares',
      )
    },
  },
  {
    name: 'invite a member',
    before: 5,
    most: 3,
    from: '/settings',
    ready: heading('Members'),
    async work(hands, page) {
      await hands.fill(page.getByRole('textbox', { name: 'Name', exact: true }), 'Ines Job')
      await hands.fill(field(page, 'E-mail address'), 'ines.job@portansel.example')
      await hands.press('Enter')
      await expect(page.getByText('ines.job@portansel.example').first()).toBeVisible()
    },
  },
  {
    name: 'trace as a French visitor next week',
    before: 3,
    most: 3,
    from: '/trace?address=ansl.example/fares',
    ready: heading('ansl.example/fares'),
    async work(hands, page) {
      await hands.fill(field(page, /^Moment/), 'in 7 days')
      await hands.fill(field(page, /^Languages/), 'fr')
      await hands.press('Enter')
      await expect(page.getByText(/^As answered on .*, for a visitor with the languages fr$/)).toBeVisible()
      await expect(page).toHaveURL(/languages=fr/)
    },
  },
]
