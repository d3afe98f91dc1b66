import { spawnSync } from 'node:child_process'
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { frontConfiguration, frontVariables } from '../../../scripts/front'

const folder = join(import.meta.dirname, '..', '..', '..', 'deploy', 'systemd')
const units = readdirSync(folder)
const hasSystemd = spawnSync('systemd-analyze', ['--version']).status === 0

describe('units', () => {
  it('are there for every process that faces somebody', () =>
    expect(units.sort()).toEqual([
      'fides-desk.service',
      'fides-front.service',
      'fides-gateway.service',
      'fides-gateway.socket',
      'fides-shipper.service',
      'fides-worker.service',
    ]))

  // systemd's own check, where it is on the machine; programs that are not installed here are no fault of a unit.
  it.runIf(hasSystemd).each(units)('%s is one to systemd', (unit) => {
    const { stderr } = spawnSync('systemd-analyze', ['verify', join(folder, unit)], { encoding: 'utf8' })
    const faults = stderr.split('\n').filter((line) => line.includes(unit) && !/is not executable|Failed to/.test(line))
    expect(faults).toEqual([])
  })

  it.each(units.filter((unit) => unit.endsWith('.service')))('%s runs without privileges, in a box', (unit) => {
    const text = readFileSync(join(folder, unit), 'utf8')
    for (const line of [
      'NoNewPrivileges=yes',
      'ProtectSystem=strict',
      'ProtectHome=yes',
      'PrivateTmp=yes',
      'UMask=0077',
      'Restart=always',
      'SystemCallFilter=@system-service',
    ])
      expect(text).toContain(line)
    expect(text).toMatch(/^CapabilityBoundingSet=(?:CAP_NET_BIND_SERVICE)?$/m)
    expect(/^User=root/m.test(text)).toBe(false)
  })
})

describe('the front’s configuration', () => {
  const place = { folder: '/var/lib/fides/front', gatewayPort: 8080, controlPort: 8081, adminPort: 3000 }
  it('has no mark left, and asks before it gets a certificate', () => {
    const text = frontConfiguration(frontVariables.parse({}), place)
    expect(text).not.toMatch(/%[A-Z_]+%/)
    expect(text).toContain('ask http://127.0.0.1:8081/ask')
    expect(text).toContain('header_up -Forwarded')
    expect(text).not.toContain('acme_ca')
  })
  it('takes another authority, and the desk’s own name', () => {
    const text = frontConfiguration(
      frontVariables.parse({ FIDES_ACME_DIRECTORY: 'https://ca.example/dir', FIDES_DESK_NAME: 'desk.example' }),
      place,
    )
    expect(text).toContain('acme_ca https://ca.example/dir')
    expect(text).toMatch(/^desk\.example \{\n\treverse_proxy 127\.0\.0\.1:3000/m)
  })
  it.each([{ FIDES_DESK_NAME: 'x { }' }, { FIDES_ACME_DIRECTORY: 'no address' }, { FIDES_FRONT: 'maybe' }])(
    'refuses %j',
    (environment) => expect(frontVariables.safeParse(environment).success).toBe(false),
  )
})
