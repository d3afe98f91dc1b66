import { logForm, makeLog } from '../environment/log'

/**
 * How a start command tells its own lines and those of its processes. `usual` is the form where FIDES_LOG asks for
 * none; the processes are given the same.
 */
export function makePrint(usual: 'json' | 'readable'): (line: string, level?: 'info' | 'warn' | 'error') => void {
  const form = logForm((process.env.FIDES_LOG ??= usual))
  if (form === 'readable') return (line) => process.stdout.write(line + '\n')
  const log = makeLog('start', form)
  // What a process wrote through its log is JSON already.
  return (line, level = 'info') => (line.startsWith('{"level":') ? process.stdout.write(line + '\n') : log[level](line))
}
