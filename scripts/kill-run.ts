// Kills processes at random moments while visitors ask and people edit, and counts what went wrong.
import { readFileSync } from 'node:fs'
import { Agent, request } from 'node:http'
import { join } from 'node:path'
import { QueryTypes } from 'sequelize'
import { seeded } from '../server/database/seed/chance'
import type { Database } from '../server/database/open'
import { trafficQuery } from '../core/schemas'
import { answerTraffic } from '../server/usecases/traffic/answer-traffic'
import { VisitStore } from '../server/usecases/traffic/visit-store'
import { rawVisits } from '../server/usecases/traffic/visit-parts'
import { livingServings } from '../environment/serving-folder'
import type { System } from './system'

const DAY_MS = 86_400_000

export interface KillPlan {
  system: System
  db: Database
  /** Edits one of the links; gives whether that was taken. */
  edit: (link: number, destination: string) => Promise<boolean>
  host: string
  /** Slugs of the links, by number, with where they lead at the beginning. */
  links: { id: number; slug: string; destination: string }[]
  kills: number
  seed: number
  /** Milliseconds between two kills, at most. */
  pauseMs: number
  print?: (line: string) => void
}

export interface KillFigures {
  kills: Record<string, number>
  answered: number
  edits: number
  /** Answers the register never had. */
  wrong: string[]
  /** Connections refused while a gateway process lived. */
  refused: number
  /** Requests that a killed process took along. */
  broken: number
  /** Answered visits that are not stored, and those of them answered within the flush before a kill of a gateway. */
  lost: number
  lostInFlush: number
  /** Visits stored more than once. */
  twice: number
  /** By how many the figures of traffic differ from the visits that are stored, and those summed by link and day. */
  miscounted: number
  /** Seconds until the slowest was back. */
  slowestBackSeconds: number
}

/** A gateway writes what it has every 100 ms; a machine that is busy may take longer to get to it. */
const FLUSH_MS = 300
const TARGETS = ['gateway', 'leader', 'shipper', 'worker', 'admin', 'database'] as const
type Target = (typeof TARGETS)[number]

export async function killRun(plan: KillPlan): Promise<KillFigures> {
  const { system, db, links, host } = plan
  const random = seeded(plan.seed)
  const port = system.settings.FIDES_GATEWAY_PORT
  const figures: KillFigures = {
    kills: {},
    answered: 0,
    edits: 0,
    wrong: [],
    refused: 0,
    broken: 0,
    lost: 0,
    lostInFlush: 0,
    twice: 0,
    miscounted: 0,
    slowestBackSeconds: 0,
  }
  // Every destination a link ever was given, also where whoever gave it never heard whether it was taken.
  const had = links.map(({ destination }) => new Set([destination]))
  const answeredAt = new Map<string, number>()
  const gatewayKills: number[] = []
  let going = true
  let gatewaysAlive = true
  let number = 0

  const agent = new Agent({ keepAlive: true, maxSockets: 16 })
  const visit = (): Promise<void> =>
    new Promise((resolve) => {
      const which = Math.floor(random() * links.length)
      const mark = `k${++number}.test`
      const sent = request(
        {
          host: '127.0.0.1',
          port,
          path: `/${links[which]!.slug}`,
          agent,
          headers: {
            host,
            referer: `https://${mark}/`,
            'user-agent': 'Mozilla/5.0 (X11; Linux x86_64; rv:132.0) Gecko/20100101 Firefox/132.0',
          },
        },
        (response) => {
          response.resume()
          const { location } = response.headers
          figures.answered++
          answeredAt.set(mark, Date.now())
          if (response.statusCode !== 302 || !had[which]!.has(location ?? ''))
            figures.wrong.push(`${links[which]!.slug}: ${response.statusCode} ${location}`)
          response.on('end', resolve).on('error', () => resolve())
        },
      )
      sent.on('error', (error: NodeJS.ErrnoException) => {
        if (error.code === 'ECONNREFUSED' && gatewaysAlive) figures.refused++
        else figures.broken++
        resolve()
      })
      sent.end()
    })
  const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms))
  const visitors = Array.from({ length: 8 }, async () => {
    while (going) {
      await visit()
      await pause(20)
    }
  })
  const editors = Array.from({ length: 2 }, async (_, editor) => {
    for (let edit = 0; going; edit++) {
      const which = Math.floor(random() * links.length)
      const destination = `https://edited.example/${editor}/${edit}`
      had[which]!.add(destination)
      if (await plan.edit(which, destination).catch(() => false)) figures.edits++
      await pause(100)
    }
  })

  const pidOf = (name: string) => system.processes.find((running) => running.name === name)?.child.pid
  const serving = () => livingServings(join(system.settings.folder, 'gateway'))
  const pidsOf = (target: Target): number[] => {
    if (target === 'gateway') return serving()
    if (target === 'leader') return [pidOf('gateway')].filter((pid) => pid !== undefined)
    if (target === 'database')
      return [Number(readFileSync(join(system.databaseFolder, 'server.pid'), 'utf8').trim())].filter(Boolean)
    const pid = pidOf(target)
    return pid === undefined ? [] : [pid]
  }
  const lives = (pid: number) => {
    try {
      process.kill(pid, 0)
      return true
    } catch {
      return false
    }
  }
  const servingNow = () =>
    fetch(`http://127.0.0.1:${system.settings.FIDES_GATEWAY_CONTROL_PORT}/health`)
      .then((answer) => answer.json() as Promise<{ processes: number }>)
      .then(({ processes }) => processes)
      .catch(() => 0)
  const wellWithin = async (ms: number): Promise<boolean> => {
    const give = Date.now() + ms
    while (Date.now() < give) {
      const [ready, health] = await Promise.all([
        fetch(`http://127.0.0.1:${system.settings.FIDES_GATEWAY_CONTROL_PORT}/health`)
          .then((answer) => answer.json() as Promise<{ status: string; processes: number }>)
          .catch(() => undefined),
        fetch(`${system.adminAddress}/api/v1/health`, { signal: AbortSignal.timeout(3000) })
          .then((answer) => answer.json() as Promise<{ status: string }>)
          .catch(() => undefined),
      ])
      if (ready?.status === 'ok' && ready.processes === 2 && health?.status === 'ok') return true
      await pause(50)
    }
    return false
  }

  for (let kill = 1; kill <= plan.kills; kill++) {
    await pause(random() * plan.pauseMs)
    const target = TARGETS[Math.floor(random() * TARGETS.length)]!
    const pids = pidsOf(target).filter(lives)
    // Of two gateways one lives on: while the other is away, or starts and does not answer yet, this one waits.
    if (target === 'gateway' && (pids.length < 2 || (await servingNow()) < 2)) {
      kill--
      continue
    }
    const pid = pids[Math.floor(random() * pids.length)]
    if (pid === undefined) {
      kill--
      continue
    }
    if (target === 'gateway') gatewayKills.push(Date.now())
    process.kill(pid, 'SIGKILL')
    figures.kills[target] = (figures.kills[target] ?? 0) + 1
    gatewaysAlive = serving().filter(lives).length > 0
    if (kill % 20 === 0) {
      plan.print?.(`${kill} kills, ${figures.answered} answers, ${figures.edits} edits`)
      const began = Date.now()
      if (!(await wellWithin(60_000))) figures.wrong.push(`not all was back within a minute after kill ${kill}`)
      figures.slowestBackSeconds = Math.max(figures.slowestBackSeconds, (Date.now() - began) / 1000)
    }
  }
  const began = Date.now()
  if (!(await wellWithin(60_000))) figures.wrong.push('not all was back within a minute at the end')
  figures.slowestBackSeconds = Math.max(figures.slowestBackSeconds, (Date.now() - began) / 1000)
  going = false
  await Promise.all([...visitors, ...editors])
  agent.destroy()

  // What waits in the spool is on its way.
  const give = Date.now() + 60_000
  for (;;) {
    const told = (await (
      await fetch(`http://127.0.0.1:${system.settings.FIDES_GATEWAY_CONTROL_PORT}/health`)
    ).json()) as { spooledBatches: number }
    await pause(1500)
    if (told.spooledBatches === 0 || Date.now() > give) break
  }
  const stored = new Map<string, number>()
  for await (const { referrer } of rawVisits(db, new Date(Date.now() - DAY_MS), new Date(Date.now() + DAY_MS)))
    if (/^k.*\.test$/.test(referrer)) stored.set(referrer, (stored.get(referrer) ?? 0) + 1)
  for (const [mark, at] of answeredAt) {
    if (stored.has(mark)) continue
    if (gatewayKills.some((killed) => at <= killed + 50 && killed - at <= FLUSH_MS)) figures.lostInFlush++
    else figures.lost++
  }
  figures.twice = [...stored.values()].filter((times) => times > 1).length
  const told = await answerTraffic(
    new VisitStore(db),
    trafficQuery.parse({
      from: new Date(Date.now() - DAY_MS).toISOString(),
      to: new Date(Date.now() + DAY_MS).toISOString(),
      'referrer-kind': 'other',
    }),
  )
  const [sums] = await db.sequelize.query<{ visits: string }>('SELECT SUM(visits) AS visits FROM visit_day', {
    type: QueryTypes.SELECT,
  })
  const all = [...stored.values()].reduce((sum, times) => sum + times, 0)
  figures.miscounted = Math.abs(told.total - all) + Math.abs(Number(sums?.visits ?? 0) - all)
  return figures
}
