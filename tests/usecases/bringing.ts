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
  async function bring(name: string, text: string | Buffer, more: object = {}) {
    const query = intakeQuery.parse({ name, domain: 'ansl.example', ...more })
    const octets = typeof text === 'string' ? Buffer.from(text) : text
    const made = await makeIntake(register().db, register().url, editor, query, octets)
    return settled(made.id)
  }
  const rowsOf = async (id: number): Promise<IntakeRow[]> =>
    (await listIntakeRows(register().db, id, { limit: 500 })).items
  return { bring, settled, rowsOf }
}
