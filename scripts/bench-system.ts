import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { freeSettings } from './settings'
import { System } from './system'

export const print = (line: string): void => void process.stdout.write(line + '\n')

/** A Fides of a bench's own, on free ports and in a folder that goes with it; its lines are told with FIDES_VERBOSE. */
export class BenchSystem extends System {
  static async make(say = (line: string) => void (process.env.FIDES_VERBOSE && print(line))): Promise<BenchSystem> {
    return new BenchSystem(await freeSettings(mkdtempSync(join(tmpdir(), 'fides-bench-'))), say)
  }

  /** The control port's address. */
  get control(): string {
    return `http://127.0.0.1:${this.settings.FIDES_GATEWAY_CONTROL_PORT}`
  }

  /** Ends one process for good. */
  async end(name: string): Promise<void> {
    const running = this.processes.find((one) => one.name === name)
    if (!running) return
    this.processes.splice(this.processes.indexOf(running), 1)
    await running.stop()
  }

  /** Stops all of it and removes its folder. */
  async leave(): Promise<void> {
    await this.stop()
    rmSync(this.settings.folder, { recursive: true, force: true })
  }
}
