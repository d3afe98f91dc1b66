import { createHash, randomBytes } from 'node:crypto'
import { Op } from 'sequelize'
import type { z } from 'zod'
import { mayAct, SCOPE_ROLE, type Role, type Token, type tokenCreate } from '../../../core/schemas'
import type { Database } from '../../database/open'
import type { ApiTokenModel } from '../../database/models/api-token'
import type { MemberModel } from '../../database/models/member'
import { runChange, type Actor } from '../ledger/change'
import { fieldProblem, notFound } from '../problem'

const PREFIX = 'fides_'
const hashOf = (secret: string) => createHash('sha256').update(secret).digest('hex')
const iso = (date: Date | null) => date?.toISOString() ?? null

/** A token as the API tells it; `hosts` names the domains by their ids. */
const toTokenView = (token: ApiTokenModel, hosts: ReadonlyMap<number, string>): Token => ({
  id: token.id,
  name: token.name,
  scope: token.scope,
  domains: token.domains.map((id) => hosts.get(id) ?? `domain ${id}`),
  createdAt: token.createdAt.toISOString(),
  expiresAt: iso(token.expiresAt),
  lastUsedAt: iso(token.lastUsedAt ?? null),
  revokedAt: iso(token.revokedAt ?? null),
})

async function hostsById(db: Database): Promise<Map<number, string>> {
  const domains = await db.Domain.findAll({ attributes: ['id', 'host'] })
  return new Map(domains.map(({ id, host }) => [id, host]))
}

/** The acting member's own tokens. */
export async function listTokens(db: Database, actor: Actor): Promise<Token[]> {
  const hosts = await hostsById(db)
  const tokens = await db.ApiToken.findAll({ where: { memberId: actor.memberId! }, order: [['id', 'DESC']] })
  return tokens.map((token) => toTokenView(token, hosts))
}

/** Everybody's tokens that still open something, for administrators. */
export async function listAllTokens(db: Database): Promise<Token[]> {
  const hosts = await hostsById(db)
  const tokens = await db.ApiToken.findAll({
    where: { revokedAt: null, expiresAt: { [Op.or]: [null, { [Op.gt]: new Date() }] } },
    order: [['id', 'DESC']],
  })
  const members = await db.Member.findAll({ where: { id: tokens.map(({ memberId }) => memberId) } })
  const names = new Map(members.map(({ id, name }) => [id, name]))
  return tokens.map((token) => ({ ...toTokenView(token, hosts), member: names.get(token.memberId) ?? '' }))
}

/**
 * Makes a token; its secret is told once and kept only as a hash. Its scope cannot exceed the member's role, and it can
 * be limited to domains that are here.
 */
export async function createToken(
  db: Database,
  actor: Actor,
  input: z.output<typeof tokenCreate>,
): Promise<Token & { secret: string }> {
  if (!mayAct(actor.role, SCOPE_ROLE[input.scope]))
    throw fieldProblem('scope', `A token of yours can at most do what a ${actor.role} may.`)
  const hosts = await hostsById(db)
  const ids = new Map([...hosts].map(([id, host]) => [host, id]))
  const unknown = input.domains.find((host) => !ids.has(host))
  if (unknown !== undefined) throw fieldProblem('domains', `There is no domain “${unknown}” here.`)
  const secret = PREFIX + randomBytes(32).toString('base64url')
  return runChange(db, actor, async (change) => {
    const token = await db.ApiToken.create(
      {
        memberId: actor.memberId!,
        name: input.name,
        hash: hashOf(secret),
        scope: input.scope,
        domains: [...new Set(input.domains)].map((host) => ids.get(host)!),
        createdAt: change.now,
        expiresAt: input.expiresAt ? new Date(input.expiresAt) : null,
      },
      { transaction: change.transaction },
    )
    await change.record({
      action: 'create',
      subject: { kind: 'token', id: token.id, label: token.name },
      before: null,
      after: { name: token.name, scope: token.scope, domains: input.domains },
    })
    return { ...toTokenView(token, hosts), secret }
  })
}

/** Revokes one of the acting member's tokens; an administrator revokes anybody's. */
export function revokeToken(db: Database, actor: Actor, id: number): Promise<void> {
  return runChange(db, actor, async (change) => {
    const token = await db.ApiToken.findOne({
      where: { id, ...(actor.role !== 'administrator' && { memberId: actor.memberId! }) },
      transaction: change.transaction,
    })
    if (!token) throw notFound('token')
    if (token.revokedAt) return
    await token.update({ revokedAt: change.now }, { transaction: change.transaction })
    await change.record({
      action: 'revoke',
      subject: { kind: 'token', id, label: token.name },
      before: { revoked: false },
      after: { revoked: true },
    })
  })
}

/** Who acts with a token, and the role it lends: the lesser of its scope and the member's own. */
export async function actorOfToken(
  db: Database,
  secret: string,
): Promise<{ member: MemberModel; role: Role; domains: readonly number[] } | undefined> {
  if (!secret.startsWith(PREFIX)) return undefined
  const token = await db.ApiToken.findOne({ where: { hash: hashOf(secret) } })
  const now = new Date()
  if (!token || token.revokedAt || (token.expiresAt && token.expiresAt <= now)) return undefined
  const member = await db.Member.findByPk(token.memberId)
  if (!member?.active) return undefined
  // Once a minute is enough to tell a living token from a forgotten one.
  if (!token.lastUsedAt || now.getTime() - token.lastUsedAt.getTime() > 60_000) await token.update({ lastUsedAt: now })
  const scoped = SCOPE_ROLE[token.scope]
  return { member, role: mayAct(member.role, scoped) ? scoped : member.role, domains: token.domains }
}
