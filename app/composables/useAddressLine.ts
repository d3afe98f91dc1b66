import { ref } from 'vue'
import type { Link } from '~~/core/schemas'

/** One thing the address line can do with what was typed. */
export interface Choice {
  key: string
  what: string
  address: string
  /** What the link at the address is called. */
  title?: string
  take(): unknown
}

const MAX_LINKS = 6

/**
 * Turns what is typed or pasted into choices, the most likely first: open a link of that address, trace it, create it;
 * for words, the links that have them.
 */
export function useAddressLine() {
  const choices = ref<Choice[]>([])
  const domains = useDomainsStore()
  const session = useSessionStore()
  const newLink = useNewLink()
  let asking: AbortController | undefined

  // Loaded at the first keystroke: reading host names takes tables that no page needs before.
  const reading = () => Promise.all([import('~~/core/address'), import('~~/core/search')])

  const opening = (link: Link): Choice => ({
    key: `link-${link.id}`,
    what: 'Open link',
    address: link.address,
    title: link.title,
    take: () => navigateTo(`/links/${link.id}`),
  })
  const tracing = (address: string): Choice => ({
    key: 'trace',
    what: 'Trace',
    address,
    take: () => navigateTo({ path: '/trace', query: { address } }),
  })
  const creating = (address: string, given: { destination?: string; slug?: string; domain?: string }): Choice => ({
    key: 'new',
    what: given.destination === undefined ? 'New link' : 'New link to',
    address,
    take: () => newLink.start(given),
  })

  async function look(text: string) {
    asking?.abort()
    const typed = text.trim()
    if (typed === '') return void (choices.value = [])
    const mine = (asking = new AbortController())
    const list = (query: object) =>
      callApi<{ items: Link[] }>('/links', { query: { ...query, limit: MAX_LINKS }, signal: mine.signal })
        .then(({ items }) => items)
        .catch(() => [])
    const [{ readHost, tidyDestination }, { pastedAddresses }] = await reading()
    const addresses = pastedAddresses(typed)
    const [first] = addresses
    const hostOf = (address: string) => {
      const host = readHost(address.split('/', 1)[0]!)
      return host.ok ? (domains.byHost(host.host) ?? domains.byHost(`www.${host.host}`)) : undefined
    }
    const domain = first === undefined ? undefined : hostOf(first)
    const { text: destination } = tidyDestination(typed)
    const isForeign = addresses.length === 1 && !domain
    const [exact, similar] = await Promise.all([
      isForeign ? list({ destination }) : list({ address: typed }),
      list({ q: typed }),
    ])
    if (mine.signal.aborted) return
    const known = new Set(exact.map(({ id }) => id))
    // Of links that have all the words, those whose title reads so come first.
    const isTitled = ({ title }: Link) => title.toLowerCase().includes(typed.toLowerCase())
    const others = [...similar]
      .sort((a, b) => Number(isTitled(b)) - Number(isTitled(a)))
      .filter(({ id }) => !known.has(id))
      .map(opening)
    const search: Choice = {
      key: 'search',
      what: 'Search the register',
      address: typed,
      take: () => navigateTo({ path: '/register', query: { q: typed } }),
    }
    const mayCreate = session.may('editor')
    if (isForeign)
      choices.value = [
        ...(mayCreate ? [creating(destination, { destination })] : []),
        ...exact.map(opening),
        tracing(destination),
        ...others,
        search,
      ]
    else if (domain && addresses.length === 1) {
      const slug = first!.slice(first!.indexOf('/') + 1 || first!.length)
      const isNew = exact.length === 0 && slug !== ''
      choices.value = [
        ...exact.map(opening),
        tracing(typed),
        ...(mayCreate && isNew ? [creating(first!, { domain: domain.host, slug })] : []),
        ...others,
        search,
      ]
    } else {
      const trace = /^\/\S/.test(typed) && domains.domains[0] ? [tracing(domains.domains[0].host + typed)] : []
      choices.value = [...exact.map(opening), ...trace, ...others, search]
    }
  }

  return { choices, look }
}
