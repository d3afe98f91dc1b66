import { giveWay } from './give-way'
import { WORK, type WorkName } from './work'

/** What such a process is asked, and what it answers: one after the other. */
export interface ToCompute {
  name: WorkName
  input: unknown
}
export type FromCompute = { ok: true; output: unknown } | { ok: false; message: string }

giveWay()
// Nobody waits for the result once the process that started this one is gone.
process.once('disconnect', () => process.exit())
process.on('message', ({ name, input }: ToCompute) => {
  let answer: FromCompute
  try {
    answer = { ok: true, output: (WORK[name] as (given: unknown) => unknown)(input) }
  } catch (error) {
    answer = { ok: false, message: (error as Error).message }
  }
  process.send!(answer)
})
