import { readdirSync, readFileSync } from 'node:fs'
import { expect, test, type Locator, type Page } from '@playwright/test'
import { admin, signInQuickly } from './desk'

/** Where a form is found, and the field that is typed into. */
interface Form {
  at: string
  /** Opens it, where it is not open by itself. */
  open?(page: Page): Promise<unknown>
  field: string
  /** What is typed; a text that the form would refuse is kept just the same. */
  text?: string
}

const press = (name: string | RegExp) => (page: Page) => page.getByRole('button', { name }).first().click()
const openMenu = (button: string | RegExp, item: string | RegExp) => async (page: Page) => {
  await page.getByRole('button', { name: button }).first().click()
  await page
    .getByRole('menuitem', { name: item })
    .or(page.locator('.v-list-item', { hasText: item }))
    .first()
    .click()
}

/** Every form of the desk in which something new is typed, by its file. */
const FORMS: Record<string, Form> = {
  'components/dates/LinkDays.vue': { at: '/links/2', open: press('Add a date'), field: 'Note, like' },
  'components/docket/SetAsideDialog.vue': { at: '/docket?lane=conflicts', open: press(/^Set aside…/), field: 'Reason' },
  'components/domain/AddDomainDialog.vue': { at: '/domains', open: press('Add a domain'), field: 'Domain' },
  'components/domain/BringZoneDialog.vue': { at: '/domains/1', open: press('Read the zone…'), field: 'Or paste it' },
  'components/domain/FallbacksForm.vue': { at: '/domains/1?tab=fallbacks', field: 'Not found' },
  'components/domain/OldPathsForm.vue': { at: '/domains/1?tab=old-paths', field: 'Or paste lines of it' },
  'components/domain/PagesForm.vue': { at: '/domains/1?tab=pages', field: 'Contact' },
  'components/domain/RenewalForm.vue': { at: '/domains/1?tab=renewal', field: 'Registrar' },
  'components/exchange/BringIn.vue': { at: '/exchange', field: 'Or paste text' },
  'components/link/AliasList.vue': { at: '/links/2', open: press('Add a slug…'), field: 'Slug' },
  'components/link/DestinationEditor.vue': { at: '/links/3', field: 'Destination', text: 'https://kept.example/' },
  'components/link/LinkDialog.vue': { at: '/register?link=4', open: (page) => page.keyboard.press('e'), field: 'Note' },
  'components/link/NewLinkDialog.vue': { at: '/register', open: (page) => page.keyboard.press('n'), field: 'Slug' },
  'components/link/PauseDialog.vue': { at: '/links/3', open: openMenu('Standing…', 'Pause…'), field: 'Resumes' },
  'components/link/PlacementList.vue': {
    at: '/links/2?tab=placements',
    open: press(/^Add a placement/),
    field: 'Place',
  },
  'components/link/RenameDialog.vue': { at: '/links/2', open: openMenu(/^More/, 'Rename…'), field: 'Reason' },
  'components/notices/NoticeSettings.vue': { at: '/settings/notices', field: 'Minimum visits affected', text: '12' },
  'components/notices/WebhookSettings.vue': { at: '/settings/webhooks', field: 'URL' },
  'components/rules/RuleDialog.vue': { at: '/domains/1?tab=rules', open: press('New rule'), field: 'Note' },
  'components/settings/CheckSettings.vue': { at: '/settings/checks', field: 'Contact for site owners' },
  'components/settings/MemberSettings.vue': { at: '/settings', field: 'Name' },
  'components/settings/PrivacySettings.vue': { at: '/settings/privacy', field: 'Keep visit records', text: '77' },
  'components/settings/TokenSettings.vue': { at: '/settings', field: 'Name of what uses it' },
  'components/slugs/SlugRulesForm.vue': { at: '/domains/1?tab=slug-rules', field: 'Reserved names' },
  'pages/changes/new.vue': { at: '/changes/new', field: 'Reason' },
}

/** Forms that need a world of their own, and the test that types into them. */
const ELSEWHERE: Record<string, string> = {
  'components/domain/UpdateKeyForm.vue': 'tests/e2e/domains.spec.ts',
  'components/misses/SettleDialog.vue': 'tests/e2e/misses.spec.ts',
}

/** Forms that keep nothing, and why. */
const WITHOUT: Record<string, string> = {
  'components/domain/HttpsForm.vue': 'nothing is typed: a switch and a choice, kept as the domain’s other forms are',
  'components/doors/AuthenticatorForm.vue': 'a code that is over in half a minute',
  'components/doors/OwnPassword.vue': 'a password is never stored',
  'components/doors/SecondFactor.vue': 'a code or a password is never stored',
  'components/doors/SecondFactors.vue': 'a name of one word, beside a key that must be touched at once',
  'components/domain/ZoneDialog.vue': 'a question that changes nothing',
  'components/exchange/AskBox.vue': 'there only while a file waits; its draft is of the kind of the others',
  'components/ledger/CompareMoments.vue': 'a question that changes nothing',
  'components/ledger/PastLookup.vue': 'a question that changes nothing',
  'components/shell/SignInAgain.vue': 'a password is never stored',
  'components/slugs/ForgivenessForm.vue': 'nothing is typed: choices, kept as the domain’s other forms are',
  'components/traffic/TrafficBar.vue': 'a question that changes nothing; the address keeps it',
  'pages/quick.vue': 'a window of its own that a bookmark opens with what it needs',
  'pages/set-up.vue': 'a password is never stored',
  'pages/sign-in.vue': 'a password is never stored',
  'pages/trace.vue': 'a question that changes nothing; the address keeps it',
  'pages/welcome.vue': 'a password is never stored',
}

const isKept = (page: Page, text: string) =>
  page.evaluate((wanted) => Object.values(sessionStorage).some((kept) => kept.includes(wanted)), text)

async function fieldOf(page: Page, { open, field }: Form): Promise<Locator> {
  const found = page.getByRole('textbox', { name: new RegExp(`^${field}`) }).locator('visible=true')
  // A form with a draft may be open already.
  await page.waitForLoadState('networkidle')
  if ((await found.count()) === 0) await open?.(page)
  await expect(found.first()).toBeVisible()
  return found.first()
}

test('every form of the code is typed into, or keeps nothing for a reason', () => {
  const files = readdirSync('app', { recursive: true, encoding: 'utf8' }).filter((file) => file.endsWith('.vue'))
  const forms = files.filter((file) => /<form\b/.test(readFileSync(`app/${file}`, 'utf8')))
  const known = [FORMS, ELSEWHERE, WITHOUT].flatMap((some) => Object.keys(some))
  expect(known.sort()).toEqual(forms.sort())
  for (const [file, spec] of Object.entries(ELSEWHERE)) expect(readFileSync(spec, 'utf8')).toContain(file)
})

/** Of each kind of draft one, in every run; the others by `npm run test:forms`. */
const ALWAYS = [
  'components/link/NewLinkDialog.vue',
  'components/link/PlacementList.vue',
  'components/link/RenameDialog.vue',
  'components/rules/RuleDialog.vue',
  'pages/changes/new.vue',
]

for (const [file, form] of Object.entries(FORMS).filter(([file]) => process.env.FIDES_MEASURE || ALWAYS.includes(file)))
  test(`${file} keeps what was typed: refused, failed, offline, Escape, a reload, Back`, async ({ page }) => {
    const text = form.text ?? `kept-${Object.keys(FORMS).indexOf(file)}`
    await signInQuickly(page)
    // The stream of live events never ends, and a page with it is never idle.
    await page.route('**/api/v1/traffic/events', (route) => route.abort())
    await page.goto(admin() + form.at)
    const field = await fieldOf(page, form)
    await field.fill(text)
    await expect.poll(() => isKept(page, text)).toBe(true)

    for (const status of [422, 500, 0]) {
      const refuse = async (route: Parameters<Parameters<Page['route']>[1]>[0]) => {
        if (route.request().method() === 'GET') return route.fallback()
        if (status === 0) return route.abort('internetdisconnected')
        const problem = { title: 'Refused', status, detail: 'Refused for a test.' }
        await route.fulfill({ status, contentType: 'application/problem+json', body: JSON.stringify(problem) })
      }
      await page.route('**/api/v1/**', refuse)
      await field.evaluate((element: HTMLInputElement) => element.form?.requestSubmit())
      await expect(field).toHaveValue(text)
      await page.unroute('**/api/v1/**', refuse)
    }

    await field.focus()
    await page.keyboard.press('Escape')
    expect(await isKept(page, text)).toBe(true)
    await page.reload()
    await expect(await fieldOf(page, form)).toHaveValue(text)
    await page.goto(admin() + '/ledger')
    await page.goBack()
    await expect(await fieldOf(page, form)).toHaveValue(text)
  })
