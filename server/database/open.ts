import type { Sequelize } from 'sequelize'
import { connect } from './connect'
import { defineCheckRun } from './models/check-run'
import { defineConflictScan } from './models/conflict-scan'
import { defineApiToken } from './models/api-token'
import { defineDocketCase } from './models/docket-case'
import { defineDomain } from './models/domain'
import { defineDomainWatch } from './models/domain-watch'
import { defineDomainZone, defineUpdateKey } from './models/domain-zone'
import { defineIntake } from './models/intake'
import { defineLedgerEntry } from './models/ledger-entry'
import { defineLink } from './models/link'
import { defineMember } from './models/member'
import { defineMiss } from './models/miss'
import { defineObservation } from './models/observation'
import { defineOrganisation } from './models/organisation'
import { definePasskey } from './models/passkey'
import { definePlacement } from './models/placement'
import { defineProposal } from './models/proposal'
import { defineReplay } from './models/replay'
import { defineRule } from './models/rule'
import { defineSession } from './models/session'
import { defineLinkTag, defineTag } from './models/tag'
import { defineTarget } from './models/target'
import { defineTargetCheck } from './models/target-check'
import { defineNoticeSetting } from './models/notice-setting'
import { defineMail } from './models/mail'
import { defineWebhook } from './models/webhook'
import { defineWebhookDelivery } from './models/webhook-delivery'
import { defineLinkDate } from './models/link-date'
import { defineFeedAddress } from './models/feed-address'

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
  DomainZone: ReturnType<typeof defineDomainZone>
  UpdateKey: ReturnType<typeof defineUpdateKey>
  DomainWatch: ReturnType<typeof defineDomainWatch>
  Observation: ReturnType<typeof defineObservation>
  DocketCase: ReturnType<typeof defineDocketCase>
  Rule: ReturnType<typeof defineRule>
  Placement: ReturnType<typeof definePlacement>
  ConflictScan: ReturnType<typeof defineConflictScan>
  Target: ReturnType<typeof defineTarget>
  TargetCheck: ReturnType<typeof defineTargetCheck>
  CheckRun: ReturnType<typeof defineCheckRun>
  Miss: ReturnType<typeof defineMiss>
  Session: ReturnType<typeof defineSession>
  Passkey: ReturnType<typeof definePasskey>
  Proposal: ReturnType<typeof defineProposal>
  Replay: ReturnType<typeof defineReplay>
  NoticeSetting: ReturnType<typeof defineNoticeSetting>
  Mail: ReturnType<typeof defineMail>
  Webhook: ReturnType<typeof defineWebhook>
  WebhookDelivery: ReturnType<typeof defineWebhookDelivery>
  LinkDate: ReturnType<typeof defineLinkDate>
  FeedAddress: ReturnType<typeof defineFeedAddress>
  Intake: ReturnType<typeof defineIntake>
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
    DomainZone: defineDomainZone(sequelize),
    UpdateKey: defineUpdateKey(sequelize),
    DomainWatch: defineDomainWatch(sequelize),
    Observation: defineObservation(sequelize),
    DocketCase: defineDocketCase(sequelize),
    Rule: defineRule(sequelize),
    Placement: definePlacement(sequelize),
    ConflictScan: defineConflictScan(sequelize),
    Target: defineTarget(sequelize),
    TargetCheck: defineTargetCheck(sequelize),
    CheckRun: defineCheckRun(sequelize),
    Miss: defineMiss(sequelize),
    Session: defineSession(sequelize),
    Passkey: definePasskey(sequelize),
    Proposal: defineProposal(sequelize),
    Replay: defineReplay(sequelize),
    NoticeSetting: defineNoticeSetting(sequelize),
    Mail: defineMail(sequelize),
    Webhook: defineWebhook(sequelize),
    WebhookDelivery: defineWebhookDelivery(sequelize),
    LinkDate: defineLinkDate(sequelize),
    FeedAddress: defineFeedAddress(sequelize),
    Intake: defineIntake(sequelize),
  }
}
