import robotsParser from 'robots-parser'

/** What a site lets robots do (RFC 9309). */
export interface RobotsRules {
  allows(url: string): boolean
  /** The sitemaps it names (sitemaps.org protocol, “Specifying the Sitemap location in your robots.txt file”). */
  sitemaps: string[]
}

/** What the name in our User-Agent is in robots.txt (§2.2.1). */
const PRODUCT = 'Fides'

/**
 * Reads what answered for robots.txt: its rules for our product; all allowed where there is none (4xx, §2.3.1.3),
 * nothing where it cannot be had for a fault of the server or the network (§2.3.1.4).
 */
export function readRobots(
  url: string,
  answer: { status: number; text: string } | undefined,
  product = PRODUCT,
): RobotsRules {
  if (answer === undefined || answer.status >= 500) return { allows: () => false, sitemaps: [] }
  const rules = robotsParser(url, answer.status < 300 ? closed(answer.text) : '')
  return {
    // Of another site it says nothing; nor is that asked.
    allows: (address) => rules.isAllowed(address, product) === true,
    sitemaps: rules.getSitemaps(),
  }
}

/** A group without rules at the end allows all (§5.1, “quxbot”): the parser would pass it over. */
const closed = (text: string): string =>
  /(?:^|\n)\s*user-agent\s*:[^\n]*\s*$/i.test(text) ? `${text.trimEnd()}\nDisallow:\n` : text
