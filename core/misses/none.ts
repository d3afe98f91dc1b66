import { noiseOf } from './noise'

/** How likely it is that nothing of ours was meant, and what the path such a request has costs, in nats. */
export const NONE = {
  /** Before its path is looked at. */
  prior: 0.063,
  start: 7.786,
  /** One character: how surprising it is. */
  letter: 1.751,
  digit: 2.241,
  other: 0.473,
  /** A path people and programs try at any web server: as likely as a few characters. */
  usual: 11.544,
  noise: 2,
}

/**
 * Paths people and programs try at any web server, whatever it holds (common practice, no source).
 */
const USUAL = new Set(
  (
    'about about-us account api app archive assets author blog cart cgi-bin checkout company contact contact-us ' +
    'cookies dashboard default demo docs download downloads en faq favicon feed files forum gallery home image ' +
    'images impressum imprint index info js kontakt legal login logout mail media members menu mobile my new news ' +
    'old online page pages photos portal portfolio post posts privacy privacy-policy product products profile ' +
    'register rss search service services shop signin signup sitemap static store support team terms test tmp ' +
    'upload uploads user users v1 v2 video videos web welcome www xmlrpc'
  ).split(' '),
)

/** What it costs that somebody who means nothing of ours asks for a path: minus the logarithm of how likely that is. */
export function noneCost(path: string, plain: string): number {
  if (noiseOf(path)) return NONE.noise
  let cost = NONE.start
  for (let at = 0; at < plain.length; at++) {
    const unit = plain.charCodeAt(at)
    cost += unit >= 97 && unit <= 122 ? NONE.letter : unit >= 48 && unit <= 57 ? NONE.digit : NONE.other
  }
  return USUAL.has(plain.replace(/\.(?:html?|php|aspx?)$/, '')) ? Math.min(cost, NONE.usual) : cost
}
