import { spawnSync } from 'node:child_process'
import { createServer } from 'node:net'
import { once } from 'node:events'
import { describe, expect, it } from 'vitest'
import { z } from 'zod'
import { connectionConfig } from '../../../environment/database-url'
import { gatewayVariables } from '../../../environment/variables'
import { requirePorts } from '../../../scripts/ports'
import { httpOrigin } from '../../../scripts/processes'

const url = 'mariadb://fides:x@127.0.0.1:3308/fides'

describe('environment', () => {
  it.each([
    [{}, /FIDES_DATABASE_URL/],
    [{ FIDES_DATABASE_URL: 'mysql://x' }, /mariadb:\/\/user/],
    [{ FIDES_DATABASE_URL: url, FIDES_GATEWAY_PORT: '80800' }, /1 to 65535/],
    [{ FIDES_DATABASE_URL: url, FIDES_GATEWAY_HOST: 'everywhere' }, /IP address/],
    [{ FIDES_DATABASE_URL: url, FIDES_TRUSTED_PROXIES: '10.0.0.0/8, nonsense' }, /nonsense/],
  ])('refuses %j', (environment, message) => {
    const result = gatewayVariables.safeParse(environment)
    expect(result.success).toBe(false)
    expect(z.prettifyError(result.error!)).toMatch(message)
  })
  it('reads proxies as addresses and networks', () => {
    const { FIDES_TRUSTED_PROXIES: proxies } = gatewayVariables.parse({
      FIDES_DATABASE_URL: url,
      FIDES_TRUSTED_PROXIES: '127.0.0.1,2001:db8::/32',
      FIDES_SECRET: 'x'.repeat(32),
    })
    expect(proxies.check('127.0.0.1')).toBe(true)
    expect(proxies.check('2001:db8::5', 'ipv6')).toBe(true)
    expect(proxies.check('127.0.0.2')).toBe(false)
  })
})

describe('an IPv6 address', () => {
  it('stands in brackets in an address for browsers, and without them for the database’s driver', () => {
    expect(httpOrigin('::1', 3000)).toBe('http://[::1]:3000')
    expect(httpOrigin('127.0.0.1', 3000)).toBe('http://127.0.0.1:3000')
    expect(connectionConfig('mariadb://fides:x@[2001:db8::7]:3308/fides')).toMatchObject({
      host: '2001:db8::7',
      port: 3308,
    })
  })
})

describe('ports', () => {
  it('names a port in use and how to choose another', async () => {
    const holder = createServer().listen(0, '127.0.0.1')
    await once(holder, 'listening')
    const { port } = holder.address() as { port: number }
    await expect(requirePorts([{ port, use: 'the desk', variable: 'FIDES_ADMIN_PORT' }])).rejects.toThrow(
      `port ${port} for the desk is in use; stop what uses it or set FIDES_ADMIN_PORT.`,
    )
    holder.close()
  })
})

describe('the start command', () => {
  const run = (environment: Record<string, string>) =>
    spawnSync(process.execPath, ['scripts/bootstrap.mjs', 'demo'], {
      encoding: 'utf8',
      env: { ...process.env, ...environment },
    })
  it('stops with one line on a full disk', () => {
    const { status, stderr } = run({ FIDES_MEGABYTES_NEEDED: '999999999' })
    expect(status).toBe(1)
    expect(stderr).toMatch(
      new RegExp(
        '^Fides cannot start\\. The disk is nearly full: ' +
          '\\d+ MB are free where the data folder is, 999999999 MB are needed\\.\\n$',
      ),
    )
  })
  it('stops with one line on a data folder that cannot be made', () => {
    const { status, stderr } = run({ FIDES_DATA: '/dev/null/fides' })
    expect(status).toBe(1)
    expect(stderr).toMatch(/^Fides cannot start\. The data folder .* cannot be made: .*\n$/)
  })
  it('stops with one line on a port that is none', () => {
    const { status, stderr } = run({ FIDES_ADMIN_PORT: 'many' })
    expect(status).not.toBe(0)
    expect(stderr).toMatch(/^Fides cannot start\. FIDES_ADMIN_PORT: must be a port number\n$/)
  })
})
