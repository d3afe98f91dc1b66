/// <reference types="chrome" />
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { createServer, request, type IncomingMessage, type Server, type ServerResponse } from 'node:http'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { chromium, expect, test, type BrowserContext, type Page, type Worker } from '@playwright/test'
import { buildExtension } from '../../scripts/build-extension'
import { faults } from './axe'
import { admin, SAME_ORIGIN, signInQuickly } from './desk'

const LONG = 'https://www.portansel.example/e2e/a-page-that-has-a-rather-long-address?season=winter'
const NEW = 'https://www.portansel.example/e2e/a-page-nobody-made-a-short-address-of'

/** A page that behaves as writing tools do: it keeps what is written from its events alone, and draws it anew. */
const PAGE = `<!doctype html><meta charset="utf-8"><title>Writing</title>
<link rel="stylesheet" href="/style.css"><script src="/script.js" defer></script>
<label for="plain">Letter</label><textarea id="plain" rows="4" cols="60"></textarea>
<label for="kept">Kept</label><textarea id="kept" rows="2" cols="60"></textarea>
<div id="rich" contenteditable="true" role="textbox" aria-label="Article"><p>First</p><p><b>Second</b></p></div>
<writing-part></writing-part><output id="saved"></output>`
const SCRIPT = `
const saved = {}
const save = (name, text) => {
  saved[name] = text
  document.getElementById('saved').textContent = JSON.stringify(saved)
}
for (const id of ['plain', 'kept']) {
  const field = document.getElementById(id)
  let state = ''
  field.addEventListener('input', () => {
    state = field.value
    save(id, state)
    if (id === 'kept') field.value = state
  })
}
document.getElementById('rich').addEventListener('input', (event) => save('rich', event.currentTarget.innerText))
customElements.define('writing-part', class extends HTMLElement {
  connectedCallback() {
    const root = this.attachShadow({ mode: 'open' })
    const part = Object.assign(document.createElement('div'), { contentEditable: 'true', id: 'inner' })
    part.setAttribute('role', 'textbox')
    part.setAttribute('aria-label', 'Inner')
    part.addEventListener('input', () => save('inner', part.innerText))
    root.append(part)
  }
})`
const POLICY = "default-src 'none'; script-src 'self'; style-src 'self'; require-trusted-types-for 'script'"

const listening = (server: Server) =>
  new Promise<string>((done) =>
    server.listen(0, '127.0.0.1', () => done(`http://127.0.0.1:${(server.address() as AddressInfo).port}`)),
  )

/** What was asked of the desk, in order. */
const asked: string[] = []
/** Passes everything on to the desk, and notes it. */
function passOn(coming: IncomingMessage, going: ServerResponse): void {
  const noted = {
    method: coming.method,
    url: coming.url,
    cookie: coming.headers.cookie,
    referrer: coming.headers.referer,
  }
  let body = ''
  coming.on('data', (piece: Buffer) => (body += piece.toString()))
  coming.on('end', () => {
    asked.push(JSON.stringify({ ...noted, body }))
    request(
      `${admin()}${coming.url}`,
      { method: coming.method, headers: { ...coming.headers, host: new URL(admin()).host } },
      (answer) => {
        going.writeHead(answer.statusCode!, answer.headers)
        answer.pipe(going)
      },
    ).end(body)
  })
}

const folder = mkdtempSync(join(tmpdir(), 'fides-extension-'))
const site = createServer((coming, going) => {
  const [type, text] =
    coming.url === '/script.js'
      ? ['text/javascript', SCRIPT]
      : coming.url === '/style.css'
        ? ['text/css', 'body { margin: 20px } textarea, [contenteditable] { display: block; margin: 8px 0 60px }']
        : ['text/html', PAGE]
  going.writeHead(200, { 'content-type': type, 'content-security-policy': POLICY }).end(text)
})
const desk = createServer(passOn)
let context: BrowserContext
let worker: Worker
let siteAddress: string
let deskAddress: string
let options: Page

async function tokenFor(email: string, scope: 'read' | 'write'): Promise<string> {
  const page = await context.newPage()
  await signInQuickly(page, email)
  const made = await page.request.post(`${admin()}/api/v1/tokens`, {
    data: { name: 'Browser', scope },
    headers: SAME_ORIGIN,
  })
  const { secret } = (await made.json()) as { secret: string }
  await context.clearCookies()
  await page.close()
  return secret
}

/** Saves the desk in the extension's settings. */
async function connect(token: string): Promise<void> {
  await options.getByLabel('Address of the desk').fill(deskAddress)
  await options.getByLabel(/^Token/).fill(token)
  await options.getByLabel(/^Domain/).fill('ansl.example')
  await options.getByRole('button', { name: 'Save' }).click()
}

test.beforeAll(async () => {
  siteAddress = await listening(site)
  deskAddress = await listening(desk)
  const built = join(folder, 'extension')
  await buildExtension(built)
  // Nobody is there to say yes to the browser: leave is given beforehand, for loopback alone.
  const manifest = JSON.parse(readFileSync(join(built, 'manifest.json'), 'utf8')) as object
  writeFileSync(join(built, 'manifest.json'), JSON.stringify({ ...manifest, host_permissions: ['http://127.0.0.1/*'] }))
  context = await chromium.launchPersistentContext(join(folder, 'profile'), {
    executablePath: '/usr/bin/chromium',
    ignoreDefaultArgs: ['--disable-extensions'],
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      `--disable-extensions-except=${built}`,
      `--load-extension=${built}`,
    ],
  })
  worker = context.serviceWorkers()[0] ?? (await context.waitForEvent('serviceworker'))
  options = await context.newPage()
  await options.goto(new URL('/options.html', worker.url()).href)
  const page = await context.newPage()
  await signInQuickly(page)
  const made = await page.request.post(`${admin()}/api/v1/links`, {
    data: { domain: 'ansl.example', slug: 'e2e-long', destination: LONG, reason: 'for a test' },
    headers: SAME_ORIGIN,
  })
  expect([201, 409]).toContain(made.status())
  await page.close()
})
test.afterAll(async () => {
  await context?.close()
  site.close()
  desk.close()
  rmSync(folder, { recursive: true, force: true })
})

const saved = async (page: Page): Promise<Record<string, string>> =>
  JSON.parse((await page.locator('#saved').textContent()) || '{}') as Record<string, string>

/** The strip's shadow tree is closed to the page, and to locators: its buttons are reached as a person reaches them. */
async function press(page: Page, name: RegExp): Promise<void> {
  const tree = await context.newCDPSession(page)
  const find = async () => {
    const { nodes } = (await tree.send('Accessibility.getFullAXTree')) as {
      nodes: { role?: { value: string }; name?: { value: string }; backendDOMNodeId?: number; ignored: boolean }[]
    }
    return nodes.find((node) => node.role?.value === 'button' && name.test(node.name?.value ?? ''))?.backendDOMNodeId
  }
  await expect.poll(find).toBeDefined()
  const { model } = await tree.send('DOM.getBoxModel', { backendNodeId: await find() })
  const [x, y] = [(model.border[0]! + model.border[4]!) / 2, (model.border[1]! + model.border[5]!) / 2]
  await page.mouse.click(x, y)
  await tree.detach()
}

/** What is read out on a page, strip and all. */
async function heard(page: Page): Promise<string> {
  const tree = await context.newCDPSession(page)
  const { nodes } = (await tree.send('Accessibility.getFullAXTree')) as { nodes: { name?: { value: string } }[] }
  await tree.detach()
  return nodes.map(({ name }) => name?.value ?? '').join('\n')
}

test('long addresses in what one writes are replaced by short ones, in fields, articles and shadow trees', async () => {
  expect(await faults(options)).toEqual([])
  await connect(await tokenFor('editor@portansel.example', 'write'))
  await expect(options.getByText(/^Saved\. .* makes short addresses on ansl\.example\.$/)).toBeVisible()
  const page = await context.newPage()
  await page.goto(siteAddress)
  // Nothing is done on a site that was not chosen.
  await page.getByLabel('Letter').fill(`See ${LONG}.`)
  const before = asked.length
  await options.getByLabel('Another site').fill(siteAddress)
  await options.getByRole('button', { name: 'Add' }).click()
  await expect(options.locator('#site-told')).toContainText('It works on')
  await expect(options.getByRole('button', { name: `Remove ${siteAddress}` })).toBeVisible()
  expect(asked.length).toBe(before)
  await page.goto(siteAddress)

  await page.getByLabel('Letter').pressSequentially('Dear rider, secret words: see ')
  await page.keyboard.insertText(`${LONG}. And ${LONG}, too.`)
  await press(page, /^Replace by ansl\.example\/e2e-long$/)
  const short = 'https://ansl.example/e2e-long'
  await expect(page.getByLabel('Letter')).toHaveValue(`Dear rider, secret words: see ${short}. And ${short}, too.`)
  expect((await saved(page)).plain).toContain(`see ${short}. And`)
  // The page can take it back as anything typed.
  await page.keyboard.press('Control+z')
  await expect(page.getByLabel('Letter')).toHaveValue(new RegExp('season=winter'))

  await page.getByLabel('Kept').focus()
  await page.keyboard.insertText(LONG)
  await press(page, /^Replace by/)
  await expect(page.getByLabel('Kept')).toHaveValue(short)

  // An article, in the middle of its second paragraph, with marks and nothing else changed.
  await page.getByText('Second').click()
  await page.keyboard.press('End')
  await page.keyboard.insertText(` ${LONG} after`)
  await press(page, /^Replace by/)
  await expect(page.locator('#rich')).toHaveText(`First` + `Second ${short} after`)
  expect(await page.locator('#rich p').count()).toBe(2)
  expect((await saved(page)).rich).toContain(`Second ${short} after`)

  await page.getByLabel('Inner').click()
  await page.keyboard.insertText(`(${LONG})`)
  await press(page, /^Replace by/)
  await expect(page.getByLabel('Inner')).toHaveText(`(${short})`)

  // None of what was written left the page but the address, and nothing of who wrote it.
  const sent = asked.slice(before).join('\n')
  expect(sent).toContain(encodeURIComponent(LONG).slice(0, 40))
  expect(sent).not.toContain('secret')
  expect(sent).not.toContain('"cookie"')
  expect(sent).not.toContain('"referrer"')
  await page.close()
})

test('a short address is made of one that has none, and its own and short ones are left alone', async () => {
  const page = await context.newPage()
  await page.goto(siteAddress)
  await page.getByLabel('Letter').focus()
  await page.keyboard.insertText(`${deskAddress}/register?q=a-long-address-of-the-desk https://a.example/ ${NEW}`)
  await press(page, /^Make a short address of/)
  await expect(page.getByLabel('Letter')).toHaveValue(/ https:\/\/ansl\.example\/\S+$/)
  const made = (await page.getByLabel('Letter').inputValue()).split('/').at(-1)!
  expect(made).not.toContain('nobody')
  // Asked about again it is known, and made no second time.
  await page.getByLabel('Kept').focus()
  await page.keyboard.insertText(NEW)
  await press(page, new RegExp(`^Replace by ansl\\.example/${made}$`))
  // By the keyboard alone: the command of the extension goes to the page one is on.
  await page.getByLabel('Kept').fill('')
  await page.keyboard.insertText(`${LONG} `)
  await expect.poll(() => heard(page)).toContain('Replace by ansl.example/e2e-long')
  await page.bringToFront()
  await worker.evaluate(async () => {
    const [tab] = await chrome.tabs.query({ active: true, lastFocusedWindow: true })
    await chrome.tabs.sendMessage(tab!.id!, { command: 'shorten' })
  })
  await expect(page.getByLabel('Kept')).toHaveValue('https://ansl.example/e2e-long ')
  await page.getByLabel('Inner').click()
  await page.keyboard.insertText(LONG)
  await press(page, /^Leave these as they are$/)
  await expect.poll(() => heard(page)).not.toContain('Replace by')
  await page.close()
})

test('a viewer finds and makes none; a token the desk does not know is told so', async () => {
  await connect(await tokenFor('viewer@portansel.example', 'read'))
  await expect(options.getByText('short addresses are found, and none are made')).toBeVisible()
  const page = await context.newPage()
  await page.goto(siteAddress)
  await page.getByLabel('Letter').focus()
  await page.keyboard.insertText(`${NEW}-and-more then ${LONG}`)
  await expect.poll(() => heard(page)).toContain('Replace by ansl.example/e2e-long')
  expect(await heard(page)).not.toContain('Make a short address')
  // The token is taken away meanwhile.
  await options.evaluate(async () => {
    const { settings } = await chrome.storage.local.get('settings')
    await chrome.storage.local.set({ settings: { ...(settings as object), token: 'fides_taken-away' } })
  })
  await page.goto(siteAddress)
  await page.getByLabel('Letter').focus()
  await page.keyboard.insertText(`${LONG}&again=1`)
  await expect.poll(() => heard(page)).toContain('The desk does not know the token any more.')
  await expect(page.getByLabel('Letter')).toHaveValue(`${LONG}&again=1`)
  await options.reload()
  await options.getByRole('button', { name: 'Save' }).click()
  await expect(options.getByText('The desk does not know this token.')).toBeVisible()
  await page.close()
})
