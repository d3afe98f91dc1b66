// Each way a site can be, with the verdict a practitioner gives it (common practice, no source, but where the line
// names one). What a browser does with each is from the Fetch and HTML standards.
import pLimit from 'p-limit'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { judge, VERDICT_NAMES, type Judged, type VerdictName } from '../../../core/targets'
import { checkDestination, type Checked } from '../../../server/targets/check'
import { BEHAVIOURS } from '../../../standins/sites/behaviours'
import { SmallWeb } from './small-web'

const DEEP = '/night-network/map'
const at = (name: string, rest = DEEP, scheme = 'http') => `${scheme}://${name}.sites.example${rest}`

/** Behaviour, destination, verdict. */
const CASES: readonly [string, string, VerdictName][] = [
  ['healthy', at('healthy'), 'sound'],
  ['healthy', at('healthy', '/docs/plan.pdf'), 'sound'],
  ['healthy', at('healthy', '/nowhere'), 'not-found'],
  ['slow', at('slow'), 'sound'],
  ['not-found', at('not-found'), 'not-found'],
  ['gone', at('gone'), 'not-found'], // RFC 9110 §15.5.11
  ['disguised', at('disguised'), 'soft-not-found'],
  ['disguised-in-words', at('disguised-in-words'), 'soft-not-found'],
  ['server-error', at('server-error'), 'server-error'],
  ['unavailable', at('unavailable'), 'server-error'],
  ['maintenance', at('maintenance'), 'server-error'],
  ['parked', at('parked'), 'parked'],
  ['language', at('language'), 'sound'],
  ['huge', at('huge'), 'sound'],
  ['bomb', at('bomb'), 'sound'],
  ['framed-out', at('framed-out'), 'sound'],
  ['moved-301', at('moved-301'), 'moved-permanently'],
  ['moved-308', at('moved-308'), 'moved-permanently'],
  ['moved-302', at('moved-302'), 'moved-temporarily'],
  ['moved-303', at('moved-303'), 'moved-temporarily'],
  ['moved-307', at('moved-307'), 'moved-temporarily'],
  ['meta-refresh', at('meta-refresh'), 'moved-temporarily'],
  ['script-move', at('script-move'), 'moved-temporarily'],
  ['loop', at('loop'), 'redirect-loop'],
  ['endless', at('endless'), 'redirect-loop'], // Fetch, HTTP-redirect fetch: 20
  ['front-page', at('front-page'), 'front-page'],
  ['downgrade', at('downgrade', DEEP, 'https'), 'downgraded'],
  ['parameters-dropped', at('parameters-dropped', `${DEEP}?ref=pat-04`), 'parameters-lost'],
  ['parameters-in-path', at('parameters-in-path', '/show?id=4417'), 'moved-temporarily'],
  ['cookies-demanded', at('cookies-demanded'), 'moved-temporarily'],
  ['bad-location', at('bad-location'), 'server-error'],
  ['no-location', at('no-location'), 'server-error'],
  ['to-private', at('to-private'), 'no-answer'],
  ['to-loopback', at('to-loopback'), 'no-answer'],
  ['to-app', at('to-app'), 'moved-temporarily'],
  ['sign-in-form', at('sign-in-form'), 'sign-in'],
  ['sign-in-host', at('sign-in-host', DEEP, 'https'), 'sign-in'],
  ['soft-sign-in', at('soft-sign-in'), 'sign-in'],
  ['http-authentication', at('http-authentication'), 'sign-in'], // RFC 9110 §11.6.1
  ['ask-access', at('ask-access'), 'sign-in'],
  ['robot-wall', at('robot-wall'), 'refused'],
  ['challenge', at('challenge'), 'refused'],
  ['too-many', at('too-many'), 'refused'], // RFC 6585 §4
  ['legal', at('legal'), 'refused'], // RFC 7725
  ['hanging', at('hanging'), 'no-answer'],
  ['reset', at('reset'), 'no-answer'],
  ['wrong-length', at('wrong-length'), 'no-answer'], // RFC 9112 §6.3 item 8
  ['not-http', at('not-http'), 'no-answer'],
  ['broken-chunks', at('broken-chunks'), 'no-answer'],
  ['broken-gzip', at('broken-gzip'), 'no-answer'],
  ['header-flood', at('header-flood'), 'no-answer'],
  ['drip', at('drip'), 'sound'],
  ['certificate-expired', at('certificate-expired', DEEP, 'https'), 'certificate'],
  ['certificate-not-yet', at('certificate-not-yet', DEEP, 'https'), 'certificate'],
  ['certificate-wrong-host', at('certificate-wrong-host', DEEP, 'https'), 'certificate'],
  ['certificate-self-signed', at('certificate-self-signed', DEEP, 'https'), 'certificate'],
  ['certificate-unknown-issuer', at('certificate-unknown-issuer', DEEP, 'https'), 'certificate'],
  ['certificate-weak', at('certificate-weak', DEEP, 'https'), 'certificate'],
  ['ipv6-only', at('ipv6-only', DEEP, 'https'), 'sound'],
  ['name-gone', 'https://gone-for-good.example/page', 'no-such-name'],
  ['no-address', at('no-address'), 'no-such-name'],
  ['inside', at('inside'), 'no-answer'],
]

let web: SmallWeb
const seen = new Map<string, { checked: Checked; judged: Judged }>()

beforeAll(async () => {
  web = await SmallWeb.start(6000)
  const limit = pLimit(6)
  await Promise.all(
    CASES.map(([, destination]) =>
      limit(async () => {
        const checked = await checkDestination(web.asker, destination)
        seen.set(destination, { checked, judged: judge(checked.evidence) })
      }),
    ),
  )
})
afterAll(() => web.stop())

describe('every behaviour of the stand-in sites', () => {
  it.each(CASES)('%s, asked for %s: %s', (_name, destination, verdict) => {
    const { judged } = seen.get(destination)!
    expect(judged.verdict, judged.sentence).toBe(verdict)
    expect(judged.sentence).toMatch(/^[\p{L}\d].*\.$/u)
  })

  it('leaves nothing off the diagonal, and no behaviour out', () => {
    const used = VERDICT_NAMES.filter((name) => CASES.some(([, , verdict]) => verdict === name))
    const counts = used.map((meant) =>
      used.map(
        (given) =>
          CASES.filter(([, at, verdict]) => verdict === meant && seen.get(at)!.judged.verdict === given).length,
      ),
    )
    const width = Math.max(...used.map((name) => name.length))
    const lines = used.map(
      (name, row) => `${name.padEnd(width)} ${counts[row]!.map((n) => String(n || '·').padStart(3)).join('')}`,
    )
    process.stdout.write(`${lines.join('\n')}\n`)
    counts.forEach((row, meant) => row.forEach((count, given) => expect(count > 0).toBe(meant === given)))
    expect(used).toEqual(VERDICT_NAMES)
    const left = [...BEHAVIOURS.keys()].filter((name) => name !== 'bursts' && !CASES.some(([one]) => one === name))
    expect(left).toEqual([])
  })

  it('is judged alike from what was stored', () => {
    for (const [destination, { checked, judged }] of seen)
      expect(judge(JSON.parse(JSON.stringify(checked.evidence))), destination).toEqual(judged)
  })
})
