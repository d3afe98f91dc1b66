import cluster, { type Worker } from 'node:cluster'
import type { Logger } from 'pino'
import type { z } from 'zod'
import { Backoff } from '../environment/backoff'
import { listen } from './listen'
import type { gatewayVariables } from '../environment/variables'
import { createControl } from './control'
import { livingServings } from '../environment/serving-folder'
import { isOurs, type ServingStatus, type ToLead, type ToServing } from './messages'
import { HANDOVER_PATIENCE_MS } from './serve'

/** Whoever has not ended so long after its patience is ended. */
const FORCE_MS = 6000
/** So long kept connections may go on where nobody takes over. */
const STOP_PATIENCE_MS = 2000
/** A fresh process that does not serve within this time leaves the old ones in their place. */
const START_MS = 120_000
const STATUS_MS = 1000
/** A process that ended is started again so soon the first time: nobody else may be answering. */
const FIRST_MS = 200

interface Serving {
  worker: Worker
  place: number
  began: number
  serves: boolean
  /** Whether it is started again when it ends; one that is to leave, or must show that it can serve at all, is not. */
  leaving: boolean
  openHosts: ReadonlySet<string>
}

/**
 * The process that leads: it holds the port, which the serving processes share and accept from by themselves, starts
 * one that ended again, and has fresh ones take the place of the old without a visitor noticing (SIGHUP). It answers
 * no visitor, and its end ends none of those that do: they serve on, and the next one that leads has fresh processes
 * take their place. Where the port is given, by systemd (sd_listen_fds(3)) or by the start command, it outlives this
 * process as well.
 */
export function lead(environment: z.output<typeof gatewayVariables>, logger: Logger): void {
  const log = (line: string) => logger.info(line)
  const servings = new Map<number, Serving>()
  const questions = new Map<number, (worker: number, status: ServingStatus) => void>()
  const backoff = new Backoff(FIRST_MS)
  let asked = 0
  let handovers = 0
  let restarts = 0
  let stopping = false
  let handing: Promise<void> = Promise.resolve()

  cluster.schedulingPolicy = cluster.SCHED_NONE
  // By the path it was started with, so that a link to another release leads the next process there.
  cluster.setupPrimary({ exec: process.argv[1] })
  const given =
    (process.env.LISTEN_PID === String(process.pid) && Number(process.env.LISTEN_FDS) > 0) ||
    process.env.FIDES_GATEWAY_LISTEN_FD === '3'
  const socket = given ? { FIDES_GATEWAY_FD: '3' } : {}

  /** Processes that serve on after the one that led them was killed. */
  function orphans(): number[] {
    const own = new Set([...servings.values()].map(({ worker }) => worker.process.pid))
    return livingServings(environment.FIDES_GATEWAY_STATE).filter((pid) => !own.has(pid))
  }
  function signalOrphans(signal: 'SIGUSR2' | 'SIGTERM'): number {
    const pids = orphans()
    for (const pid of pids) {
      try {
        process.kill(pid, signal)
      } catch {
        // It has just ended.
      }
    }
    return pids.length
  }
  /** Once as many serve as are wanted, those of before drain. */
  function takeOver(): void {
    const serving = [...servings.values()].filter(({ serves, leaving }) => serves && !leaving)
    if (serving.length < environment.FIDES_GATEWAY_PROCESSES) return
    const count = signalOrphans('SIGUSR2')
    if (count > 0) log(`took over from ${count} ${count === 1 ? 'process' : 'processes'} that had served on`)
  }

  function start(place: number, onTrial = false): Serving {
    const worker = cluster.fork({ FIDES_GATEWAY_PLACE: String(place), ...socket })
    const serving: Serving = {
      worker,
      place,
      began: Date.now(),
      serves: false,
      leaving: onTrial,
      openHosts: new Set(),
    }
    servings.set(worker.id, serving)
    worker.on('message', (message: unknown) => {
      if (!isOurs<ToLead>(message)) return
      if (message.type === 'serving') {
        serving.serves = true
        takeOver()
      } else if (message.type === 'open-hosts') serving.openHosts = new Set(message.hosts)
      else if (message.type === 'status') questions.get(message.id)?.(worker.id, message.status)
    })
    worker.on('error', () => undefined)
    worker.once('exit', (code, signal) => {
      servings.delete(worker.id)
      if (stopping) return void (servings.size === 0 && process.exit(0))
      if (serving.leaving) return
      // The port is held by processes that served on: they make room.
      if (!serving.serves && !given && code === 1 && signalOrphans('SIGUSR2') > 0)
        return void setTimeout(() => !stopping && start(place), FIRST_MS)
      // A bad value or a port in use: another try would not help. Who started this process says what then.
      if (!serving.serves && !given && (code === 78 || code === 1) && servings.size === 0) process.exit(code)
      const waitMs = backoff.next(`place ${place}`, Date.now() - serving.began, signal !== null)
      const how = signal === null ? `exit code ${code}` : `signal ${signal}`
      restarts++
      logger.warn(
        { exitCode: code, signal },
        `the process at place ${place} ended unexpectedly (${how}); restarting it in ${waitMs / 1000} s`,
      )
      setTimeout(() => !stopping && start(place), waitMs)
    })
    return serving
  }

  const tell = ({ worker }: Serving, message: ToServing) => {
    if (worker.isConnected()) worker.send(message, (error) => void error)
  }

  /** Starts one fresh process for each place, and has the old one drain once it serves. */
  async function handOver(): Promise<void> {
    const old = [...servings.values()].filter((serving) => !serving.leaving)
    for (const before of old) {
      const fresh = start(before.place, true)
      if (!(await becomes(fresh, START_MS))) {
        log(`a fresh process for place ${before.place} does not serve; the old ones stay`)
        fresh.worker.kill('SIGKILL')
        return
      }
      fresh.leaving = false
      drain(before, HANDOVER_PATIENCE_MS)
    }
    handovers++
    log(`handed over to ${old.length} fresh ${old.length === 1 ? 'process' : 'processes'}`)
  }

  function becomes(serving: Serving, patienceMs: number): Promise<boolean> {
    const give = Date.now() + patienceMs
    return new Promise((resolve) => {
      const timer = setInterval(() => {
        if (!serving.serves && servings.has(serving.worker.id) && Date.now() < give) return
        clearInterval(timer)
        resolve(serving.serves)
      }, 20)
    })
  }

  function drain(serving: Serving, patienceMs: number): void {
    serving.leaving = true
    tell(serving, { type: 'drain', patienceMs })
    const force = setTimeout(() => serving.worker.kill('SIGKILL'), patienceMs + FORCE_MS)
    serving.worker.once('exit', () => clearTimeout(force))
  }

  const control = createControl(environment.FIDES_GATEWAY_STATE, {
    statuses() {
      const id = ++asked
      const all = [...servings.values()].filter(({ serves, leaving }) => serves && !leaving)
      if (all.length === 0) return Promise.resolve([])
      const said = new Map<number, ServingStatus>()
      return new Promise((resolve) => {
        const end = () => {
          clearTimeout(timer)
          questions.delete(id)
          resolve([...said.values()])
        }
        const timer = setTimeout(end, STATUS_MS)
        questions.set(id, (worker, status) => {
          said.set(worker, status)
          if (said.size === all.length) end()
        })
        for (const serving of all) tell(serving, { type: 'status', id })
      })
    },
    handovers: () => handovers,
    restarts: () => restarts,
    serving: () => [...servings.values()].filter(({ serves }) => serves).length,
    isOpen: (host) => [...servings.values()].some(({ openHosts }) => openHosts.has(host)),
    nudge() {
      for (const serving of servings.values()) tell(serving, { type: 'nudge' })
    },
  })
  void listen(control, environment.FIDES_GATEWAY_CONTROL_PORT, '127.0.0.1', log)

  for (let place = 1; place <= environment.FIDES_GATEWAY_PROCESSES; place++) start(place)

  process.on('SIGHUP', () => {
    if (!stopping) handing = handing.then(handOver)
  })
  for (const signal of ['SIGTERM', 'SIGINT'] as const) {
    process.on(signal, () => {
      if (stopping) return
      stopping = true
      control.close()
      control.closeAllConnections()
      for (const serving of servings.values()) drain(serving, STOP_PATIENCE_MS)
      signalOrphans('SIGTERM')
      if (servings.size === 0) process.exit(0)
    })
  }
}
