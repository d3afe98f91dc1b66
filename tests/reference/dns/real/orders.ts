import { execFile } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { promisify } from 'node:util'
import type { ServerAddress } from '../../../../server/names/ask'
import { environment, KEY, secret } from './programs'

/** Has Debian's nsupdate, as somebody else would, change a zone; gives what it says where that fails. */
export async function nsupdate(
  server: ServerAddress,
  origin: string,
  lines: readonly string[],
  { name = KEY.name, key = KEY.secret }: { name?: string; key?: Buffer } = {},
): Promise<string> {
  const commands = [`server ${server.host} ${server.port}`, `zone ${origin}`, ...lines, 'send', ''].join('\n')
  const args = ['-t', '10', '-u', '3', '-r', '1', '-y', `hmac-sha256:${name}:${key.toString('base64')}`]
  const ran = promisify(execFile)('nsupdate', args, { env: environment })
  ran.child.stdin!.end(commands)
  return ran.then(
    ({ stderr }) => stderr.trim(),
    (error: { stderr?: string; message: string }) => (error.stderr || error.message).trim(),
  )
}

/** Gives a named an order. */
export async function rndc(control: number, ...order: string[]): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), 'fides-rndc-'))
  const config = join(folder, 'rndc.conf')
  writeFileSync(
    config,
    `key "desk-key" { algorithm hmac-sha256; secret "${secret()}"; };
options { default-key "desk-key"; default-server 127.0.0.1; default-port ${control}; };
`,
  )
  try {
    await promisify(execFile)('rndc', ['-c', config, ...order], { env: environment })
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
}
