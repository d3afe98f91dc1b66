import { REDIRECT_FIELDS, type Redirect } from '~~/core/rows'

type QueryPart = Omit<Redirect, 'status'>

/** What may become of the visitor’s query, as people choose it and as it is told afterwards. */
export const QUERY_CHOICES: readonly { value: string; title: string; words: string; redirect: QueryPart }[] = [
  {
    value: 'discard',
    title: 'Drop what the visitor’s address has after “?”',
    words: 'The visitor’s query is dropped',
    redirect: { query: 'discard', queryConflict: REDIRECT_FIELDS.queryConflict.fallback! },
  },
  {
    value: 'destination',
    title: 'Carry it on; where both have a parameter, the destination’s stays',
    words: 'Carried; the destination’s own values win',
    redirect: { query: 'carry', queryConflict: 'destination' },
  },
  {
    value: 'visitor',
    title: 'Carry it on; where both have a parameter, the visitor’s stays',
    words: 'Carried; the visitor’s values win',
    redirect: { query: 'carry', queryConflict: 'visitor' },
  },
  {
    value: 'both',
    title: 'Carry it on; where both have a parameter, keep both',
    words: 'Carried; both values are kept',
    redirect: { query: 'carry', queryConflict: 'both' },
  },
]

/** Which of them a redirect has. */
export const queryChoice = ({ query, queryConflict }: QueryPart): string =>
  query === 'discard' ? 'discard' : queryConflict

/** What becomes of the visitor’s query, in words. */
export const queryWords = (redirect: QueryPart): string =>
  QUERY_CHOICES.find(({ value }) => value === queryChoice(redirect))!.words
