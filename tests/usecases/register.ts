import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { linkCreate, linkPatch, ruleCreate, rulePatch, type Link, type Role, type Rule } from '../../core/schemas'
import { startMariaDb, type PrivateMariaDb } from '../../scripts/mariadb'
import { freePort } from '../../scripts/ports'
import { migrate } from '../../server/database/migrate'
import { openDatabase, type Database } from '../../server/database/open'
import type { NamesContext } from '../../server/names/context'
import type { Actor } from '../../server/usecases/ledger/change'
import { changeLink } from '../../server/usecases/links/change-link'
import { createLink } from '../../server/usecases/links/create-link'
import { changeRule, createRule } from '../../server/usecases/rules/rules'
import { Problem } from '../../server/usecases/problem'

export const as = (role: Role): Actor => ({ memberId: null, name: role, role })
export const administrator = as('administrator')
export const editor = as('editor')

/** An installation that knows no outside world: nothing here asks it. */
export const NO_NAMES = {} as NamesContext

/** Use cases against a private MariaDB, without any process of ours: a small register with one domain. */
export class TestRegister {
  private constructor(
    readonly db: Database,
    private readonly server: PrivateMariaDb,
    private readonly folder: string,
  ) {}

  static async start(): Promise<TestRegister> {
    const folder = mkdtempSync(join(tmpdir(), 'fides-usecases-'))
    const server = await startMariaDb(join(folder, 'mariadb'), await freePort())
    const db = openDatabase(server.url)
    await migrate(db.sequelize)
    const createdAt = new Date()
    await db.Organisation.create({ name: 'Test Transit', timeZone: 'Europe/Lisbon', createdAt })
    await db.Domain.create({
      host: 'ansl.example',
      standing: 'open',
      capitalsMatter: false,
      createdAt,
      updatedAt: createdAt,
    })
    return new TestRegister(db, server, folder)
  }

  /** Where its database is. */
  get url(): string {
    return this.server.url
  }

  async stop(): Promise<void> {
    await this.db.sequelize.close()
    await this.server.stop()
    rmSync(this.folder, { recursive: true, force: true })
  }

  /** Makes a link as the administrator; fields that are not given take their usual values. */
  link(slug: string, destination: string, more: object = {}): Promise<Link> {
    const given = { domain: 'ansl.example', slug, destination, reason: 'for a test', ...more }
    return createLink(this.db, administrator, linkCreate.parse(given))
  }

  changeLink(link: Link, patch: object, actor = administrator): Promise<Link> {
    return changeLink(this.db, actor, link.id, link.version, linkPatch.parse({ reason: 'for a test', ...patch }))
  }

  rule(pattern: string, destination: string, more: object = {}): Promise<Rule> {
    const given = { domain: 'ansl.example', pattern, destination, reason: 'for a test', ...more }
    return createRule(this.db, administrator, ruleCreate.parse(given))
  }

  changeRule(rule: Rule, patch: object): Promise<Rule> {
    return changeRule(
      this.db,
      administrator,
      rule.id,
      rule.version,
      rulePatch.parse({ reason: 'for a test', ...patch }),
    )
  }

  /** The newest entry of the ledger, of one action where it is named. */
  async entry(action?: string) {
    const where = { partOf: null, ...(action !== undefined && { action }) }
    return (await this.db.LedgerEntry.findOne({ where, order: [['id', 'DESC']] }))!
  }
}

/** What a use case refuses with. */
export async function refusal(asked: Promise<unknown>): Promise<Problem> {
  const given = await asked.then(
    () => undefined,
    (error: unknown) => error,
  )
  if (!(given instanceof Problem)) throw given ?? new Error('it was not refused')
  return given
}
