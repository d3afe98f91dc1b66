import { spawn, spawnSync } from 'node:child_process'
import { readdirSync, readFileSync } from 'node:fs'
import mariadb from 'mariadb'
import { connectionConfig } from '../environment/database-url'

/** What one load saw. */
export interface Load {
  requests: number
  seconds: number
  /** Microseconds. */
  p99: number
  errors: number
}

/** Asks random slugs of `links` for so many seconds over 32 connections, from one thread. */
export function load(port: number, seconds: number, links: number, scheme = 'http'): Promise<Load> {
  return new Promise((resolve, reject) => {
    const wrk = spawn(
      'wrk',
      ['-t1', '-c32', `-d${seconds}s`, '-s', 'scripts/bench-gateway.lua', `${scheme}://127.0.0.1:${port}/`],
      { env: { ...process.env, LINKS: String(links) } },
    )
    let text = ''
    wrk.stdout.on('data', (piece) => (text += piece))
    wrk.on('error', reject)
    wrk.on('exit', () => {
      const line = text.split('\n').find((candidate) => candidate.startsWith('{'))
      if (line) resolve(JSON.parse(line) as Load)
      else reject(new Error(`wrk said: ${text}`))
    })
  })
}

const TICK_MS = 1000 / Number(spawnSync('getconf', ['CLK_TCK'], { encoding: 'utf8' }).stdout || 100)

/** A process and those it started, down to the last. */
export function family(pid: number): number[] {
  const all = new Map<number, number[]>()
  for (const name of readdirSync('/proc')) {
    if (!/^\d+$/.test(name)) continue
    const fields = stat(Number(name))
    if (fields) all.set(Number(fields[1]), [...(all.get(Number(fields[1])) ?? []), Number(name)])
  }
  const found = [pid]
  for (const one of found) found.push(...(all.get(one) ?? []))
  return found
}

function stat(pid: number): string[] | undefined {
  try {
    const text = readFileSync(`/proc/${pid}/stat`, 'latin1')
    return text.slice(text.lastIndexOf(')') + 2).split(' ')
  } catch {
    return undefined
  }
}

/** Processor time of processes so far, in milliseconds (proc(5): utime and stime). */
export const processorMs = (pids: readonly number[]): number =>
  pids.reduce((sum, pid) => {
    const fields = stat(pid)
    return fields ? sum + (Number(fields[11]) + Number(fields[12])) * TICK_MS : sum
  }, 0)

export const median = (numbers: readonly number[]): number => [...numbers].sort((a, b) => a - b)[numbers.length >> 1]!
export const quantile = (numbers: readonly number[], share: number): number =>
  [...numbers].sort((a, b) => a - b)[Math.min(numbers.length - 1, Math.floor(numbers.length * share))]!
export const round = (number: number, digits = 3): number => Number(number.toFixed(digits))

/** The host and the links every load asks. */
export const BENCH_HOST = 'bench.example'
export const slugOf = (number: number): string => `stop/${number}`
export const destinationOf = (number: number): string =>
  `https://live.portanseltransit.example/departures?stop=${number}`

/** Lays out links `from` to `to` of the bench's domain; the first time the domain as well. */
export async function fillLinks(url: string, from: number, to: number): Promise<void> {
  const connection = await mariadb.createConnection(connectionConfig(url))
  await connection.query(
    "INSERT IGNORE INTO organisation (id, name, time_zone, created_at) VALUES (1, 'Bench', 'Europe/Lisbon', NOW())",
  )
  await connection.query(
    'INSERT IGNORE INTO domain (id, host, standing, created_at, updated_at) VALUES ' +
      `(1, '${BENCH_HOST}', 'open', NOW(), NOW())`,
  )
  const step = 5000
  for (let at = from; at <= to; at += step) {
    const numbers = Array.from({ length: Math.min(step, to - at + 1) }, (_, index) => at + index)
    await connection.query(
      'INSERT INTO link (domain_id, slug, canonical, destination, destination_hash, status, created_at, ' +
        `updated_at) VALUES ${numbers.map(() => '(1, ?, ?, ?, SHA2(?, 256), 302, NOW(3), NOW(3))').join(',')}`,
      numbers.flatMap((number) => [slugOf(number), slugOf(number), destinationOf(number), String(number)]),
    )
  }
  await connection.end()
}
