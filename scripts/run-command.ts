import type { System } from './system'

/** Runs a start command: stops the system on Ctrl-C, tells a failure in one line and exits non-zero. */
export async function runCommand(system: System, work: () => Promise<void>): Promise<void> {
  for (const signal of ['SIGINT', 'SIGTERM'] as const) {
    process.on(signal, () => {
      system.print('stopping')
      void system.stop().then(() => process.exit(0))
    })
  }
  try {
    await work()
  } catch (error) {
    process.stderr.write(`Fides cannot start. ${(error as Error).message.split('\n')[0]}\n`)
    await system.stop()
    process.exit(1)
  }
}
