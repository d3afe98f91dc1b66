import { canonicalSlug, DESTINATION_REFUSALS, readDestination, showHost } from '../address'
import type { SurveyDomain } from '../rows'
import type { LinkState } from '../rows/link'
import { isPermanent } from '../rows/redirect-status'
import { breachesOf } from '../slugs'
import type { ChangeSpec } from './change-spec'
import type { StepContext } from './step'
import { takeSteps } from './steps'

type TaggedState = LinkState & { tags: string[] }
/** The fields of a link that change, as they would be. */
export type Rewritten = Partial<TaggedState>

export type RewriteVerdict =
  | { kind: 'change'; before: Rewritten; after: Rewritten }
  | { kind: 'unchanged' }
  | { kind: 'refused'; sentence: string }

/** A domain links are moved to, with the schemes it lists beside http and https. */
export type MoveTarget = Pick<SurveyDomain, 'id' | 'host' | 'capitalsMatter' | 'trailingSlashMatters' | 'slugRules'> & {
  appSchemes: readonly string[]
}

interface RewriteContext extends StepContext {
  /** Schemes beside http and https that the link's domain lists. */
  appSchemes: readonly string[]
  /** Milliseconds: when the change is to take effect. */
  at: number
  /** The domain links are moved to. */
  target?: MoveTarget
}

const MAX_TAGS = 30

/** What a change makes of one link; a link that cannot be changed so is refused with a sentence. */
export function rewrite(state: TaggedState, spec: ChangeSpec, context: RewriteContext): RewriteVerdict {
  const { steps, set, tags } = spec
  const after: Rewritten = { ...set }
  // As the ledger keeps them, so that what was written can be compared with what stands.
  for (const field of ['startsAt', 'endsAt', 'resumesAt'] as const)
    if (typeof set[field] === 'string') after[field] = new Date(set[field]).toISOString()
  if (steps.length > 0) {
    const now = takeSteps(steps, state.destination, context)
    if (!now.ok) return { kind: 'refused', sentence: now.sentence }
    if (now.destination !== state.destination) {
      const reading = readDestination(now.destination, context.appSchemes)
      if (!reading.ok)
        return {
          kind: 'refused',
          sentence: `It would become ${now.destination}. ${DESTINATION_REFUSALS[reading.reason]}`,
        }
      after.destination = reading.destination
    }
  }
  if (tags.add.length + tags.remove.length > 0) {
    const kept = state.tags.filter((tag) => !tags.remove.includes(tag))
    after.tags = [...new Set([...kept, ...tags.add])].sort()
    if (after.tags.length > MAX_TAGS)
      return { kind: 'refused', sentence: `It would have ${after.tags.length} tags; at most ${MAX_TAGS} are allowed.` }
  }
  if (context.target && state.domainId !== context.target.id) {
    const moved = moveTo(context.target, state, after.destination)
    if ('sentence' in moved) return { kind: 'refused', sentence: moved.sentence }
    Object.assign(after, moved)
  }
  const sentence = refusal({ ...state, ...after }, state, set, context)
  if (sentence !== undefined) return { kind: 'refused', sentence }
  if (set.standing !== undefined && set.standing !== 'paused' && state.resumesAt !== null) after.resumesAt ??= null
  // An address is told whole: on another domain, with its canonical form there.
  const changed = Object.keys(after).filter(
    (key) =>
      (key === 'canonical' && after.domainId !== undefined) ||
      !same(after[key as keyof Rewritten], state[key as keyof Rewritten]),
  ) as (keyof Rewritten)[]
  if (changed.length === 0) return { kind: 'unchanged' }
  const pick = (from: Rewritten) => Object.fromEntries(changed.map((key) => [key, from[key]])) as Rewritten
  return { kind: 'change', before: pick(state), after: pick(after) }
}

/** The address a link has on another domain, by that domain's rules; refuses what could not be there. */
function moveTo(
  target: MoveTarget,
  { slug, canonical: now, destination, exception, forwardsTo }: TaggedState,
  newDestination: string | undefined,
): Pick<LinkState, 'domainId' | 'canonical'> | { sentence: string } {
  // A slug that forwards is told as such.
  if (forwardsTo !== null) return {} as Pick<LinkState, 'domainId' | 'canonical'>
  const host = showHost(target.host)
  if (now === null) return { sentence: 'It no longer has a short address.' }
  const canonical = canonicalSlug(slug, target)
  if (!canonical) return { sentence: `On ${host} no request could ever reach this slug.` }
  const [breach] = exception ? [] : breachesOf(slug, target.slugRules, target.capitalsMatter)
  if (breach) return { sentence: `It breaks the slug rules of ${host}: ${breach.sentence}` }
  const reading = readDestination(newDestination ?? destination, target.appSchemes)
  if (!reading.ok) return { sentence: `On ${host}: ${DESTINATION_REFUSALS[reading.reason]}` }
  return { domainId: target.id, canonical }
}

const same = (one: unknown, other: unknown) => JSON.stringify(one) === JSON.stringify(other)

function refusal(
  after: TaggedState,
  before: TaggedState,
  set: ChangeSpec['set'],
  { appSchemes, at }: RewriteContext,
): string | undefined {
  const ms = (text: string | null) => (text === null ? null : Date.parse(text))
  const [startsAt, endsAt, resumesAt] = [ms(after.startsAt), ms(after.endsAt), ms(after.resumesAt)]
  if (before.forwardsTo !== null) return 'This slug leads to another link; change that one.'
  if (startsAt !== null && endsAt !== null && endsAt <= startsAt) return 'Its end would not be later than its start.'
  if (set.standing === 'live' && endsAt !== null && endsAt <= at) return 'Its end has passed; clear the end as well.'
  if (set.resumesAt && after.standing !== 'paused') return 'Only a paused link resumes; pause it with the same change.'
  if (set.resumesAt && resumesAt !== null && resumesAt <= at) return 'The resume time must be in the future.'
  if (set.endedDestination) {
    const reading = readDestination(set.endedDestination, appSchemes)
    if (!reading.ok) return `Where it leads once ended: ${DESTINATION_REFUSALS[reading.reason]}`
  }
  return undefined
}

/** Whether a permanent answer that browsers may hold would be another one. */
export const changesPermanent = (before: TaggedState, after: Rewritten): boolean =>
  isPermanent(before.status) &&
  ((after.destination !== undefined && after.destination !== before.destination) ||
    (after.status !== undefined && after.status !== before.status))
