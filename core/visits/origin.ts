/** The host of a Referer field; empty where there is none or it is no web address. Paths are never kept. */
export function referrerHost(referrer: string | undefined): string {
  if (!referrer) return ''
  try {
    const url = new URL(referrer)
    return /^https?:$/.test(url.protocol) ? url.hostname.slice(0, 255) : ''
  } catch {
    return ''
  }
}

const MAX_PAGE = 400

/**
 * The page of a Referer field, without query and fragment, for requests that found nothing: whoever owns it can mend
 * the address there. Empty where there is none or it is no web address.
 */
export function referrerPage(referrer: string | undefined): string {
  if (!referrer) return ''
  try {
    const url = new URL(referrer)
    return /^https?:$/.test(url.protocol) ? `${url.protocol}//${url.host}${url.pathname}`.slice(0, MAX_PAGE) : ''
  } catch {
    return ''
  }
}

/** The first choice of an Accept-Language field as a primary language subtag (RFC 9110 §12.5.4, RFC 5646 §2.2.1). */
export function firstLanguage(acceptLanguage: string | undefined): string {
  let best = ''
  let bestQuality = 0
  for (const range of (acceptLanguage ?? '').slice(0, 500).split(',')) {
    const [tag = '', ...parameters] = range.trim().split(';')
    const quality = Number(parameters.map((p) => /^\s*q=([01](?:\.\d{0,3})?)\s*$/.exec(p)?.[1]).find(Boolean) ?? 1)
    const primary = /^[A-Za-z]{2,8}(?=-|$)/.exec(tag)?.[0]
    if (primary && quality > bestQuality) {
      best = primary.toLowerCase()
      bestQuality = quality
    }
  }
  return best
}

/**
 * The scheme the visitor used behind a proxy we trust: the last `proto` of Forwarded (RFC 7239 §5.4), else of
 * X-Forwarded-Proto; `undefined` where neither tells. The caller asks only when the peer is trusted.
 */
export function forwardedScheme(fields: { forwarded?: string; xForwardedProto?: string }): string | undefined {
  const told =
    [...(fields.forwarded ?? '').matchAll(/(?:^|[;,])\s*proto=(?:"([^"]*)"|([^;,\s]*))/gi)]
      .map((match) => match[1] ?? match[2]!)
      .at(-1) ?? fields.xForwardedProto?.split(',').at(-1)?.trim()
  return told?.toLowerCase()
}

/**
 * The visitor's address behind a proxy we trust: the last `for` of Forwarded (RFC 7239 §5.2), else the last of
 * X-Forwarded-For, that is not itself a trusted proxy. `isTrusted` knows our proxies; without a usable field the
 * peer's own address stands. The caller asks only when the peer is trusted.
 */
export function forwardedAddress(
  fields: { forwarded?: string; xForwardedFor?: string },
  isTrusted: (address: string) => boolean,
): string | undefined {
  const hops = fields.forwarded
    ? [...fields.forwarded.matchAll(/(?:^|[;,])\s*for=(?:"([^"]*)"|([^;,\s]*))/gi)].map(
        (match) => match[1] ?? match[2]!,
      )
    : (fields.xForwardedFor ?? '').split(',')
  for (const hop of hops.reverse()) {
    const address = hop
      .trim()
      .replace(/^\[([^\]]*)\](?::\d+)?$/, '$1')
      .replace(/^(\d+\.\d+\.\d+\.\d+):\d+$/, '$1')
    if (address === '' || /^(?:unknown|_)/i.test(address)) return undefined
    if (!isTrusted(address)) return address
  }
  return undefined
}

/** The network of an address: an IPv4 address cut to /24, an IPv6 address to /48 (semantics §8); empty for none. */
export function networkOf(address: string): string {
  const four = /^(\d{1,3}\.\d{1,3}\.\d{1,3})\.\d{1,3}$/.exec(address)
  if (four) return `${four[1]}.0/24`
  if (!address.includes(':')) return ''
  // RFC 4291 §2.2: “::” stands for as many groups of zeros as are missing.
  const [before = '', after] = address.toLowerCase().replace(/%.*$/, '').split('::')
  const groups = before === '' ? [] : before.split(':')
  const rest = after === undefined || after === '' ? [] : after.split(':')
  if (after !== undefined) while (groups.length + rest.length < 8) groups.push('0')
  const all = [...groups, ...rest]
  if (all.length !== 8 || all.some((group) => !/^[0-9a-f]{1,4}$/.test(group))) return ''
  return `${all
    .slice(0, 3)
    .map((group) => parseInt(group, 16).toString(16))
    .join(':')}::/48`
}
