import { spawn, spawnSync, type ChildProcess } from 'node:child_process'
import { cpSync, existsSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'

/** What a machine that reaches Debian's and npm's registries has beside the system itself. */
const OF_THE_SITE = ['/etc/apt/sources.list', '/etc/apt/sources.list.d', '/etc/apt/apt.conf.d', '/etc/apt/auth.conf.d']
  .concat([
    '/etc/apt/trusted.gpg.d',
    '/usr/share/keyrings',
    '/etc/resolv.conf',
    '/etc/hosts',
    '/etc/ssl/certs/ca-certificates.crt',
  ])
  .concat(['/usr/local/share/ca-certificates', '/usr/etc/npmrc', '/etc/npmrc', '/root/.npmrc'])

/** A fresh Debian 12 in a folder, with Node and git and nothing else; shares the network of this machine. */
export class FreshMachine {
  readonly root = mkdtempSync(join(tmpdir(), 'fides-fresh-'))
  private readonly children: ChildProcess[] = []

  make(print: (line: string) => void): void {
    print('making a fresh Debian 12 with git')
    const made = spawnSync(
      'mmdebstrap',
      ['--variant=minbase', '--include=git,ca-certificates,procps', 'bookworm', this.root],
      { encoding: 'utf8' },
    )
    if (made.status !== 0) throw new Error(`mmdebstrap: ${made.stderr.trim().split('\n').slice(-3).join(' ')}`)
    for (const path of OF_THE_SITE) if (existsSync(path)) this.copy(path)
    this.installNode()
  }

  /** Copies a file or folder of this machine to its own place there. */
  private copy(path: string): void {
    mkdirSync(dirname(join(this.root, path)), { recursive: true })
    const copied = spawnSync('cp', ['-rLT', '--remove-destination', path, join(this.root, path)], { encoding: 'utf8' })
    if (copied.status !== 0) throw new Error(copied.stderr)
  }

  /** Puts this Node, with its npm, where the fresh machine's shell finds it. */
  private installNode(): void {
    const npm = spawnSync('npm', ['root', '-g'], { encoding: 'utf8' }).stdout.trim()
    cpSync(process.execPath, join(this.root, 'usr/bin/node'))
    const modules = join(this.root, 'usr/lib/node_modules')
    mkdirSync(modules, { recursive: true })
    cpSync(join(npm, 'npm'), join(modules, 'npm'), { recursive: true, dereference: true })
    for (const [name, file] of [
      ['npm', 'npm-cli.js'],
      ['npx', 'npx-cli.js'],
    ])
      this.put(`/usr/bin/${name}`, `#!/bin/sh\nexec node /usr/lib/node_modules/npm/bin/${file} "$@"\n`, 0o755)
  }

  put(path: string, text: string, mode = 0o644): void {
    const file = join(this.root, path)
    mkdirSync(dirname(file), { recursive: true })
    writeFileSync(file, text, { mode })
  }

  /** A shell of the machine, with /proc and /dev, that ends with all it started. */
  shell(script: string, environment: Record<string, string> = {}): ChildProcess {
    const inside = `mount -t proc proc "$0/proc" && mount --rbind /dev "$0/dev" && exec chroot "$0" /bin/bash -c "$1"`
    const child = spawn(
      'unshare',
      ['--mount', '--pid', '--fork', '--kill-child', 'sh', '-c', inside, this.root, script],
      {
        stdio: ['ignore', 'pipe', 'pipe'],
        env: { PATH: '/usr/sbin:/usr/bin:/sbin:/bin', HOME: '/root', LANG: 'C.UTF-8', ...environment },
      },
    )
    this.children.push(child)
    return child
  }

  /** Runs a script to its end; gives what it printed, or throws with its last lines. */
  async run(script: string, environment: Record<string, string> = {}): Promise<string> {
    const child = this.shell(script, environment)
    let told = ''
    child.stdout!.on('data', (piece: Buffer) => (told += piece.toString()))
    child.stderr!.on('data', (piece: Buffer) => (told += piece.toString()))
    const code = await new Promise((resolve) => child.once('exit', resolve))
    if (code !== 0) throw new Error(`it ended with ${String(code)}: ${told.trim().split('\n').slice(-6).join('\n')}`)
    return told
  }

  async stop(): Promise<void> {
    for (const child of this.children) {
      if (child.exitCode !== null || child.signalCode !== null) continue
      const ended = new Promise((resolve) => child.once('exit', resolve))
      child.kill('SIGKILL')
      await ended
    }
    rmSync(this.root, { recursive: true, force: true })
  }
}
