/** The parameters that tell campaigns apart in reports (common practice, no source), by what they are called. */
export const CAMPAIGN_PARAMETERS = {
  source: 'utm_source',
  medium: 'utm_medium',
  campaign: 'utm_campaign',
  term: 'utm_term',
  content: 'utm_content',
} as const

export type Campaign = Partial<Record<keyof typeof CAMPAIGN_PARAMETERS, string>>

/** The campaign parameters of a destination; empty where it has none or is no web address. */
export function readCampaign(destination: string): Campaign {
  const url = urlOf(destination)
  if (!url) return {}
  return Object.fromEntries(
    Object.entries(CAMPAIGN_PARAMETERS).flatMap(([name, parameter]) => {
      const value = url.searchParams.get(parameter)
      return value ? [[name, value]] : []
    }),
  )
}

/**
 * A destination with these campaign parameters in place of those it has; one that is empty is removed. All else of it
 * stays byte for byte.
 */
export function withCampaign(destination: string, campaign: Campaign): string {
  if (!urlOf(destination)) return destination
  const [, base, query, fragment = ''] = /^([^?#]*)(?:\?([^#]*))?(#.*)?$/s.exec(destination)!
  const names = new Set<string>(Object.values(CAMPAIGN_PARAMETERS))
  const kept = query ? query.split('&').filter((pair) => !names.has(pair.split('=', 1)[0]!)) : []
  const added = Object.entries(CAMPAIGN_PARAMETERS).flatMap(([name, parameter]) => {
    // A blank at the end stays: somebody is still typing.
    const value = campaign[name as keyof Campaign]
    return value?.trim() ? [`${parameter}=${encodeURIComponent(value)}`] : []
  })
  const all = [...kept, ...added]
  return base! + (all.length === 0 ? '' : `?${all.join('&')}`) + fragment
}

function urlOf(destination: string): URL | undefined {
  try {
    const url = new URL(destination)
    return /^https?:$/.test(url.protocol) ? url : undefined
  } catch {
    return undefined
  }
}
