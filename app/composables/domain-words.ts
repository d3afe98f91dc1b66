import type { Domain, ObservationsView } from '~~/core/schemas'

/** A domain's standing as people read it, with the mark it takes. */
export const STANDING_WORDS: Record<
  Domain['standing'],
  { word: string; mark: 'sound' | 'doubtful' | 'broken' | 'idle' }
> = {
  'not-proved': { word: 'Ownership not verified', mark: 'idle' },
  proved: { word: 'Ownership verified', mark: 'doubtful' },
  spreading: { word: 'Spreading', mark: 'doubtful' },
  open: { word: 'Open', mark: 'sound' },
  drifted: { word: 'Drifted', mark: 'broken' },
}

/** A span of time in few words. */
export function span(milliseconds: number): string {
  const seconds = Math.max(0, Math.round(milliseconds / 1000))
  if (seconds < 100) return `${seconds} s`
  const minutes = Math.ceil(seconds / 60)
  return minutes < 100 ? `${minutes} min` : `${Math.round(minutes / 6) / 10} h`
}

/** What one server said of one set, in few words. */
export function said(item: ObservationsView['items'][number] | undefined): string {
  if (!item) return 'not asked'
  return {
    answered: item.data.join(', '),
    none: 'none',
    lame: 'not authoritative',
    refused: 'refuses',
    failed: 'fails',
    silent: 'no answer',
  }[item.status]
}

/** How many resolvers see the new records, of those that answer. */
export function spreadWords(states: readonly { state: string }[]): string {
  const answering = states.filter(({ state }) => state !== 'silent' && state !== 'faulty')
  return (
    `${answering.filter(({ state }) => state === 'new').length} of ${answering.length} resolvers see the ` +
    'new address'
  )
}
