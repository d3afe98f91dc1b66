// npm run fuzz:gateway [-- REQUESTS]: hostile input over raw sockets, a million requests or as many as one names.
import { readFileSync } from 'node:fs'
import { connect } from 'node:net'
import { BENCH_HOST, destinationOf, family, fillLinks, slugOf } from './bench-load'
import { BenchSystem, print } from './bench-system'
import { buildIfChanged } from './build'
import { fuzz } from './fuzz'
import { untilAnswers } from './processes'
import { runCommand } from './run-command'

const REQUESTS = Number(process.argv[2] ?? 1_000_000)
const SEED = Number(process.argv[3] ?? Date.now() % 1e9)
const LINKS = 2000
const SLOW = 2000

const system = await BenchSystem.make()
const gateway = system.settings.FIDES_GATEWAY_PORT
/** Resident memory of processes, in megabytes (proc(5)). */
const megabytes = (pids: readonly number[]) =>
  Math.round(
    pids.reduce((sum, pid) => {
      try {
        return sum + Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0)
      } catch {
        return sum
      }
    }, 0) / 1024,
  )

await runCommand(system, async () => {
  buildIfChanged(print)
  await system.startDatabase()
  await fillLinks(system.databaseUrl, 1, LINKS)
  const running = system.start('gateway', ['dist/gateway.mjs'])
  system.start('shipper', ['dist/shipper.mjs'])
  await untilAnswers(
    `${system.control}/health`,
    60_000,
    async (response) => ((await response.json()) as { links: number }).links === LINKS,
  )
  const before = family(running.child.pid!)
  const known = Array.from({ length: LINKS }, (_, index) => [slugOf(index + 1), destinationOf(index + 1)] as const)
  const target = { port: gateway, host: BENCH_HOST, known }
  // Senders of an octet now and then, beside all of it: they take connections, and nothing from anybody.
  const slow = Array.from({ length: SLOW }, () => {
    const socket = connect({ port: gateway, host: '127.0.0.1' })
    socket.on('error', () => undefined)
    socket.write('GET /stop/1 HTTP/1.1\r\nHost: ')
    return socket
  })
  const drip = setInterval(() => slow.forEach((socket) => socket.writable && socket.write('b')), 1000)
  let told = 0
  const memory: number[] = []
  const began = performance.now()
  const figures = await fuzz(target, {
    requests: REQUESTS,
    connections: 48,
    seed: SEED,
    progress: (done) => {
      if (done < told + REQUESTS / 10) return
      told = done
      const now = megabytes(family(running.child.pid!))
      memory.push(now)
      print(`${done.toLocaleString('en')} requests, ${now} MB`)
    },
  })
  const seconds = (performance.now() - began) / 1000
  clearInterval(drip)
  const slowLeft = slow.filter((socket) => !socket.destroyed).length
  for (const socket of slow) socket.destroy()
  const late = megabytes(family(running.child.pid!))
  const ended = before.filter((pid) => !family(running.child.pid!).includes(pid)).length
  await system.leave()
  for (const line of [...figures.faults, ...figures.outOfStep]) print(line)
  print(
    JSON.stringify({
      fuzz: 'gateway',
      seed: SEED,
      requests: figures.requests,
      answers: figures.answers,
      perSecond: Math.round(figures.requests / seconds),
      statuses: figures.statuses,
      faults: figures.faults.length,
      outOfStep: figures.outOfStep.length,
      processesEnded: ended,
      megabytes: [...memory, late],
      slowSenders: SLOW,
      slowSendersLeft: slowLeft,
    }),
  )
  process.exitCode = figures.faults.length + figures.outOfStep.length + ended > 0 ? 1 : 0
})
