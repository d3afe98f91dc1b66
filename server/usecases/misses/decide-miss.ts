import { Op } from 'sequelize'
import { showHost } from '../../../core/address'
import { linkCreate, type MissDecision } from '../../../core/schemas'
import type { AnsweredBy, MissModel } from '../../database/models/miss'
import type { Database } from '../../database/open'
import { settle } from '../../docket/keeper'
import { missKey } from '../../docket/misses/keys'
import { findDomain } from '../domains/find-domain'
import type { Change } from '../ledger/change'
import { putAlias } from '../links/aliases'
import { changeLinks } from '../links/change-links'
import { insertLink } from '../links/create-link'
import { findLink } from '../links/find-link'
import { fieldProblem, Problem } from '../problem'
import { markGone } from './mark-gone'

/** What somebody decided about a miss. */
export interface Decision {
  decision: MissDecision
  /** The link an alias leads to; the one most likely meant where it is not said. */
  link?: number
  /** Where a new link leads. */
  destination?: string
  reason: string
}

/** Carries a decision about a miss out within a change; gives what was done in a sentence. */
export async function decideMiss(db: Database, change: Change, miss: MissModel, input: Decision): Promise<string> {
  if (input.decision === 'noise' || input.decision === 'noise-shape' || input.decision === 'open')
    return decideNoise(db, change, miss, input)
  if (miss.answered)
    throw new Problem(409, 'Answered already', `Visitors are led on by ${miss.answeredBy!.address} already.`)
  const domain = await findDomain(db, miss.domainId, change.transaction)
  const address = `${showHost(domain.host)}/${miss.path}`
  const done = await DOES[input.decision](db, change, miss, domain, input)
  await miss.update(
    { answered: true, answeredAt: change.now, answeredBy: done.by, due: true, noise: null, version: miss.version + 1 },
    { transaction: change.transaction },
  )
  await settleCase(db, change, miss)
  return done.sentence.replace('{address}', address)
}

/** Settles the case of a miss in the name of who decided. */
async function settleCase(db: Database, change: Change, miss: MissModel): Promise<void> {
  const row = await db.DocketCase.findOne({
    where: { caseKey: missKey(miss), state: { [Op.ne]: 'settled' } },
    transaction: change.transaction,
    lock: change.transaction.LOCK.UPDATE,
  })
  if (row) await settle(row, change.actor.name, change.now, change.transaction)
}

type Does = (
  db: Database,
  change: Change,
  miss: MissModel,
  domain: Awaited<ReturnType<typeof findDomain>>,
  input: Decision,
) => Promise<{ by: AnsweredBy; sentence: string }>

const DOES: Record<Exclude<MissDecision, 'noise' | 'noise-shape' | 'open'>, Does> = {
  async alias(db, change, miss, domain, input) {
    const id = input.link ?? miss.ranking?.candidates[0]?.link
    if (id === undefined) throw fieldProblem('link', 'Say which link it should lead to.')
    const { link, domain: of } = await findLink(db, id, change.transaction)
    const { row } = await putAlias(db, change, link, domain, miss.path, input.reason)
    const address = `${showHost(of.host)}/${link.slug}`
    return {
      by: { by: 'alias', linkId: row.id, ruleId: null, address },
      sentence: `{address} now leads where ${address} does.`,
    }
  },
  async link(db, change, miss, domain, input) {
    if (!input.destination) throw fieldProblem('destination', 'Give the long address the new link leads to.')
    const parsed = linkCreate.parse({
      domain: domain.host,
      slug: miss.path,
      destination: input.destination,
      reason: input.reason,
    })
    const link = await insertLink(db, change, domain, miss.path, parsed)
    return {
      by: { by: 'link', linkId: link.id, ruleId: null, address: link.address },
      sentence: `{address} now leads to ${link.destination}.`,
    }
  },
  async back(db, change, miss, domain, input) {
    if (miss.linkId === null) throw new Problem(409, 'No earlier link', 'There is no earlier link to restore.')
    const { link } = await findLink(db, miss.linkId, change.transaction)
    if (link.endsAt && link.endsAt <= change.now)
      throw fieldProblem('endsAt', 'Its end has passed; move or clear the end on the link itself.', 409)
    await changeLinks(db, change, new Map([[link.id, { standing: 'live', resumesAt: null }]]), {
      action: 'resume',
      reason: input.reason,
      label: link.slug,
    })
    return {
      by: { by: 'link', linkId: link.id, ruleId: null, address: `${showHost(domain.host)}/${link.slug}` },
      sentence: '{address} is live again.',
    }
  },
  async gone(db, change, miss, domain, input) {
    if (miss.linkId !== null) throw new Problem(409, 'Gone already', 'Visitors are told already that it is gone.')
    const id = await markGone(db, change, domain, miss, input.reason)
    return {
      by: { by: 'gone', linkId: id, ruleId: null, address: `${showHost(domain.host)}/${miss.path}` },
      sentence: 'Visitors of {address} are told that it is gone (410).',
    }
  },
}

async function decideNoise(
  db: Database,
  change: Change,
  miss: MissModel,
  { decision, reason }: Decision,
): Promise<string> {
  const { transaction } = change
  const domain = await findDomain(db, miss.domainId, transaction)
  const address = `${showHost(domain.host)}/${miss.path}`
  const serious = decision === 'open'
  if (serious === (miss.noise === null))
    throw new Problem(409, 'So it is', serious ? `${address} is no noise.` : `${address} is noise already.`)
  if (serious && miss.noise !== 'decided' && miss.noise !== 'shape')
    throw new Problem(409, 'Nobody decided', `${address} is noise by what it is: ${miss.noiseWhy}.`)
  const before = { noise: miss.noise, shape: miss.shape }
  const noise = serious ? null : decision === 'noise' ? ('decided' as const) : ('shape' as const)
  const shape = noise === 'shape' || before.noise === 'shape'
  await db.Miss.update(
    {
      noise,
      noiseWhy: noise === null ? '' : `${change.actor.name}: ${reason || 'nobody meant us'}`.slice(0, 200),
      due: true,
    },
    { where: shape ? { domainId: miss.domainId, shape: miss.shape } : { id: miss.id }, transaction },
  )
  await change.record({
    action: serious ? 'take-serious' : 'noise',
    subject: { kind: 'miss', id: miss.id, label: shape ? `${showHost(domain.host)}/${miss.shape}` : address },
    reason,
    before,
    after: { noise, shape: miss.shape },
  })
  if (!serious) await settleCase(db, change, miss)
  return serious
    ? `${address} counts as demand again.`
    : shape
      ? `Everything like ${showHost(domain.host)}/${miss.shape} is noise from now on.`
      : `${address} is noise from now on.`
}
