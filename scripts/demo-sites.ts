// The demo's small web: which sites there are, where they are reached, and what past checks saw of them.
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { createSecureContext } from 'node:tls'
import pLimit from 'p-limit'
import {
  advance,
  intervalMs,
  isFailure,
  judge,
  spread,
  TARGET_RANKS,
  type Evidence,
  type Standing,
} from '../core/targets'
import { seeded } from '../server/database/seed/chance'
import { HOSTS } from '../server/database/seed/port-ansel-links'
import { asItIs, asItWas, portAnselSites, type DemoSite } from '../server/database/seed/port-ansel-sites'
import type { Database } from '../server/database/open'
import type { TargetModel } from '../server/database/models/target'
import { keepTargetCase } from '../server/docket/targets/keep-target-cases'
import type { NamesContext } from '../server/names/context'
import { NO_POLITENESS, type Asker } from '../server/targets/asker'
import { checkDestination } from '../server/targets/check'
import { patienceOf, readSettings } from '../server/usecases/targets/check-settings'
import { makeOwnAnswers } from '../server/usecases/targets/own-answers'
import { makeLookUp } from '../server/targets/resolve'
import { findRemedies } from '../server/usecases/targets/find-remedies'
import { ensureTargets } from '../server/usecases/targets/link-targets'
import { untilAnswers } from './processes'
import type { System } from './system'

/** Where names say the sites are. */
export const SITES_ADDRESS = '198.51.100.20'
const HOUR = 3_600_000
const DAY = 24 * HOUR
const AT_ONCE = 16

/** The ports of the sites, from the first port of the outside world on. */
export const sitePorts = (base: number) => ({ http: base + 40, https: base + 41, control: base + 42 })
type Ports = ReturnType<typeof sitePorts>

/** Our own short domains are no sites of others. */
const OWN = new Set<string>(Object.values(HOSTS))
const sites = (): DemoSite[] => portAnselSites().filter(({ host }) => !OWN.has(host))

export const authorityFile = (system: System) => join(system.settings.folder, 'sites-authority.pem')

/** Records for every site that still has a name, by the zone it is in: the last two labels. */
export function siteNames(): Map<string, string[]> {
  const zones = new Map<string, string[]>()
  for (const { host, nameGone } of sites()) {
    if (nameGone) continue
    const labels = host.split('.')
    const zone = labels.slice(-2).join('.')
    zones.set(zone, [...(zones.get(zone) ?? []), labels.slice(0, -2).join('.') || '@'])
  }
  return zones
}

/** Starts the sites and waits until they answer. */
export async function startSites(system: System, ports: Ports): Promise<void> {
  system.start('sites', ['dist/sites.mjs'], {
    FIDES_SITES_HTTP_PORT: String(ports.http),
    FIDES_SITES_HTTPS_PORT: String(ports.https),
    FIDES_SITES_CONTROL_PORT: String(ports.control),
    FIDES_SITES_AUTHORITY: authorityFile(system),
  })
  await untilAnswers(`http://127.0.0.1:${ports.control}/`)
  await putSites(ports, asItIs)
}

async function putSites(ports: Ports, as: (site: DemoSite) => DemoSite): Promise<void> {
  const response = await fetch(`http://127.0.0.1:${ports.control}/sites`, {
    method: 'PUT',
    body: JSON.stringify(sites().map(as)),
  })
  if (!response.ok) throw new Error(`the stand-in sites answered ${response.status}: ${await response.text()}`)
}

/**
 * Lets the past checks be: every destination is asked once as its site was and, where something has gone wrong since,
 * once as it is; what was seen is noted as seen at times before. Does nothing where there are checks already.
 */
export async function fillPastChecks(
  system: System,
  db: Database,
  names: NamesContext,
  ports: Ports,
  print: (line: string) => void,
): Promise<void> {
  if ((await db.TargetCheck.count()) > 0) return
  await ensureTargets(db, null)
  const targets = await db.Target.findAll()
  const asker: Asker = {
    lookUp: () => Promise.resolve({ ok: true, addresses: [SITES_ADDRESS] }),
    mayAsk: () => true,
    way: (_address, port) => ({ host: '127.0.0.1', port: port === 443 ? ports.https : ports.http }),
    turns: NO_POLITENESS,
    own: makeOwnAnswers(db),
    userAgent: 'Fides/1.0 (destination check)',
    trust: createSecureContext({ ca: readFileSync(authorityFile(system), 'utf8') }),
    timeoutMs: 4000,
  }
  await putSites(ports, asItWas)
  const well = await askAll(asker, targets)
  await putSites(ports, asItIs)
  const lookUp = makeLookUp(names)
  const real: Asker = {
    ...asker,
    // What no name server knows leads nowhere; all else is where it was.
    lookUp: async (host) => ((await lookUp(host)).ok ? { ok: true, addresses: [SITES_ADDRESS] } : lookUp(host)),
    mayAsk: names.mayAsk,
  }
  const since = troubledSince(targets)
  const troubled = targets.filter(({ id }) => since.has(id))
  const now = await askAll(real, troubled)
  await writePast(db, targets, well, now, since)
  const { brokenAfter, brokenOverMinutes } = await readSettings(db)
  // Once more at the end for those whose sisters’ remedies tell of a move.
  for (const { id } of [
    ...troubled,
    ...troubled.filter(({ destination }) => destination.includes('/service-changes/')),
  ]) {
    const target = (await db.Target.findByPk(id))!
    await target.update({ remedies: await findRemedies(db, real, target), remediesAt: new Date(), remediesDue: false })
  }
  for (const { id } of troubled) {
    const target = (await db.Target.findByPk(id))!
    await keepTargetCase(db, target, patienceOf({ brokenAfter, brokenOverMinutes }))
    // A case opens once failures are settled.
    const opened = new Date(target.since!.getTime() + brokenOverMinutes * 60_000)
    await db.DocketCase.update({ openedAt: opened }, { where: { caseKey: target.hash } })
  }
  print(`targets: ${targets.length.toLocaleString('en')} destinations with past checks, ${troubled.length} in trouble`)
}

async function askAll(asker: Asker, targets: readonly TargetModel[]): Promise<Map<number, Evidence>> {
  const limit = pLimit(AT_ONCE)
  const seen = await Promise.all(
    targets.map((target) =>
      limit(async () => [target.id, (await checkDestination(asker, target.destination)).evidence] as const),
    ),
  )
  return new Map(seen)
}

/** For each target in trouble, since how many hours. */
function troubledSince(targets: readonly TargetModel[]): Map<number, number> {
  const byHost = new Map(sites().map((site) => [site.host, site]))
  const found = new Map<number, number>()
  for (const { id, destination } of targets) {
    const { hostname, pathname } = new URL(destination)
    const paths = Object.entries(byHost.get(hostname)?.since ?? {})
    const [first] = paths
      .filter(([path]) => pathname === path || pathname.startsWith(path.endsWith('/') ? path : `${path}/`))
      // A parameter is lost where there is one; the front page alone is played as such.
      .filter(([path]) => path !== '/' || hostname !== 'harbourferries.example' || pathname === '/')
      .sort(([a], [b]) => b.length - a.length)
    if (first) found.set(id, first[1])
  }
  return found
}

/** When a target was checked in the past, in hours before now, the oldest first. */
function pastHours(troubleHours: number | undefined): number[] {
  const well = [960, 720, 480, 240, 120, 60, 30, 14, 6, 1.5]
  if (troubleHours === undefined) return well
  const then = [0, 0.2, 1.3, 2.4, 6, 12, 24, 48, 96, 240, 480, 800, 1000]
    .map((after) => troubleHours - after)
    .filter((hours) => hours > 0.3)
  return [...well.filter((hours) => hours > troubleHours + 1), ...then]
}

async function writePast(
  db: Database,
  targets: readonly TargetModel[],
  well: ReadonlyMap<number, Evidence>,
  now: ReadonlyMap<number, Evidence>,
  since: ReadonlyMap<number, number>,
): Promise<void> {
  const patience = patienceOf(await readSettings(db))
  const random = seeded(11)
  const present = Date.now()
  for (const target of targets) {
    const trouble = since.get(target.id)
    let standing: Standing | null = null
    let last: Evidence | undefined
    const rows = pastHours(trouble).map((hours) => {
      const seen = trouble !== undefined && hours <= trouble ? now.get(target.id)! : well.get(target.id)!
      const at = Math.round(present - hours * HOUR)
      last = {
        ...seen,
        at,
        hops: seen.hops.map((hop) => (hop.fault ? hop : { ...hop, milliseconds: 20 + Math.round(random() * 90) })),
      }
      const judged = judge(last)
      standing = advance(standing, judged, at, patience)
      return {
        targetId: target.id,
        at: new Date(at),
        verdict: judged.verdict,
        failed: isFailure(judged.verdict),
        milliseconds: last.hops.reduce((sum, hop) => sum + hop.milliseconds, 0),
        evidence: last,
      }
    })
    await db.TargetCheck.bulkCreate(rows)
    const stands: Standing = standing!
    const before = well.get(target.id)!
    const interval = intervalMs({ standing: stands, visitsADay: 1, since: present - 30 * DAY, now: present })
    await target.update({
      verdict: stands.verdict,
      confidence: stands.confidence,
      sentence: stands.sentence,
      since: new Date(stands.since),
      standing: stands,
      final: judge(last!).final,
      title: before.page?.title ?? '',
      card: before.page?.card ?? null,
      frames: before.hops.at(-1)!.fields && { frameOptions: null, frameAncestors: null },
      evidence: last!,
      checkedAt: rows.at(-1)!.at,
      checks: rows.length,
      dueAt: new Date(present + spread(interval, random()) * (0.2 + 0.8 * random())),
    })
  }
  for (const [confidence, rank] of Object.entries(TARGET_RANKS))
    await db.sequelize.query(
      'UPDATE link l JOIN target t ON t.hash = l.destination_hash SET l.target_rank = ? WHERE t.confidence = ?',
      { replacements: [rank, confidence] },
    )
}
