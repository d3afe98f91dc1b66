import type { z } from 'zod'
import { hostOfName } from '../../../core/dns'
import type { TsigKey } from '../../../core/dns/wire'
import type { updateKey, updateKeyPut } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { DomainModel } from '../../database/models/domain'
import type { NamesContext } from '../../names/context'
import { seal, unseal } from '../../seal'
import { runChange, type Actor } from '../ledger/change'
import { notFound, Problem } from '../problem'
import { wayOf } from './server-way'

/** The key with which a domain's records are placed, and the server that takes them. */
export interface OpenedKey {
  server: string
  key: TsigKey
  /** It was seen to sign by itself what it was sent. */
  serverSigns: boolean
}

const about = (domain: DomainModel) => `update-key ${domain.id}`

/** Opens a domain's key; `undefined` where it has none. */
export async function readUpdateKey(
  db: Database,
  names: NamesContext,
  domain: DomainModel,
): Promise<OpenedKey | undefined> {
  const row = await db.UpdateKey.findByPk(domain.id)
  if (!row) return undefined
  const secret = unseal(names.sealingKey, row.secretSealed, about(domain))
  if (!secret)
    throw new Problem(
      409,
      'The key cannot be opened',
      `The update key of ${domain.host} was sealed under another FIDES_SECRET. Give the key again.`,
    )
  return { server: row.server, key: { name: row.keyName, secret }, serverSigns: Boolean(row.serverSigns) }
}

export const toKeyView = (opened: { server: string; keyName: string }): z.infer<typeof updateKey> => ({
  server: opened.server,
  name: hostOfName(opened.keyName),
})

/** Keeps the key for dynamic updates of a domain's zone, its secret encrypted; the ledger gets its name only. */
export async function setUpdateKey(
  db: Database,
  names: NamesContext,
  actor: Actor,
  id: number,
  input: z.output<typeof updateKeyPut>,
): Promise<z.infer<typeof updateKey>> {
  wayOf(names, input.server)
  return runChange(db, actor, async (change) => {
    const { transaction } = change
    const domain = await db.Domain.findByPk(id, { transaction })
    if (!domain) throw notFound('domain')
    await db.UpdateKey.upsert(
      {
        domainId: domain.id,
        server: input.server,
        keyName: input.name,
        secretSealed: seal(names.sealingKey, Buffer.from(input.secret, 'base64'), about(domain)),
        serverSigns: false,
      },
      { transaction },
    )
    const view = toKeyView({ server: input.server, keyName: input.name })
    await change.record({
      action: 'set-key',
      subject: { kind: 'domain', id, label: domain.host },
      before: null,
      after: view,
    })
    return view
  })
}

/** Forgets a domain's key. */
export async function removeUpdateKey(db: Database, actor: Actor, id: number): Promise<void> {
  await runChange(db, actor, async (change) => {
    const { transaction } = change
    const [domain, row] = [
      await db.Domain.findByPk(id, { transaction }),
      await db.UpdateKey.findByPk(id, { transaction }),
    ]
    if (!domain || !row) throw notFound('update key')
    const view = toKeyView(row)
    await row.destroy({ transaction })
    await change.record({
      action: 'remove-key',
      subject: { kind: 'domain', id, label: domain.host },
      before: view,
      after: null,
    })
  })
}
