import type { Role } from '../schemas/roles'

/** What an entry of the ledger can be about. */
export const SUBJECT_KINDS = [
  'link',
  'domain',
  'member',
  'token',
  'organisation',
  'case',
  'rule',
  'links',
  'miss',
] as const
export type SubjectKind = (typeof SUBJECT_KINDS)[number]

interface ActionFacts {
  /** What was done, in two or three words before its subject. */
  words: string
  /**
   * The least role that may do it to each kind of subject, and so may undo it; kinds left out hold nothing to put back.
   */
  undo?: Partial<Record<SubjectKind, Role>>
}

/** Every action the ledger knows. Who may not do a thing may not undo it. */
const FACTS = {
  create: { words: 'Created', undo: { link: 'editor', rule: 'administrator' } },
  change: {
    words: 'Changed',
    undo: {
      link: 'editor',
      links: 'administrator',
      rule: 'administrator',
      domain: 'administrator',
      organisation: 'administrator',
    },
  },
  'change-destination': { words: 'Changed the destination of', undo: { link: 'editor', links: 'administrator' } },
  pause: { words: 'Paused', undo: { link: 'editor', links: 'administrator' } },
  resume: { words: 'Resumed', undo: { link: 'editor' } },
  end: { words: 'Ended', undo: { link: 'editor', links: 'administrator' } },
  retire: { words: 'Retired', undo: { link: 'editor' } },
  rename: { words: 'Renamed', undo: { link: 'editor' } },
  merge: { words: 'Merged', undo: { link: 'administrator' } },
  except: { words: 'Kept as an exception', undo: { link: 'administrator' } },
  forward: { words: 'Kept old slug' },
  alias: { words: 'Added the slug', undo: { link: 'editor' } },
  unalias: { words: 'Removed the slug', undo: { link: 'editor' } },
  'mark-gone': { words: 'Marked as gone', undo: { link: 'editor' } },
  noise: { words: 'Marked as noise', undo: { miss: 'editor' } },
  'take-serious': { words: 'Unmarked as noise', undo: { miss: 'editor' } },
  'settle-misses': { words: 'Settled', undo: { miss: 'editor' } },
  tell: { words: 'Notified the owner of a page about' },
  'forward-over': { words: 'Reused old slug' },
  place: { words: 'Added a placement of' },
  unplace: { words: 'Removed a placement of' },
  open: { words: 'Opened', undo: { domain: 'administrator' } },
  see: { words: 'Noticed a change of' },
  'read-zone': { words: 'Read the zone of' },
  'set-key': { words: 'Set the update key of' },
  'remove-key': { words: 'Removed the update key of' },
  push: { words: 'Placed records of', undo: { domain: 'administrator' } },
  'push-failed': { words: 'Failed to place records of' },
  'slug-rules': { words: 'Changed the slug rules of', undo: { domain: 'administrator' } },
  move: { words: 'Moved', undo: { rule: 'administrator' } },
  remove: { words: 'Removed', undo: { rule: 'administrator', domain: 'administrator' } },
  'switch-on': { words: 'Switched on', undo: { rule: 'administrator' } },
  'switch-off': { words: 'Switched off', undo: { rule: 'administrator' } },
  'set-aside': { words: 'Set aside', undo: { case: 'editor' } },
  'take-up': { words: 'Reopened', undo: { case: 'editor' } },
  keep: { words: 'Accepted as is', undo: { case: 'administrator' } },
  revoke: { words: 'Revoked' },
  invite: { words: 'Invited again' },
  'reset-password': { words: 'Created a one-time address for' },
  'take-factors': { words: 'Removed the second factors of' },
  'webhook-add': { words: 'Created a webhook to' },
  'webhook-change': { words: 'Changed the webhook to' },
  'webhook-remove': { words: 'Removed the webhook to' },
  'date-add': { words: 'Added a date for' },
  'date-done': { words: 'Marked as done a date of' },
  'export-traffic': { words: 'Exported figures of' },
  import: { words: 'Imported', undo: { links: 'administrator' } },
  'forget-visits': { words: 'Erased visit records of' },
  'morning-round': { words: 'Applied the morning round:', undo: { links: 'administrator' } },
  'set-up': { words: 'Set up' },
  // What an undoing did is what it undid, the other way round: whoever may do that.
  undo: { words: 'Undid a change of' },
} satisfies Record<string, ActionFacts>

export type Action = keyof typeof FACTS
export const ACTIONS: Readonly<Record<Action, ActionFacts>> = FACTS

const isAction = (action: string): action is Action => Object.hasOwn(FACTS, action)

/** What an action did, before the name of its subject; entries of an older release may hold others. */
export const actionWords = (action: string): string => (isAction(action) ? ACTIONS[action].words : 'Changed')

/** The same where its subject is not named: “Changed the destination”. */
export const actionAlone = (action: string): string => actionWords(action).replace(/(?: (?:of|for|to|about)|:)$/, '')

/**
 * The least role that may undo what an action did to a kind of subject; `undefined` where nothing could be put back.
 * For an undoing give the action that it undid in the first place.
 */
export const undoRole = (action: string, kind: SubjectKind): Role | undefined =>
  isAction(action) ? ACTIONS[action].undo?.[kind] : undefined
