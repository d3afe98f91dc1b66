/** Where visitors come from, told by the host of the page (common practice, no source). */
export const REFERRER_KINDS = ['none', 'internal', 'search', 'social', 'mail', 'chat', 'other'] as const
export type ReferrerKind = (typeof REFERRER_KINDS)[number]

/**
 * Hosts by kind: a name with dots stands for itself and all below it; one without for any host that has it as its
 * label before the public ending, as search engines have one host in each country.
 */
const HOSTS: Record<Exclude<ReferrerKind, 'none' | 'internal' | 'other'>, readonly string[]> = {
  search: [
    'google', 'bing.com', 'duckduckgo.com', 'yahoo', 'yandex', 'baidu.com', 'ecosia.org', 'qwant.com', 'startpage.com',
    'search.brave.com', 'kagi.com', 'mojeek.com', 'naver.com', 'seznam.cz', 'perplexity.ai', 'chatgpt.com',
  ],
  social: [
    'facebook.com', 'instagram.com', 'x.com', 'twitter.com', 't.co', 'linkedin.com', 'lnkd.in', 'reddit.com',
    'pinterest', 'tiktok.com', 'youtube.com', 'youtu.be', 'threads.net', 'bsky.app', 'mastodon.social', 'vk.com',
    'tumblr.com', 'xing.com', 'nextdoor.com', 'weibo.com',
  ],
  mail: [
    'mail.google.com', 'outlook.live.com', 'outlook.office.com', 'outlook.office365.com', 'mail.yahoo.com',
    'mail.proton.me', 'mail.aol.com', 'mail.zoho.com', 'fastmail.com', 'gmx.net', 'web.de', 'mail.ru',
  ],
  chat: [
    'web.whatsapp.com', 'api.whatsapp.com', 'wa.me', 'web.telegram.org', 't.me', 'discord.com', 'slack.com',
    'teams.microsoft.com', 'messenger.com', 'chat.google.com', 'signal.me', 'line.me', 'wechat.com',
  ],
} // prettier-ignore

const KNOWN = new Map<string, ReferrerKind>()
// What names a host exactly is known before what stands for all below a name.
for (const kind of ['search', 'social', 'mail', 'chat'] as const) for (const host of HOSTS[kind]) KNOWN.set(host, kind)

/** The kind of a referrer's host; `own` are hosts of the organisation itself. */
export function referrerKind(host: string, own: ReadonlySet<string>): ReferrerKind {
  if (host === '') return 'none'
  const labels = host.toLowerCase().split('.')
  for (let from = 0; from < labels.length - 1; from++) {
    const name = labels.slice(from).join('.')
    if (own.has(name)) return 'internal'
    const kind = KNOWN.get(name)
    if (kind) return kind
  }
  // google.co.uk, yandex.kz: one name under many endings, of one or two short labels.
  if (labels.length === 1) return 'other'
  const ending = labels.at(-2)!.length <= 3 && labels.length > 2 ? 3 : 2
  const label = labels.at(-ending)
  return (label !== undefined && KNOWN.get(label)) || 'other'
}
