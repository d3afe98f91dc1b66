import { spawn, type ChildProcess } from 'node:child_process'

/** A process of the application, run by a start command. */
export interface Running {
  name: string
  child: ChildProcess
  /** Asks it to end and waits; ends it by force after ten seconds. */
  stop(): Promise<void>
  /** Starts the same again; set by whoever started it. */
  again(): void
}

const PATIENCE_MS = 10_000

/** Starts a process, of Node where no other program is named; its lines go to `print`, its own end to `ended`. */
export function startNode(
  name: string,
  args: string[],
  environment: Record<string, string>,
  print: (line: string) => void,
  ended: (name: string, code: number | null, signal: NodeJS.Signals | null) => void,
  program = process.execPath,
  /** A descriptor that the process gets as its descriptor 3. */
  descriptor?: number,
): Running {
  // A process group of its own: Ctrl-C in the terminal is for the start command, which stops all in order.
  const child = spawn(program, args, {
    // Fewer arenas of malloc: memory that threads gave back goes back to the system (mallopt(3)).
    env: { MALLOC_ARENA_MAX: '2', ...process.env, ...environment },
    stdio: ['ignore', 'pipe', 'pipe', ...(descriptor === undefined ? [] : [descriptor])],
    detached: true,
  })
  for (const stream of [child.stdout!, child.stderr!]) {
    let rest = ''
    stream.setEncoding('utf8').on('data', (text: string) => {
      const lines = (rest + text).split('\n')
      rest = lines.pop()!
      for (const line of lines) if (line.trim()) print(line)
    })
  }
  let stopping = false
  const exited = new Promise<void>((resolve) => {
    child.once('exit', (code, signal) => {
      if (!stopping) ended(name, code, signal)
      resolve()
    })
  })
  return {
    name,
    child,
    again: () => undefined,
    async stop() {
      stopping = true
      if (child.exitCode !== null || child.signalCode !== null) return
      child.kill('SIGTERM')
      const force = setTimeout(() => child.kill('SIGKILL'), PATIENCE_MS)
      await exited
      clearTimeout(force)
    },
  }
}

/** Where a server is reached by HTTP; an IPv6 address stands in brackets (RFC 3986 §3.2.2). */
export const httpOrigin = (host: string, port: number): string =>
  `http://${host.includes(':') ? `[${host}]` : host}:${port}`

/** Waits until an address answers at all, or as `good` asks. */
export async function untilAnswers(
  url: string,
  patienceMs = 60_000,
  good: (response: Response) => boolean | Promise<boolean> = () => true,
): Promise<void> {
  const give = Date.now() + patienceMs
  for (;;) {
    try {
      const response = await fetch(url, { redirect: 'manual', signal: AbortSignal.timeout(2000) })
      if (await good(response)) return
    } catch {
      // Not yet.
    }
    if (Date.now() > give) throw new Error(`${url} did not answer within ${patienceMs / 1000} s.`)
    await new Promise((resolve) => setTimeout(resolve, 100))
  }
}
