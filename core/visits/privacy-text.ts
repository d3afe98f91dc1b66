/** What an organisation decided about the visits of its short addresses. */
export interface PrivacyFacts {
  organisation: string
  hosts: readonly string[]
  visitDays: number
  keepNetwork: boolean
  honourGpc: boolean
  fewPeople: number
}

/** A text for the organisation’s privacy page, which says what is kept of visitors, by its settings as they are. */
export function privacyText(facts: PrivacyFacts): string {
  const { organisation, hosts, visitDays, keepNetwork, honourGpc, fewPeople } = facts
  const addresses = hosts.length === 0 ? 'our short addresses' : `our short addresses (${hosts.join(', ')})`
  return [
    `When you open one of ${addresses}, ${organisation} redirects you to the page and counts the visit.`,
    'For each visit we store the time, the short address, the host of the page you came from (never its path), your ' +
      'country as your network’s registration tells it, the language, kind of device, system and browser that your ' +
      'browser names.',
    keepNetwork
      ? 'Your address is kept only cut to its network: without its last part (/24), or of an IPv6 address the first ' +
        'three groups (/48).'
      : 'Your address is never kept.',
    'So that one person’s visits of a day can be told from several people’s, a token is made of your address and ' +
      'browser with a secret that is destroyed when the day (UTC) is over. After that nobody, we included, can tell ' +
      'whose token it was, or join the visits of two days. No cookie is set.',
    honourGpc
      ? 'If your browser asks not to be tracked across sites (Global Privacy Control), your visit is counted without ' +
        'a token.'
      : 'Your browser’s wish under Global Privacy Control changes nothing here, as nothing is joined across sites.',
    `Visit records are deleted after ${visitDays} days. After that we keep only daily totals.`,
    fewPeople > 1
      ? `Figures by country tell of ${fewPeople} people at least; fewer are put together.`
      : 'Figures by country are shown without a minimum number of people.',
  ].join('\n\n')
}
