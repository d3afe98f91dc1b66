import { stepWords, type ChangeSpec } from '../../../core/changes'

const FIELD_WORDS: Record<keyof ChangeSpec['set'], string> = {
  status: 'the status',
  query: 'the query policy',
  queryConflict: 'query conflict',
  owner: 'the owner',
  startsAt: 'the start',
  endsAt: 'the end',
  endedDestination: 'where it leads once ended',
  resumesAt: 'when it resumes',
  robots: 'X-Robots-Tag',
  referrerPolicy: 'Referrer-Policy',
  standing: 'the standing',
}

/** What a change does, in words: “moves a.example to b.example, sets the owner to Ada”. */
export function changeWords({ steps, set, domain, tags }: ChangeSpec): string {
  const words = [
    ...steps.map(stepWords),
    ...Object.entries(set).map(([field, value]) => {
      const name = FIELD_WORDS[field as keyof ChangeSpec['set']]
      return value === null || value === '' ? `clears ${name}` : `sets ${name} to ${String(value)}`
    }),
    ...(domain ? [`moves to ${domain}`] : []),
    ...(tags.add.length > 0 ? [`adds ${tags.add.length === 1 ? 'the tag' : 'the tags'} ${tags.add.join(', ')}`] : []),
    ...(tags.remove.length > 0
      ? [`removes ${tags.remove.length === 1 ? 'the tag' : 'the tags'} ${tags.remove.join(', ')}`]
      : []),
  ].join(', ')
  return words.length > 600 ? words.slice(0, 599) + '…' : words
}
