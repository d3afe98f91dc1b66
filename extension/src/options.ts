/// <reference types="chrome" />
import { connect } from './desk'
import { readSettings, writeSettings } from './settings'

const element = <Of extends HTMLElement>(id: string) => document.getElementById(id) as Of
const value = (id: string) => element<HTMLInputElement>(id).value.trim()
const tell = (id: string, sentence: string) => (element(id).textContent = sentence)

const originOf = (typed: string): string | undefined => {
  if (!URL.canParse(typed)) return undefined
  const { origin, protocol } = new URL(typed)
  return /^https?:$/.test(protocol) ? origin : undefined
}

/** A match pattern has no port. */
const patternOf = (origin: string) => `${new URL(origin).protocol}//${new URL(origin).hostname}/*`

async function show(): Promise<void> {
  const { desk, token, domain, hosts, sites } = await readSettings()
  element<HTMLInputElement>('desk').value = desk
  element<HTMLInputElement>('token').value = token
  element<HTMLInputElement>('domain').value = domain
  element('hosts').replaceChildren(
    ...hosts.map((host) => Object.assign(document.createElement('option'), { value: host })),
  )
  element('sites').replaceChildren(...sites.map(siteItem))
}

function siteItem(site: string): HTMLElement {
  const item = document.createElement('li')
  const remove = Object.assign(document.createElement('button'), { type: 'button', textContent: 'Remove' })
  remove.setAttribute('aria-label', `Remove ${site}`)
  remove.addEventListener('click', async () => {
    const settings = await readSettings()
    await writeSettings({ ...settings, sites: settings.sites.filter((one) => one !== site) })
    tell('site-told', `It no longer works on ${site}; pages that are open have it until they are loaded anew.`)
    await show()
  })
  item.append(site, remove)
  return item
}

element('desk-form').addEventListener('submit', async (event) => {
  event.preventDefault()
  const desk = originOf(value('desk'))
  if (!desk) return tell('desk-told', 'Give the desk’s address, like https://desk.portansel.example.')
  // Asked for while the click is fresh: the browser asks the person.
  if (!(await chrome.permissions.request({ origins: [patternOf(desk)] })))
    return tell('desk-told', 'Without leave to ask the desk nothing can be looked up.')
  const token = value('token')
  const told = await connect(desk, token)
  if (!told.ok) return tell('desk-told', told.sentence)
  const typed = value('domain').toLowerCase()
  const domain = typed || (told.hosts[0] ?? '')
  if (told.hosts.length > 0 && !told.hosts.includes(domain))
    return tell('desk-told', `“${domain}” is none of the desk’s domains: ${told.hosts.join(', ')}.`)
  const hosts = told.hosts.length > 0 ? told.hosts : [domain].filter(Boolean)
  const settings = await readSettings()
  await writeSettings({ ...settings, desk, token, domain, hosts, mayMake: told.mayMake })
  tell(
    'desk-told',
    told.mayMake
      ? `Saved. ${told.who} makes short addresses on ${domain}.`
      : `Saved. With this token short addresses are found, and none are made.`,
  )
  await show()
})

element('site-form').addEventListener('submit', async (event) => {
  event.preventDefault()
  const site = originOf(value('site'))
  if (!site) return tell('site-told', 'Give a site’s address, like https://mail.example.')
  if (!(await chrome.permissions.request({ origins: [patternOf(site)] })))
    return tell('site-told', `Without leave it does not work on ${site}.`)
  const settings = await readSettings()
  await writeSettings({ ...settings, sites: [...new Set([...settings.sites, site])].sort() })
  element<HTMLInputElement>('site').value = ''
  tell('site-told', `It works on ${site} from the next page on that is loaded there.`)
  await show()
})

void show()
