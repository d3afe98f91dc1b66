import type { Settings, SettingsPatch } from '../../../core/schemas'
import type { Patience } from '../../../core/targets'
import { refuseCheckNetwork } from '../../names/check-networks'
import type { Database } from '../../database/open'
import type { OrganisationModel } from '../../database/models/organisation'
import type { State } from '../../database/models/ledger-entry'
import { runChange, type Actor, type Change } from '../ledger/change'
import { fieldsToPutBack, type UndoSubject } from '../ledger/put-back'
import { versionConflict, fieldProblem, Problem } from '../problem'

/** What the ledger keeps of the settings. */
const stateOf = (row: OrganisationModel) => ({
  checkNetworks: row.checkNetworks,
  checkPerHost: row.checkPerHost,
  checkPerSecond: Number(row.checkPerSecond),
  checkContact: row.checkContact,
  brokenAfter: row.brokenAfter,
  brokenOverMinutes: row.brokenOverMinutes,
  visitDays: row.visitDays,
  keepNetwork: row.keepNetwork,
  honourGpc: row.honourGpc,
  fewPeople: row.fewPeople,
})

const toView = (row: OrganisationModel): Settings => ({ ...stateOf(row), version: row.version })

/** The organisation’s settings. */
export async function readSettings(db: Database): Promise<Settings> {
  return toView((await db.Organisation.findByPk(1))!)
}

/** How long failures are waited out. */
export const patienceOf = (settings: Pick<Settings, 'brokenAfter' | 'brokenOverMinutes'>): Patience => ({
  checks: settings.brokenAfter,
  overMs: settings.brokenOverMinutes * 60_000,
})

const findOrganisation = async (db: Database, change: Change): Promise<OrganisationModel> =>
  (await db.Organisation.findByPk(1, { transaction: change.transaction }))!

/** Whether a change of the settings lists other networks: only a person who proved who they are just now may. */
export const listsOthers = async (db: Database, { checkNetworks }: SettingsPatch): Promise<boolean> =>
  checkNetworks !== undefined &&
  JSON.stringify(checkNetworks) !== JSON.stringify((await readSettings(db)).checkNetworks)

/** Changes settings that stand at `version`; refused with 412 where somebody else changed them meanwhile. */
export function changeSettings(db: Database, actor: Actor, version: number, patch: SettingsPatch): Promise<Settings> {
  return runChange(db, actor, async (change) => {
    const row = await findOrganisation(db, change)
    if (row.version !== version) throw versionConflict('the settings', toView(row), patch)
    patch.checkNetworks?.forEach((network, index) => {
      const refused = refuseCheckNetwork(network)
      if (refused !== undefined) throw fieldProblem(`checkNetworks/${index}`, refused)
    })
    const before = stateOf(row)
    const after = { ...before, ...patch }
    if (JSON.stringify(before) === JSON.stringify(after)) return toView(row)
    await write(row, change, after)
    await record(change, 'change', before, after)
    return toView(row)
  })
}

const write = (row: OrganisationModel, change: Change, state: Partial<ReturnType<typeof stateOf>>) =>
  row.update({ ...state, version: row.version + 1 }, { transaction: change.transaction })

const record = (change: Change, action: 'change' | 'undo', before: State, after: State, more: object = {}) =>
  change.record({
    action,
    subject: { kind: 'organisation', id: 1, label: 'Settings of checks' },
    before,
    after,
    ...more,
  })

/** Puts the settings an entry changed back. */
export const undoSettings: UndoSubject = async (db, change, entry, request) => {
  const row = await findOrganisation(db, change)
  const before = stateOf(row)
  const back = await fieldsToPutBack(db, change, entry, before, request)
  if (Object.keys(back).length === 0)
    throw new Problem(409, 'Cannot be undone', 'This entry holds nothing that could be put back.')
  // To list fewer needs nobody’s proof.
  if (((back as Partial<typeof before>).checkNetworks ?? []).some((network) => !before.checkNetworks.includes(network)))
    throw new Problem(
      409,
      'Cannot be undone here',
      'Change the networks that checks may ask under Settings, where you confirm that it is you.',
    )
  const after = { ...before, ...back }
  await write(row, change, after)
  return record(change, 'undo', before, after, { reason: request.reason, undoesId: entry.id })
}
