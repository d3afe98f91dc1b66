import type { Settings } from './settings'
import type { Told } from './messages'

interface Link {
  domain: string
  address: string
  slug: string
  standing: string
  forwardsTo: number | null
}
interface Problem {
  detail?: string
}

const PATIENCE_MS = 8000
const SIGNED_OUT = 'The desk does not know the token any more. Give another in the settings of the extension.'
const AWAY = 'The desk does not answer just now.'

type Answer = { ok: true; body: unknown } | { ok: false; status: number; sentence: string }

/** Asks the desk with the token, and with nothing else that could tell who asks: no cookie, no referrer. */
async function call({ desk, token }: Settings, path: string, body?: object): Promise<Answer> {
  try {
    const response = await fetch(`${desk}/api/v1${path}`, {
      method: body ? 'POST' : 'GET',
      headers: { authorization: `Bearer ${token}`, ...(body && { 'content-type': 'application/json' }) },
      body: body && JSON.stringify(body),
      credentials: 'omit',
      referrerPolicy: 'no-referrer',
      cache: 'no-store',
      signal: AbortSignal.timeout(PATIENCE_MS),
    })
    const told = (await response.json()) as Problem
    if (response.ok) return { ok: true, body: told }
    const sentence = response.status === 401 ? SIGNED_OUT : (told.detail ?? AWAY)
    return { ok: false, status: response.status, sentence }
  } catch {
    return { ok: false, status: 0, sentence: AWAY }
  }
}

const known = ({ address, domain, slug }: Link): Told => ({
  state: 'known',
  short: address,
  copy: `https://${domain}/${encodeURI(slug)}`,
})

/** Whether an address has a short one: the domain’s own first, then any other. */
export async function ask(settings: Settings, address: string): Promise<Told> {
  const query = new URLSearchParams({ destination: address, standing: 'live', limit: '50' })
  let answer = await call(settings, `/links?${query}`)
  // A token that is held to some domains names the one it means.
  if (!answer.ok && answer.status === 403 && settings.domain)
    answer = await call(settings, `/links?${query}&domain=${encodeURIComponent(settings.domain)}`)
  if (!answer.ok) return { state: 'refused', sentence: answer.sentence }
  const links = (answer.body as { items: Link[] }).items.filter(({ forwardsTo }) => forwardsTo === null)
  const link = links.find(({ domain }) => domain === settings.domain) ?? links[0]
  return link ? known(link) : { state: 'none', mayMake: settings.mayMake && settings.domain !== '' }
}

/** Makes a short address; asked first, since somebody may have made one meanwhile. */
export async function make(settings: Settings, address: string): Promise<Told> {
  const there = await ask(settings, address)
  if (there.state !== 'none') return there
  const answer = await call(settings, '/links', {
    domain: settings.domain,
    destination: address,
    reason: 'Made while writing',
  })
  return answer.ok ? known(answer.body as Link) : { state: 'refused', sentence: answer.sentence }
}

/** What a desk and a token come to; a sentence where they come to nothing. */
export async function connect(
  desk: string,
  token: string,
): Promise<{ ok: true; hosts: string[]; mayMake: boolean; who: string } | { ok: false; sentence: string }> {
  const asked = { desk, token, domain: '', hosts: [], mayMake: false, sites: [] }
  const session = await call(asked, '/session')
  if (!session.ok)
    return { ok: false, sentence: session.status === 401 ? 'The desk does not know this token.' : session.sentence }
  const { member } = session.body as { member: { name: string; role: string } }
  const domains = await call(asked, '/domains')
  const hosts = domains.ok ? (domains.body as { items: { host: string }[] }).items.map(({ host }) => host) : []
  return { ok: true, hosts, mayMake: member.role !== 'viewer', who: member.name }
}
