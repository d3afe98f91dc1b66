import type { Sequelize } from 'sequelize'
import { connect } from './connect'
import { defineApiToken } from './models/api-token'
import { defineDomain } from './models/domain'
import { defineLedgerEntry } from './models/ledger-entry'
import { defineLink } from './models/link'
import { defineMember } from './models/member'
import { defineOrganisation } from './models/organisation'
import { defineLinkTag, defineTag } from './models/tag'

/** A pool with its models bound. */
export interface Database {
  sequelize: Sequelize
  Organisation: ReturnType<typeof defineOrganisation>
  Member: ReturnType<typeof defineMember>
  Domain: ReturnType<typeof defineDomain>
  Link: ReturnType<typeof defineLink>
  Tag: ReturnType<typeof defineTag>
  LinkTag: ReturnType<typeof defineLinkTag>
  LedgerEntry: ReturnType<typeof defineLedgerEntry>
  ApiToken: ReturnType<typeof defineApiToken>
}

/** Opens the database with all models; one a process, since models are bound to it. */
export function openDatabase(url: string, options: { poolSize?: number } = {}): Database {
  const sequelize = connect(url, options)
  return {
    sequelize,
    Organisation: defineOrganisation(sequelize),
    Member: defineMember(sequelize),
    Domain: defineDomain(sequelize),
    Link: defineLink(sequelize),
    Tag: defineTag(sequelize),
    LinkTag: defineLinkTag(sequelize),
    LedgerEntry: defineLedgerEntry(sequelize),
    ApiToken: defineApiToken(sequelize),
  }
}
