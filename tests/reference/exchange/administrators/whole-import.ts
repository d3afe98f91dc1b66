// A file imported into a register as a person does it: read, decided, applied; the thread’s work is done in place.
import { QueryTypes } from 'sequelize'
import { strToU8, zipSync } from 'fflate'
import { intakeQuery } from '../../../../core/schemas'
import { bornLeased } from '../../../../server/usecases/jobs/born-leased'
import { LeasedWork } from '../../../../server/usecases/jobs/leased-work'
import { applyIntake } from '../../../../server/usecases/exchange/apply-intake'
import { computeIntake } from '../../../../server/usecases/exchange/compute-intake'
import { expectedOf, importJobs } from '../../../../server/usecases/exchange/import-jobs'
import { decideIntakeRows } from '../../../../server/usecases/exchange/intake-view'
import { keepSource, packSource } from '../../../../server/usecases/exchange/sources'
import { administrator, type TestRegister } from '../../../usecases/register'

/** What an import told: the lines that are not imported, and those with a remark. */
export interface Told {
  refused: { line: number; sentence: string }[]
  remarks: { line: number; sentence: string }[]
}

/** Makes a domain that reads addresses exactly, as the servers of files do. */
export async function addHost({ db }: TestRegister, host: string): Promise<void> {
  const createdAt = new Date()
  await db.Domain.create({
    host,
    standing: 'open',
    capitalsMatter: true,
    trailingSlashMatters: true,
    createdAt,
    updatedAt: createdAt,
  })
}

/** Imports files into a host: everything that may be brought is brought. */
export async function importFiles(
  { db }: TestRegister,
  host: string,
  format: 'apache' | 'nginx',
  files: Readonly<Record<string, string>>,
  more: { context?: 'folder' | 'server'; base?: string } = {},
): Promise<Told> {
  const names = Object.keys(files)
  const single = names.length === 1
  const name = single ? names[0]! : 'site.zip'
  const octets = single
    ? Buffer.from(files[name]!)
    : Buffer.from(zipSync(Object.fromEntries(names.map((one) => [one, strToU8(files[one]!)]))))
  const { domain, ...options } = intakeQuery.parse({ name, domain: host, format, ...more })
  const intake = await db.Intake.create({
    state: 'reading',
    memberId: null,
    actor: administrator.name,
    role: 'administrator',
    name,
    options: { domain, format, context: options.context, base: options.base, everyHost: false, tags: [] },
    madeAt: new Date(),
    ...bornLeased(db, { state: 'failed', problem: 'interrupted', ended: true }),
  } as never)
  const packed = await packSource(octets)
  await db.sequelize.transaction((transaction) => keepSource(db, intake.id, packed, transaction))
  await intake.reload()
  await computeIntake(db, intake, LeasedWork.held(importJobs(db), expectedOf(intake)), async () => undefined)
  for (const decision of ['bring', 'replace'] as const)
    await decideIntakeRows(db, intake.id, { kind: 'clash', decision })
  await intake.reload()
  await db.Intake.update({ reason: 'as it stood there' }, { where: { id: intake.id } })
  await intake.reload()
  const rows = await db.sequelize.query<{ line: number; sentence: string }>(
    `SELECT line, why AS sentence FROM intake_row WHERE intake_id = ? AND file = ? AND kind = 'refused'`,
    { replacements: [intake.id, names[0]!], type: QueryTypes.SELECT },
  )
  const remarks = (intake.about?.remarks ?? []).map(({ line, sentence }) => ({ line, sentence }))
  const [some] = await db.sequelize.query<{ n: number }>(
    `SELECT COUNT(*) AS n FROM intake_row WHERE intake_id = ? AND decision IN ('bring', 'replace')`,
    { replacements: [intake.id], type: QueryTypes.SELECT },
  )
  if (Number(some!.n) > 0) await applyIntake(db, administrator, intake.id, intake.version!)
  return { refused: rows, remarks }
}
