import { makeSlips } from './slips'

/** What somebody asks for in vain, and where the wrong address stood. */
export interface Missed {
  host: string
  typed: string
  referrer: string
}

const APEX = 'ansl.example'
const BESIDE = 'go.portansel.example'

/** Addresses other pages carry wrongly, and what people ask for that is not there; each comes again and again. */
function knownMisses(slugs: readonly string[]) {
  let turn = 0
  const next = (family: string) => {
    const own = slugs.filter((slug) => slug.startsWith(`${family}/`)).slice(0, 6)
    return own.length === 0 ? '1' : own[turn++ % own.length]!.slice(family.length + 1)
  }
  const known: [weight: number, host: string, typed: () => string, referrer: string][] = [
    [6, APEX, () => `stops/${next('stop')}`, 'https://councilnews.test/getting-around'],
    [5, APEX, () => `bus/${next('line')}`, 'https://harbourguide.test/days-out/by-bus'],
    [4, BESIDE, () => `dock/${next('bike')}`, 'https://cyclists.test/docks'],
    [7, APEX, () => 'nite', ''],
    [6, APEX, () => 'faers', ''],
    [5, APEX, () => 'fares).', 'https://social.test/'],
    [4, APEX, () => 'timetable', 'https://oldtown.test/visitors'],
    [4, APEX, () => 'lost-property', ''],
    [3, APEX, () => 'bikes', ''],
    [3, BESIDE, () => 'ferry2', ''],
    [3, BESIDE, () => 'ferrytimes', 'https://harbourguide.test/islands'],
    [4, APEX, () => 'airport', 'https://hotels.test/port-ansel/arrive'],
    [3, APEX, () => 'toilets', ''],
    [2, APEX, () => 'wifi', ''],
  ]
  return known
}

/** What programs ask for that look for holes (common practice, no source). */
const PROBES = (
  'wp-login.php wp-admin/setup-config.php .env .git/config xmlrpc.php phpmyadmin/index.php admin.php config.bak ' +
  'vendor/phpunit/phpunit/src/Util/PHP/eval-stdin.php cgi-bin/luci server-status actuator/health backup.zip ' +
  'api/.env old/index.php shell.php owa/auth/logon.aspx .aws/credentials'
).split(' ')

/** What goes wrong between a poster and a keyboard, what other pages carry wrongly, and what never was ours. */
export function makeMisses(random: () => number, slugs: readonly string[]) {
  const slip = makeSlips(random, [APEX, BESIDE])
  const known = knownMisses(slugs)
  const total = known.reduce((sum, [weight]) => sum + weight, 0)
  return function miss(host: string, slug: string): Missed {
    const kind = random()
    if (kind < 0.35) {
      const { host: asked, typed } = slip(host, slug)
      return { host: asked, typed, referrer: '' }
    }
    if (kind < 0.55) return { host, typed: PROBES[Math.floor(random() * PROBES.length)]!, referrer: '' }
    let share = random() * total
    const [, asked, typed, referrer] = known.find(([weight]) => (share -= weight) < 0) ?? known[0]!
    return { host: asked, typed: typed(), referrer }
  }
}
