import { REDIRECT_FIELDS, type Redirect } from '~~/core/rows'

type QueryPart = Omit<Redirect, 'status'>

/** What happens to the visitor’s query, as people choose it and as it is shown afterwards. */
export const QUERY_CHOICES: readonly { value: string; title: string; words: string; redirect: QueryPart }[] = [
  {
    value: 'discard',
    title: 'Drop the visitor’s query',
    words: 'dropped',
    redirect: { query: 'discard', queryConflict: REDIRECT_FIELDS.queryConflict.fallback! },
  },
  {
    value: 'destination',
    title: 'Pass it on; on a conflict the destination’s value',
    words: 'passed on; on a conflict the destination’s value',
    redirect: { query: 'carry', queryConflict: 'destination' },
  },
  {
    value: 'visitor',
    title: 'Pass it on; on a conflict the visitor’s value',
    words: 'passed on; on a conflict the visitor’s value',
    redirect: { query: 'carry', queryConflict: 'visitor' },
  },
  {
    value: 'both',
    title: 'Pass it on; on a conflict both values',
    words: 'passed on; on a conflict both values',
    redirect: { query: 'carry', queryConflict: 'both' },
  },
]

/** Which of them a redirect has. */
export const queryChoice = ({ query, queryConflict }: QueryPart): string =>
  query === 'discard' ? 'discard' : queryConflict

/** What happens to the visitor’s query, in words. */
export const queryWords = (redirect: QueryPart): string =>
  QUERY_CHOICES.find(({ value }) => value === queryChoice(redirect))!.words
