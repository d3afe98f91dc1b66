import { intakeQuery, type IntakeRow } from '../../core/schemas'
import { listIntakeRows } from '../../server/usecases/exchange/intake-view'
import { makeIntake, readIntake } from '../../server/usecases/exchange/intakes'
import { editor, type TestRegister } from './register'

/** Brings files into a register, as an editor. */
export function bringing(register: () => TestRegister) {
  /** Waits until a file is read. */
  async function settled(id: number) {
    for (;;) {
      const intake = await readIntake(register().db, id)
      if (intake.state !== 'reading') return intake
      await new Promise((resolve) => setTimeout(resolve, 30))
    }
  }
  /** Sends a file; it is being read afterwards. */
  function begin(name: string, text: string | Buffer, more: object = {}) {
    const query = intakeQuery.parse({ name, domain: 'ansl.example', ...more })
    const octets = typeof text === 'string' ? Buffer.from(text) : text
    return makeIntake(register().db, register().url, editor, query, octets)
  }
  const bring = async (name: string, text: string | Buffer, more: object = {}) =>
    settled((await begin(name, text, more)).id)
  const rowsOf = async (id: number): Promise<IntakeRow[]> =>
    (await listIntakeRows(register().db, id, { limit: 500 })).items
  return { begin, bring, settled, rowsOf }
}
