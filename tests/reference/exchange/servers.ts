// Debian’s apache2 and nginx, started privately on loopback ports with what is to be asked of them.
import { spawn, spawnSync } from 'node:child_process'
import { chmodSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { Agent, request } from 'node:http'
import { connect } from 'node:net'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { freePort } from '../../../scripts/ports'

const PATH = `${process.env.PATH}:/usr/sbin:/usr/local/sbin`

/** What a server answered, as far as a redirect goes. */
export interface Told {
  status: number
  location: string | null
}

export interface RealServer {
  ask(host: string, target: string): Promise<Told>
  stop(): Promise<void>
}

const answers = (port: number) =>
  new Promise<boolean>((resolve) => {
    const socket = connect(port, '127.0.0.1', () => {
      socket.destroy()
      resolve(true)
    })
    socket.on('error', () => resolve(false))
  })

async function run(program: string, args: string[], home: string, port: number): Promise<RealServer> {
  const child = spawn(program, args, { env: { ...process.env, PATH }, stdio: ['ignore', 'ignore', 'pipe'] })
  let said = ''
  child.stderr.on('data', (piece: Buffer) => (said += piece.toString()))
  const ended = new Promise<void>((resolve) => child.once('exit', () => resolve()))
  for (let tries = 0; !(await answers(port)); tries++) {
    if (child.exitCode !== null || tries > 200) throw new Error(`${program} did not start: ${said}`)
    await new Promise((resolve) => setTimeout(resolve, 50))
  }
  const agent = new Agent({ keepAlive: true, maxSockets: 8 })
  return {
    ask: (host, target) =>
      new Promise((resolve, reject) => {
        const asked = request(
          { agent, host: '127.0.0.1', port, method: 'GET', path: target, headers: { host } },
          (response) => {
            response.resume()
            response.on('end', () =>
              resolve({ status: response.statusCode!, location: response.headers.location ?? null }),
            )
          },
        )
        asked.on('error', reject)
        asked.end()
      }),
    async stop() {
      agent.destroy()
      if (child.exitCode === null) child.kill('SIGTERM')
      await ended
      rmSync(home, { recursive: true, force: true })
    },
  }
}

/** A folder that servers may read whoever they run as. */
function readableFolder(name: string): string {
  const home = mkdtempSync(join(tmpdir(), `fides-${name}-`))
  chmodSync(home, 0o755)
  return home
}

export interface ApacheSite {
  host: string
  /** Goes into the virtual host. */
  server?: string
  /** `.htaccess` of folders, by the folder’s path: “/” is the top. */
  folders?: Record<string, string>
  /** Further files by name, which `${FILES}` in the configuration leads to. */
  files?: Record<string, string>
}

/** Apache with a virtual host for each site. */
export async function startApache(sites: readonly ApacheSite[]): Promise<RealServer> {
  const home = readableFolder('apache')
  const port = await freePort()
  const hosts = sites.map(({ host, server = '', folders = {}, files = {} }) => {
    const root = join(home, host)
    mkdirSync(root, { recursive: true })
    const kept = join(home, `${host}-files`)
    mkdirSync(kept)
    for (const [name, text] of Object.entries(files)) writeFileSync(join(kept, name), text)
    for (const [folder, text] of Object.entries(folders)) {
      mkdirSync(join(root, folder), { recursive: true })
      writeFileSync(join(root, folder, '.htaccess'), text)
    }
    const named = /^\s*ServerName\s/im.test(server) ? '' : `ServerName ${host}`
    return `<VirtualHost *:${port}>
${named}
DocumentRoot ${root}
${server.replaceAll('${FILES}', kept)}
</VirtualHost>`
  })
  const modules = ['mpm_event', 'authz_core', 'alias', 'rewrite', 'dir']
  const user = process.getuid?.() === 0 ? 'User www-data\nGroup www-data' : ''
  writeFileSync(
    join(home, 'apache.conf'),
    `${modules.map((name) => `LoadModule ${name}_module /usr/lib/apache2/modules/mod_${name}.so`).join('\n')}
${user}
ServerRoot ${home}
PidFile ${home}/pid
ErrorLog ${home}/error.log
Listen 127.0.0.1:${port}
ServerName none.example
<Directory ${home}>
  AllowOverride All
  Require all granted
</Directory>
<VirtualHost *:${port}>
  ServerName none.example
  DocumentRoot ${home}
</VirtualHost>
${hosts.join('\n')}
`,
  )
  const checked = spawnSync('apache2', ['-t', '-f', join(home, 'apache.conf')], { env: { ...process.env, PATH } })
  if (checked.status !== 0) throw new Error(`Apache refuses: ${checked.stderr.toString()}`)
  return run('apache2', ['-X', '-f', join(home, 'apache.conf')], home, port)
}

/** nginx with what stands in `http`; `${PORT}` in it is where it listens, `${FILES}` where `files` lie. */
export async function startNginx(http: string, files: Readonly<Record<string, string>> = {}): Promise<RealServer> {
  const home = readableFolder('nginx')
  const port = await freePort()
  for (const [name, text] of Object.entries(files)) {
    mkdirSync(dirname(join(home, name)), { recursive: true })
    writeFileSync(join(home, name), text)
  }
  const temporary = ['client_body', 'proxy', 'fastcgi', 'uwsgi', 'scgi']
    .map((kind) => `${kind}_temp_path ${home}/${kind};`)
    .join(' ')
  writeFileSync(
    join(home, 'nginx.conf'),
    `daemon off; worker_processes 1; pid ${home}/pid; error_log ${home}/error.log;
events { worker_connections 256; }
http { access_log off; ${temporary}
map_hash_max_size 4194304; map_hash_bucket_size 512; server_names_hash_bucket_size 128;
${http.replaceAll('${PORT}', String(port)).replaceAll('${FILES}', home)}
}
`,
  )
  const args = ['-c', join(home, 'nginx.conf'), '-p', home, '-e', join(home, 'error.log')]
  const checked = spawnSync('nginx', ['-t', ...args], { env: { ...process.env, PATH } })
  if (checked.status !== 0) throw new Error(`nginx refuses: ${checked.stderr.toString()}`)
  return run('nginx', args, home, port)
}
