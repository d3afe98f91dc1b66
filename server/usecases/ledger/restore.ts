import { isDeepStrictEqual } from 'node:util'
import type { z } from 'zod'
import { domainPatch, linkPatch, type Domain, type Link, type RestoreRequest } from '../../../core/schemas'
import type { Database } from '../../database/open'
import { changeDomain, domainState } from '../domains/change-domain'
import { findDomain } from '../domains/find-domain'
import { changeLink } from '../links/change-link'
import { findLink } from '../links/find-link'
import { linkState, readTags } from '../links/link-state'
import { Problem } from '../problem'
import { stateAt } from './compare'
import type { Actor } from './change'

const NOT_THERE = new Problem(
  409,
  'Not there at that moment',
  'At that moment it was not there, so there is nothing to bring back. Undo what made it instead.',
)

/** The fields that a patch may set and that stood otherwise then. */
function patchTo<Schema extends z.ZodObject>(
  schema: Schema,
  then: Record<string, unknown>,
  now: Record<string, unknown>,
  reason: string,
): z.output<Schema> {
  const fields = Object.keys(schema.shape).filter(
    (field) => field in then && !isDeepStrictEqual(then[field] ?? null, now[field] ?? null),
  )
  if (fields.length === 0)
    throw new Problem(409, 'Nothing to bring back', 'All that can be set stands now as it stood then.')
  const checked = schema.safeParse({ ...Object.fromEntries(fields.map((field) => [field, then[field]])), reason })
  if (checked.success) return checked.data
  throw new Problem(
    422,
    'Cannot be restored',
    `The earlier version is no longer valid: ${checked.error.issues.map(({ message }) => message).join(' ')}`,
  )
}

const reasonOf = (given: string | undefined, at: string) =>
  given ?? `As it stood at ${at.slice(0, 16).replace('T', ' ')} UTC`

/**
 * Brings all a link says of itself back to what it was at a moment, by a change of its own: its address, destination,
 * dates, standing and all else that can be edited. What would be refused today is refused.
 */
export async function restoreLink(
  db: Database,
  actor: Actor,
  id: number,
  version: number,
  { at, reason }: RestoreRequest,
): Promise<Link> {
  const { link } = await findLink(db, id)
  const then = await stateAt(db, 'link', id, new Date(at))
  if (!then) throw NOT_THERE
  const now = linkState(link, (await readTags(db, [id])).get(id)!)
  return changeLink(db, actor, id, version, patchTo(linkPatch, then, { ...now }, reasonOf(reason, at)))
}

/** The same for a domain: what it answers with and how; its rules and slug rules have moments of their own. */
export async function restoreDomain(
  db: Database,
  actor: Actor,
  id: number,
  version: number,
  { at, reason }: RestoreRequest,
): Promise<Domain> {
  const domain = await findDomain(db, id)
  const then = await stateAt(db, 'domain', id, new Date(at))
  if (!then) throw NOT_THERE
  return changeDomain(db, actor, id, version, patchTo(domainPatch, then, domainState(domain), reasonOf(reason, at)))
}
