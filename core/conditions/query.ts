import { z } from 'zod'
import { parameterName } from '../address/query'
import { line } from '../schemas/line'
import type { ConditionKind } from './kind'

/** These parameters among others, or exactly these in any order. */
export const QUERY_MODES = ['contains', 'exactly'] as const

/** What is asked of the query, as it is written: `line=4&lang`, where a name alone stands for any value. */
export interface QueryPart {
  kind: 'query'
  mode: (typeof QUERY_MODES)[number]
  text: string
}

interface Asked {
  mode: QueryPart['mode']
  /** Parameters asked for; a value of null stands for any. */
  parameters: readonly { name: string; value: string | null }[]
}

const asked = ({ mode, text }: QueryPart): Asked => ({
  mode,
  parameters: text
    .split('&')
    .filter(Boolean)
    .map((piece) => ({ name: parameterName(piece), value: piece.includes('=') ? valueOf(piece) : null })),
})

const valueOf = (piece: string): string => {
  const raw = piece.slice(piece.indexOf('=') + 1)
  try {
    return decodeURIComponent(raw)
  } catch {
    return raw
  }
}

/** Whether a query (without `?`) satisfies a condition. Names and values are compared after percent-decoding. */
function satisfies(query: string, condition: Asked): boolean {
  const parameters =
    query === ''
      ? []
      : query
          .split('&')
          .filter(Boolean)
          .map((piece) => ({ name: parameterName(piece), value: piece.includes('=') ? valueOf(piece) : '' }))
  if (condition.mode === 'exactly' && parameters.length !== condition.parameters.length) return false
  return takeAll(condition.parameters, parameters)
}

/** Whether each asked parameter finds one of its own among those given; those with a value choose first. */
function takeAll(asked: Asked['parameters'], parameters: readonly { name: string; value: string | null }[]): boolean {
  const left = [...parameters]
  for (const want of [...asked].sort((a, b) => Number(a.value === null) - Number(b.value === null))) {
    const at = left.findIndex((have) => have.name === want.name && (want.value === null || have.value === want.value))
    if (at === -1) return false
    left.splice(at, 1)
  }
  return true
}

/** Whether every query that satisfies `inner` satisfies `outer`. */
function covers(outer: Asked, inner: Asked): boolean {
  if (outer.mode === 'exactly' && inner.mode !== 'exactly') return false
  if (outer.mode === 'exactly' && outer.parameters.length !== inner.parameters.length) return false
  return takeAll(outer.parameters, inner.parameters)
}

/** Whether some query satisfies both. */
function meet(a: Asked, b: Asked): boolean {
  if (a.mode !== 'exactly' && b.mode !== 'exactly') return true
  if (a.mode !== 'exactly') return meet(b, a)
  if (b.mode === 'exactly') return a.parameters.length === b.parameters.length && match(b.parameters, a.parameters)
  return match(b.parameters, a.parameters)
}

/**
 * Whether each asked parameter can be met by one of its own of those that stand, where “any” can be given any value.
 */
function match(asked: Asked['parameters'], there: Asked['parameters']): boolean {
  const left = [...there]
  const fits = (want: { value: string | null }, have: { value: string | null }) =>
    want.value === null || have.value === null || want.value === have.value
  const ordered = [...asked].sort((a, b) => Number(a.value === null) - Number(b.value === null))
  return ordered.every((want) => {
    let at = left.findIndex((have) => have.name === want.name && have.value === want.value)
    if (at === -1) at = left.findIndex((have) => have.name === want.name && fits(want, have))
    if (at === -1) return false
    left.splice(at, 1)
    return true
  })
}

/** A query that satisfies a condition, for a witness; empty where none is needed. */
function exampleQuery(...conditions: readonly Asked[]): string {
  const strictest = conditions.find(({ mode }) => mode === 'exactly')
  const parts: { name: string; value: string | null }[] = []
  for (const condition of strictest ? [strictest, ...conditions.filter((other) => other !== strictest)] : conditions) {
    const left = [...parts]
    for (const { name, value } of [...condition.parameters].sort(
      (a, b) => Number(a.value === null) - Number(b.value === null),
    )) {
      const at = left.findIndex(
        (part) => part.name === name && (value === null || part.value === null || part.value === value),
      )
      if (at === -1) parts.push({ name, value })
      else left.splice(at, 1)[0]!.value ??= value
    }
  }
  return parts.map(({ name, value }) => `${encodeURIComponent(name)}=${encodeURIComponent(value ?? '1')}`).join('&')
}

export const queryKind: ConditionKind<QueryPart> = {
  kind: 'query',
  read: z.strictObject({
    kind: z.literal('query'),
    mode: z.enum(QUERY_MODES, 'Choose “contains” or “exactly”.'),
    text: line(500, 'The query condition').refine(
      (text) => !/[?#]/.test(text),
      'Write the parameters only, like line=4&lang; without “?” and “#”.',
    ),
  }),
  holds(part) {
    const condition = asked(part)
    return ({ query }) => satisfies(query, condition)
  },
  meets: (a, b) => meet(asked(a), asked(b)),
  covers: (outer, inner) => covers(asked(outer), asked(inner)),
  example: (parts) => ({ query: exampleQuery(...parts.map(asked)) }),
  words: ({ mode, text }) =>
    mode === 'contains'
      ? `the query has ${text || 'anything'}`
      : text === ''
        ? 'there is no query'
        : `the query is exactly ${text}`,
  fingerprint: ({ mode, text }) => `${mode} ${text}`,
  varies: undefined,
}
