import { ref } from 'vue'
import type { Link } from '~~/core/schemas'

/** One thing the address line can do with what was typed. */
export interface Choice {
  key: string
  what: string
  address: string
  take(): unknown
}

const MAX_LINKS = 5

/** Turns what is typed into choices: open a link, trace an address of ours, make a link to a long one, search. */
export function useAddressLine() {
  const choices = ref<Choice[]>([])
  const domains = useDomainsStore()
  const session = useSessionStore()
  const newLink = useNewLink()
  let asking: AbortController | undefined

  // Loaded at the first keystroke: reading host names takes tables that no page needs before.
  const addresses = () => import('~~/core/address')

  async function ownHost(typed: string): Promise<string | undefined> {
    const { readHost, readTypedAddress } = await addresses()
    const address = readTypedAddress(typed)
    if (!address.ok) return undefined
    if (address.host === undefined) return domains.domains[0]?.host
    const host = readHost(address.host)
    return host.ok && domains.byHost(host.host) ? host.host : undefined
  }

  async function look(text: string) {
    asking?.abort()
    const typed = text.trim()
    if (typed === '') return void (choices.value = [])
    const mine = (asking = new AbortController())
    const found: Choice[] = []
    const { tidyDestination } = await addresses()
    const { text: destination } = tidyDestination(typed)
    const own = await ownHost(typed)
    if (mine.signal.aborted) return
    const isLong = /^https?:\/\//i.test(destination) && !own
    if (own) {
      found.push({
        key: 'trace',
        what: 'Trace',
        address: typed,
        take: () => navigateTo({ path: '/trace', query: { address: typed } }),
      })
    }
    if (isLong) {
      if (session.may('editor'))
        found.push({
          key: 'new',
          what: 'New link to',
          address: destination,
          take: () => newLink.start({ destination }),
        })
      found.push({
        key: 'elsewhere',
        what: 'Trace',
        address: typed,
        take: () => navigateTo({ path: '/trace', query: { address: typed } }),
      })
    }
    // A search sees the slug without the scheme; a long address is looked up as a destination.
    const q = typed.replace(/^https?:\/\//i, '').replace(/^\//, '')
    const query = isLong ? { destination, limit: MAX_LINKS } : { q, limit: MAX_LINKS }
    const links = await callApi<{ items: Link[] }>('/links', { query, signal: mine.signal }).catch(() => ({
      items: [],
    }))
    if (mine.signal.aborted) return
    const open = links.items.map((link): Choice => ({
      key: `link-${link.id}`,
      what: 'Open link',
      address: link.address,
      take: () => navigateTo(`/links/${link.id}`),
    }))
    const search: Choice = {
      key: 'search',
      what: 'Search register',
      address: q,
      take: () => navigateTo({ path: '/register', query: { q } }),
    }
    choices.value = isLong ? [...found, ...open] : own ? [...found, ...open, search] : [search, ...open]
  }

  return { choices, look }
}
