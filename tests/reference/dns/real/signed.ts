import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { environment } from './programs'

export interface SignedZone {
  text: string
  /** DS records of its key, as lines of the parent's file. */
  ds: string[]
}

export interface SigningOptions {
  nsec3?: boolean
  /** When signatures begin and end, in seconds from now. */
  begins?: number
  ends?: number
}

/** Signs a zone as a file with Debian's dnssec-keygen and dnssec-signzone (BIND 9): one key for all. */
export function signZone(
  origin: string,
  text: string,
  { nsec3 = false, begins = -3600, ends = 30 * 86_400 }: SigningOptions = {},
): SignedZone {
  const folder = mkdtempSync(join(tmpdir(), 'fides-signed-'))
  const run = (command: string, ...args: string[]) =>
    execFileSync(command, args, { cwd: folder, env: environment, encoding: 'utf8', stdio: ['ignore', 'pipe', 'pipe'] })
  try {
    const key = run('dnssec-keygen', '-a', 'ECDSAP256SHA256', '-f', 'KSK', origin).trim()
    writeFileSync(join(folder, 'zone'), `${text}$INCLUDE ${key}.key\n`)
    const at = (offset: number) => (offset < 0 ? `now-${-offset}` : `now+${offset}`)
    run(
      'dnssec-signzone',
      ...['-z', '-P', '-S', '-K', folder, '-s', at(begins), '-e', at(ends), '-o', origin],
      ...(nsec3 ? ['-3', '-', '-H', '0'] : []),
      ...['-f', 'signed', 'zone'],
    )
    const ds = run('dnssec-dsfromkey', '-2', `${key}.key`).trim().split('\n')
    return { text: readFileSync(join(folder, 'signed'), 'latin1'), ds }
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
}
