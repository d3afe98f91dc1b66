import { spawn, type ChildProcess } from 'node:child_process'
import { copyFileSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { request } from 'node:http'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { freePort } from '../../scripts/ports'
import { TestFides, until } from './fides'

interface TcpWrap {
  TCP: new (type: number) => { fd: number; bind(host: string, port: number): number; close(): void }
  constants: { SERVER: number }
}

let fides: TestFides
const folder = mkdtempSync(join(tmpdir(), 'fides-port-'))
beforeAll(async () => {
  fides = await TestFides.start()
  await fides.link({ slug: 'printed-1' })
})
afterAll(async () => {
  await fides.stop()
  rmSync(folder, { recursive: true, force: true })
})

const ended = (child: ChildProcess) => new Promise((resolve) => child.once('exit', resolve))
const ask = (port: number) =>
  new Promise<number>((resolve, reject) =>
    request(
      { host: '127.0.0.1', port, path: '/printed-1', agent: false, headers: { host: 'ansl.example' } },
      (response) => resolve(response.resume().statusCode!),
    )
      .on('error', reject)
      .end(),
  )
/** What a gateway of its own is told, beside the one that runs already. */
const environment = (port: number, controlPort: number) => ({
  ...process.env,
  ...fides.system.environment(),
  FIDES_GATEWAY_PORT: String(port),
  FIDES_GATEWAY_CONTROL_PORT: String(controlPort),
  FIDES_GATEWAY_STATE: join(folder, String(controlPort)),
})
const ready = (controlPort: number) =>
  until('ready', () =>
    fetch(`http://127.0.0.1:${controlPort}/ready`).then(
      ({ ok }) => ok,
      () => false,
    ),
  )

describe('a port that is handed down, as systemd does', () => {
  it('outlives every process: who asks while none is up waits, and is answered', async () => {
    const [port, controlPort] = await Promise.all([freePort(), freePort()])
    // Bound here and never accepted from, as systemd holds it; who is started has it as descriptor 3
    // (sd_listen_fds(3)).
    // Node has no public way to bind without accepting.
    const { TCP, constants } = (process as unknown as { binding(name: 'tcp_wrap'): TcpWrap }).binding('tcp_wrap')
    const holder = new TCP(constants.SERVER)
    expect(holder.bind('127.0.0.1', port)).toBe(0)
    const gateway = () =>
      spawn('sh', ['-c', 'LISTEN_PID=$$ LISTEN_FDS=1 exec "$0" dist/gateway.mjs', process.execPath], {
        env: environment(1, controlPort),
        stdio: ['ignore', 'ignore', 'inherit', holder.fd],
      })
    const first = gateway()
    await ready(controlPort)
    expect(await ask(port)).toBe(302)
    first.kill('SIGTERM')
    await ended(first)
    const waiting = ask(port)
    const second = gateway()
    expect(await waiting).toBe(302)
    second.kill('SIGTERM')
    await ended(second)
    holder.close()
  }, 60_000)
})

describe('a release that cannot serve', () => {
  it('leaves the old processes in their place, and is not tried again by itself', async () => {
    // Below the project, so that it finds its packages.
    const release = join('test-results', `release-${process.pid}`)
    mkdirSync(release, { recursive: true })
    for (const file of ['gateway.mjs', 'likely.mjs']) copyFileSync(join('dist', file), join(release, file))
    const [port, controlPort] = await Promise.all([freePort(), freePort()])
    let said = ''
    const gateway = spawn(process.execPath, [join(release, 'gateway.mjs')], { env: environment(port, controlPort) })
    gateway.stdout.on('data', (piece: Buffer) => (said += piece.toString()))
    try {
      await ready(controlPort)
      writeFileSync(join(release, 'gateway.mjs'), 'process.exit(1)\n')
      gateway.kill('SIGHUP')
      await until('the trial', () => said.includes('does not serve; the old ones stay'))
      expect(await ask(port)).toBe(302)
      const health = async () => (await fetch(`http://127.0.0.1:${controlPort}/health`)).json()
      expect(await health()).toMatchObject({ status: 'ok', processes: 1, handovers: 0 })
      copyFileSync(join('dist', 'gateway.mjs'), join(release, 'gateway.mjs'))
      gateway.kill('SIGHUP')
      await until('the handover', async () => ((await health()) as { handovers: number }).handovers === 1)
      expect(await ask(port)).toBe(302)
      expect(said).not.toContain('ended unexpectedly')
    } finally {
      gateway.kill('SIGTERM')
      await ended(gateway)
      rmSync(release, { recursive: true, force: true })
    }
  }, 60_000)
})
