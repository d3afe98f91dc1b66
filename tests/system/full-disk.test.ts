import { spawn } from 'node:child_process'
import { once } from 'node:events'
import { mkdtempSync, rmSync, symlinkSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { TestFides, until } from './fides'

let fides: TestFides
beforeAll(async () => {
  fides = await TestFides.start()
  await fides.link({ slug: 'printed', destination: 'https://www.example/printed' })
  await until('the link is live', async () => (await fides.visit('ansl.example/printed')).status === 302)
})
afterAll(() => fides.stop())

it('a start on a full disk serves printed addresses from the snapshot, and starts nothing that writes', async () => {
  const { settings } = fides.system
  // Everything ends in order: what the gateway knows is in its folder.
  await fides.system.stop()
  const home = mkdtempSync(join(tmpdir(), 'fides-full-'))
  symlinkSync(settings.folder, join(home, 'production'))
  const start = spawn(process.execPath, ['scripts/bootstrap.mjs', 'start'], {
    env: {
      ...process.env,
      FIDES_DATA: home,
      FIDES_ADMIN_PORT: String(settings.FIDES_ADMIN_PORT),
      FIDES_GATEWAY_PORT: String(settings.FIDES_GATEWAY_PORT),
      FIDES_GATEWAY_CONTROL_PORT: String(settings.FIDES_GATEWAY_CONTROL_PORT),
      FIDES_DATABASE_PORT: String(settings.FIDES_DATABASE_PORT),
      FIDES_LOG: 'readable',
      // More than any disk has.
      FIDES_MEGABYTES_NEEDED: '999999999',
    },
  })
  let said = ''
  for (const stream of [start.stdout, start.stderr]) stream.on('data', (text: Buffer) => (said += text.toString()))
  try {
    await until(
      'the gateway serves',
      async () => (await fides.visit('ansl.example/printed').catch(() => undefined))?.location,
      60_000,
    )
    expect((await fides.visit('ansl.example/printed')).location).toBe('https://www.example/printed')
    expect(said).toContain('the disk is nearly full')
    const desk = await fetch(`${fides.system.adminAddress}/api/v1/health`).catch(() => undefined)
    expect(desk).toBeUndefined()
  } finally {
    const ended = once(start, 'exit')
    start.kill('SIGTERM')
    await ended
    rmSync(home, { recursive: true, force: true })
  }
  await expect(fides.visit('ansl.example/printed')).rejects.toThrow('ECONNREFUSED')
}, 180_000)
