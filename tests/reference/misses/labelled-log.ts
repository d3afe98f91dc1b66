import { demoRegister, mistypings } from './demo-register'
import { seeded } from '../../../server/database/seed/chance'

/** One request of a log, with what it truly was. */
export interface LoggedRequest {
  /** The day token of who asked. */
  token: string
  agent: string
  path: string
  noise: boolean
}

const BROWSER =
  'Mozilla/5.0 (iPhone; CPU iPhone OS 18_1 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/18.1 ' +
  'Mobile/15E148 Safari/604.1'
const ROBOT = 'Mozilla/5.0 (compatible; Harvestbot/2.1; +http://crawler.test/about)'

// What programs ask for that look for holes, put together from parts (common practice, no source): folders, names and
// endings as word lists of such programs combine them. Nobody looked at the signatures for it.
const FOLDERS = [
  '',
  'admin/',
  'old/',
  'new/',
  'test/',
  'backup/',
  'site/',
  'web/',
  'api/',
  'public/',
  'includes/',
  'uploads/',
  'panel/',
  'cms/',
  'blog/',
  'shop/',
]
const NAMES = [
  'index',
  'login',
  'config',
  'setup',
  'install',
  'upload',
  'shell',
  'cmd',
  'test',
  'info',
  'phpinfo',
  'db',
  'database',
  'dump',
  'users',
  'settings',
  'secrets',
  'id_rsa',
  'wallet',
  'error',
  'debug',
  'eval',
  'up',
  'x',
  'alfa',
  'wso',
  'radio',
  'about1',
  'moon',
  'ws',
]
const ENDINGS: [weight: number, ending: string][] = [
  [40, '.php'],
  [8, '.asp'],
  [6, '.aspx'],
  [6, '.jsp'],
  [5, '.cgi'],
  [6, '.sql'],
  [6, '.zip'],
  [5, '.tar.gz'],
  [6, '.bak'],
  [4, '.log'],
  [4, '.env'],
  [3, '.yml'],
  [2, '.pl'],
  [6, ''],
]
const WHOLE = [
  '.env',
  '.env.local',
  '.git/HEAD',
  '.svn/entries',
  '.vscode/sftp.json',
  '.ssh/id_rsa',
  'wp-content/plugins/x/readme.txt',
  'wp-json/wp/v2/users',
  'wp-admin/',
  'wordpress/',
  'phpMyAdmin/',
  'pma/',
  'adminer',
  'actuator/heapdump',
  'jenkins/login',
  'solr/admin/info/system',
  'manager/html',
  'boaform/admin/formLogin',
  'HNAP1/',
  'cgi-bin/luci',
  'server-status',
  'vendor/phpunit/phpunit/LICENSE',
  'owa/',
  'autodiscover/autodiscover.json',
  'telescope/requests',
  '_ignition/execute-solution',
  'struts/utils.js',
  'geoserver/web/',
  'console/',
  'api/v1/pods',
  'sitemap.xml',
  'ads.txt',
  'apple-touch-icon.png',
  '..%2f..%2f..%2fetc%2fpasswd',
]

/** A log of requests that found nothing, one in four true demand, labelled as it was made. */
export function labelledLog(count: number, seed: number): LoggedRequest[] {
  const random = seeded(seed)
  const pick = <Item>(items: readonly Item[]): Item => items[Math.floor(random() * items.length)]!
  const endings = ENDINGS.reduce((sum, [weight]) => sum + weight, 0)
  const probe = (): string => {
    if (random() < 0.35) return pick(WHOLE)
    let share = random() * endings
    const [, ending] = ENDINGS.find(([weight]) => (share -= weight) < 0)!
    return pick(FOLDERS) + pick(NAMES) + ending
  }
  const log: LoggedRequest[] = []
  const slips = mistypings(demoRegister(), Math.ceil(count / 4), seed)
  const wishes = ['wifi', 'toilets', 'airport', 'parking', 'disabled', 'strikes-today', 'lost-phone', 'dogs']
  while (log.filter(({ noise }) => !noise).length < count / 4) {
    // A person asks once or twice, seldom more.
    const token = `person-${log.length}`
    const asked = random() < 0.9 ? slips[log.length % slips.length]!.path : pick(wishes)
    log.push({ token, agent: BROWSER, path: asked, noise: false })
    if (random() < 0.25) log.push({ token, agent: BROWSER, path: asked + '/', noise: false })
  }
  while (log.length < count) {
    const kind = random()
    const token = `program-${log.length}`
    if (kind < 0.25)
      for (let at = 0; at < 6; at++)
        log.push({ token, agent: ROBOT, path: pick(NAMES) + '-' + pick(NAMES), noise: true })
    // Most come in runs, some ask once.
    const runs = kind < 0.7 ? 1 + Math.floor(random() * 3) : 10 + Math.floor(random() * 40)
    for (let at = 0; at < runs; at++)
      log.push({ token, agent: random() < 0.5 ? BROWSER : 'curl/8.5.0', path: probe(), noise: true })
  }
  return log.slice(0, count)
}
