// Other engines on the same machine, each with a private folder on a loopback port: where do we stand beside them?
import { spawn, type ChildProcess } from 'node:child_process'
import { mkdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { BENCH_HOST, destinationOf, slugOf } from './bench-load'

const PATH = `${process.env.PATH}:/usr/sbin:/usr/local/sbin`

export interface Engine {
  stop(): Promise<void>
}

function run(program: string, args: string[], environment: Record<string, string> = {}): Engine {
  const child: ChildProcess = spawn(program, args, {
    env: { ...process.env, PATH, ...environment },
    stdio: ['ignore', 'ignore', 'inherit'],
  })
  const ended = new Promise<void>((resolve) => child.once('exit', () => resolve()))
  child.once('error', () => undefined)
  return {
    async stop() {
      if (child.exitCode === null && child.signalCode === null) child.kill('SIGTERM')
      await ended
    },
  }
}

/** nginx, one worker, with a map of all links (ngx_http_map_module). */
export function startNginx(folder: string, port: number, links: number): Engine {
  const home = join(folder, 'nginx')
  mkdirSync(home, { recursive: true })
  const lines = Array.from({ length: links }, (_, index) => `/${slugOf(index + 1)} ${destinationOf(index + 1)};`)
  writeFileSync(join(home, 'links.map'), lines.join('\n'))
  const temporary = ['client_body', 'proxy', 'fastcgi', 'uwsgi', 'scgi']
    .map((kind) => `${kind}_temp_path ${home}/${kind};`)
    .join(' ')
  writeFileSync(
    join(home, 'nginx.conf'),
    `daemon off; worker_processes 1; pid ${home}/pid; error_log ${home}/error.log;
events { worker_connections 256; }
http { access_log off; map_hash_max_size 4194304; map_hash_bucket_size 128; ${temporary}
  map $uri $to { default ""; include ${home}/links.map; }
  server { listen 127.0.0.1:${port}; server_name ${BENCH_HOST}; keepalive_requests 100000000;
    if ($to) { return 302 $to; } return 404; } }
`,
  )
  return run('nginx', ['-c', join(home, 'nginx.conf'), '-p', home, '-e', join(home, 'error.log')])
}

/** Apache with `links` Redirect lines in one server, as people write them (mod_alias). */
export function startApache(folder: string, port: number, links: number): Engine {
  const home = join(folder, 'apache')
  mkdirSync(home, { recursive: true })
  const modules = ['mpm_event', 'authz_core', 'alias']
  const lines = Array.from(
    { length: links },
    (_, index) => `Redirect 302 /${slugOf(index + 1)}/ ${destinationOf(index + 1)}`,
  )
  // Longest first, as a Redirect takes every path that begins so.
  const redirects = lines.map((line) => line.replace(/\/ https/, ' https')).reverse()
  writeFileSync(
    join(home, 'apache.conf'),
    `${modules.map((name) => `LoadModule ${name}_module /usr/lib/apache2/modules/mod_${name}.so`).join('\n')}
User www-data
Group www-data
ServerRoot ${home}
PidFile ${home}/pid
ErrorLog ${home}/error.log
Listen 127.0.0.1:${port}
ServerName ${BENCH_HOST}
MaxKeepAliveRequests 0
DocumentRoot ${home}
${redirects.join('\n')}
`,
  )
  return run('apache2', ['-X', '-f', join(home, 'apache.conf')])
}

/** Caddy with TLS by a certificate of its own making in front of `to`. */
export function startCaddy(folder: string, port: number, to: number): Engine {
  const home = join(folder, 'caddy')
  mkdirSync(home, { recursive: true })
  writeFileSync(
    join(home, 'Caddyfile'),
    `{
  admin off
  storage file_system ${home}/store
  skip_install_trust
  auto_https disable_redirects
  https_port ${port}
  default_sni ${BENCH_HOST}
}
https://${BENCH_HOST}, https://127.0.0.1 {
  tls internal
  reverse_proxy 127.0.0.1:${to}
}
`,
  )
  return run('caddy', ['run', '--config', join(home, 'Caddyfile'), '--adapter', 'caddyfile'], { HOME: home })
}
