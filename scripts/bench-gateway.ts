// npm run bench:gateway: our gateway, visits written and shipped, against a bare node:http server, alternating in one
// run; with as many links as one names, 100,000 and 1,000,000 by themselves.
import { spawnSync } from 'node:child_process'
import { existsSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { startApache, startCaddy, startNginx, type Engine } from './bench-engines'
import { family, fillLinks, load, median, processorMs, round, type Load } from './bench-load'
import { fillSpool } from './bench-spool'
import { BenchSystem, print } from './bench-system'
import { freePort } from './ports'
import { startNode, untilAnswers, type Running } from './processes'
import { runCommand } from './run-command'

const SIZES = process.argv[2] ? [Number(process.argv[2])] : [100_000, 1_000_000]
const ROUNDS = 15
const SECONDS = 2
const APACHE_RULES = 1000
/** Visits that wait at the beginning, so that the shipper works beside both all the time. */
const WAITING = 2_000_000

const system = await BenchSystem.make()
const { folder, FIDES_GATEWAY_PORT: gateway, FIDES_GATEWAY_CONTROL_PORT: control } = system.settings
const [barePort, nginxPort, apachePort, caddyPort] = await Promise.all([freePort(), freePort(), freePort(), freePort()])
const speed = (seen: Load) => seen.requests / seen.seconds

async function startGateway(links: number, processes = 1): Promise<{ running: Running; seconds: number }> {
  const began = performance.now()
  const running = system.start('gateway', ['dist/gateway.mjs'], { FIDES_GATEWAY_PROCESSES: String(processes) })
  await untilAnswers(`http://127.0.0.1:${control}/health`, 300_000, async (response) => {
    const health = (await response.json()) as { links: number; processes: number }
    return health.links === links && health.processes === processes
  })
  return { running, seconds: (performance.now() - began) / 1000 }
}

/** Median ratio to bare of something else, by three rounds. */
async function beside(engine: Engine, port: number, links: number, scheme = 'http'): Promise<[number, number]> {
  try {
    await untilAnswers(`http://127.0.0.1:${port}/`, 30_000)
    const speeds: number[] = []
    const ratios: number[] = []
    await load(port, 1, links, scheme)
    for (let number = 0; number < 3; number++) {
      const theirs = speed(await load(port, SECONDS, links, scheme))
      speeds.push(Math.round(theirs))
      ratios.push(theirs / speed(await load(barePort, SECONDS, links)))
    }
    return [median(speeds), round(median(ratios))]
  } finally {
    await engine.stop()
  }
}

async function measure(links: number, bare: Running) {
  const first = await startGateway(links)
  // A stop writes the snapshot; the next start finds it.
  await system.end('gateway')
  const { running, seconds } = await startGateway(links)
  const memory = JSON.parse(
    spawnSync(
      process.execPath,
      ['--expose-gc', '--import', 'tsx', 'scripts/bench-memory.ts', join(folder, 'gateway/1/table.snapshot')],
      { encoding: 'utf8' },
    ).stdout,
  ) as { bytesPerLink: number }
  fillSpool(join(folder, 'gateway'), WAITING, links)
  system.start('shipper', ['dist/shipper.mjs'])
  const ourPids = family(running.child.pid!)
  const theirPids = [bare.child.pid!]
  print(`${links.toLocaleString('en')} links: warming up`)
  await load(barePort, SECONDS, links)
  await load(gateway, SECONDS, links)
  const ratios: number[] = []
  const p99Ratios: number[] = []
  const processorRatios: number[] = []
  let errors = 0
  for (let number = 1; number <= ROUNDS; number++) {
    const turn = async (port: number, pids: number[]) => {
      const before = processorMs(pids)
      const seen = await load(port, SECONDS, links)
      return { seen, microseconds: ((processorMs(pids) - before) * 1000) / seen.requests }
    }
    // Who goes first changes from round to round, so that a machine slowing down favours neither.
    const before = number % 2 ? await turn(barePort, theirPids) : undefined
    const ours = await turn(gateway, ourPids)
    const theirs = before ?? (await turn(barePort, theirPids))
    ratios.push(speed(ours.seen) / speed(theirs.seen))
    p99Ratios.push(ours.seen.p99 / theirs.seen.p99)
    processorRatios.push(theirs.microseconds / ours.microseconds)
    // A bare 302 counts as no error for wrk; neither does ours.
    errors += ours.seen.errors
    print(
      `round ${number}: ours ${Math.round(speed(ours.seen)).toLocaleString('en')}/s, p99 ` +
        `${round(ours.seen.p99 / 1000, 2)} ms, ${round(ours.microseconds, 1)} µs; bare ` +
        `${Math.round(speed(theirs.seen)).toLocaleString('en')}/s, p99 ${round(theirs.seen.p99 / 1000, 2)} ms, ` +
        `${round(theirs.microseconds, 1)} µs`,
    )
  }
  const tls =
    links === SIZES[0] ? await beside(startCaddy(folder, caddyPort, gateway), caddyPort, links, 'https') : undefined
  await system.end('gateway')
  await system.end('shipper')
  return {
    links,
    ratioToBareNode: round(median(ratios)),
    p99RatioToBareNode: round(median(p99Ratios)),
    ratioByProcessorTime: round(median(processorRatios)),
    bytesPerLink: memory.bytesPerLink,
    coldStartSeconds: round(seconds, 2),
    databaseStartSeconds: round(first.seconds, 2),
    errors,
    ...(tls && { throughTlsPerSecond: tls[0], throughTlsRatio: tls[1] }),
  }
}

await runCommand(system, async () => {
  if (!existsSync('dist/gateway.mjs') || process.env.FIDES_REBUILD)
    spawnSync(process.execPath, ['scripts/build-processes.mjs'], { stdio: 'inherit' })
  await system.startDatabase()
  const bare = startNode('bare', ['scripts/bench-bare.mjs', String(barePort)], {}, print, () => undefined)
  await untilAnswers(`http://127.0.0.1:${barePort}/`)
  const sizes = []
  let filled = 0
  for (const links of SIZES) {
    print(`filling ${links.toLocaleString('en')} links`)
    await fillLinks(system.databaseUrl, filled + 1, links)
    filled = links
    // Filled past the ledger: a snapshot of before would be served as it is.
    rmSync(join(folder, 'gateway', '1'), { recursive: true, force: true })
    sizes.push(await measure(links, bare))
    print(JSON.stringify(sizes.at(-1)))
  }
  await startGateway(filled, 2)
  await load(gateway, SECONDS, filled)
  const twoProcesses = Math.round(
    median([speed(await load(gateway, 4, filled)), speed(await load(gateway, 4, filled))]),
  )
  await system.end('gateway')
  const nginx = await beside(startNginx(folder, nginxPort, SIZES[0]!), nginxPort, SIZES[0]!)
  const apache = await beside(startApache(folder, apachePort, APACHE_RULES), apachePort, APACHE_RULES)
  await bare.stop()
  await system.leave()
  print(
    JSON.stringify({
      bench: 'gateway',
      sizes,
      twoProcessesPerSecond: twoProcesses,
      nginxMap: { links: SIZES[0], perSecond: nginx[0], ratioToBareNode: nginx[1] },
      apacheRedirects: { links: APACHE_RULES, perSecond: apache[0], ratioToBareNode: apache[1] },
    }),
  )
})
