import { z } from 'zod'
import { NOBODY, type ConditionKind, type Visitor } from './kind'
import { languageKind, type LanguagePart } from './language'
import { queryKind, type QueryPart } from './query'

export type ConditionPart = QueryPart | LanguagePart

/** Every kind of condition; a new one is its file, its line here and its form part. */
const KINDS: { [Kind in ConditionPart['kind']]: ConditionKind<Extract<ConditionPart, { kind: Kind }>> } = {
  query: queryKind,
  language: languageKind,
}
export const CONDITION_KINDS = Object.keys(KINDS) as ConditionPart['kind'][]

const kindOf = (part: ConditionPart) => KINDS[part.kind] as ConditionKind<ConditionPart>

/** What must hold besides the address: each of its parts, at most one of a kind. An empty one always holds. */
export type Condition = readonly ConditionPart[]

export const conditionSchema = z
  .array(
    z.discriminatedUnion('kind', Object.values(KINDS).map(({ read }) => read) as never, 'There is no such condition.'),
    {
      error: 'Give conditions as a list.',
    },
  )
  .refine(
    (parts) => new Set((parts as ConditionPart[]).map(({ kind }) => kind)).size === parts.length,
    'A condition asks at most one thing of a kind.',
  ) as unknown as z.ZodType<ConditionPart[], ConditionPart[]>

/** A condition made ready to be asked often. */
export interface CompiledCondition {
  /**
   * Whether it holds for a visitor; `rivals` are the conditions of all that would take the address, this one among
   * them.
   */
  holds(visitor: Visitor, rivals: () => readonly Condition[]): boolean
  /** Request fields the answer depends on. */
  varies: readonly string[]
  /** Whether it holds for somebody of whom nothing is known. */
  plain: boolean
}

export function compileCondition(condition: Condition): CompiledCondition {
  const parts = condition.map((part) => ({ kind: part.kind, holds: kindOf(part).holds(part) }))
  const holds: CompiledCondition['holds'] = (visitor, rivals) =>
    parts.every((part) =>
      part.holds(visitor, () => rivals().flatMap((rival) => rival.filter(({ kind }) => kind === part.kind))),
    )
  return {
    holds,
    varies: condition.flatMap((part) => kindOf(part).varies ?? []),
    plain: holds(NOBODY, () => [condition]),
  }
}

const partLike = (condition: Condition, part: ConditionPart) => condition.find(({ kind }) => kind === part.kind)

/** Whether one visitor can meet both: false only where that is certain. */
export const conditionsMeet = (a: Condition, b: Condition): boolean =>
  a.every((part) => {
    const other = partLike(b, part)
    return !other || kindOf(part).meets(part, other)
  })

/** Whether `outer` holds wherever `inner` does: true only where that is certain. */
export const conditionCovers = (outer: Condition, inner: Condition): boolean =>
  outer.every((part) => {
    const other = partLike(inner, part)
    return other !== undefined && kindOf(part).covers(part, other)
  })

/** A visitor for whom all of these conditions hold, as far as each kind can tell of one. */
export function exampleVisitor(...conditions: readonly Condition[]): Visitor {
  const parts = conditions.flat()
  const facts = CONDITION_KINDS.map((kind) => {
    const alike = parts.filter((part) => part.kind === kind)
    return alike.length === 0 ? {} : kindOf(alike[0]!).example(alike)
  })
  return Object.assign({}, NOBODY, ...facts) as Visitor
}

/** What a condition asks, after “if ”; empty where it asks nothing. */
export const conditionWords = (condition: Condition): string =>
  condition.map((part) => kindOf(part).words(part)).join(' and ')

/** Changes when what a condition asks does. */
export const conditionFingerprint = (condition: Condition): string =>
  condition
    .map((part) => `${part.kind} ${kindOf(part).fingerprint(part)}`)
    .sort()
    .join('\n')

/** Whether an answer under this condition differs from visitor to visitor of one address. */
export const conditionVaries = (condition: Condition): boolean =>
  condition.some((part) => kindOf(part).varies !== undefined)
