import type { DestinationRefusal } from './destination'
import { MAX_SLUG, type SlugRefusal } from './slug-shape'

/** Why a destination is refused, and what would be right, in one sentence each. */
export const DESTINATION_REFUSALS: Record<DestinationRefusal, string> = {
  empty: 'Enter a destination, for example https://www.example/page.',
  'too-long': 'The destination can be at most 8,000 characters.',
  'not-a-url': 'Not a complete web address. Example: https://www.example/page.',
  scheme: 'Only http:// and https:// destinations are allowed here; other schemes must first be listed for the domain.',
  'user-info': 'Remove the user name or password before “@” in the destination.',
  'not-a-host': 'The host in this destination is not a valid name.',
}

/** Why a slug is refused, and what would be right. */
export const SLUG_REFUSALS: Record<SlugRefusal, (character: string) => string> = {
  empty: () => 'Give the part after the slash, like “fares”.',
  'too-long': () => `A slug can be at most ${MAX_SLUG} characters.`,
  character: (character) =>
    `A slug cannot hold ${character.trim() === '' ? 'a space' : `“${character}”`}; use letters, digits, ` +
    '“-”, “.”, “_”, “~” and “/”.',
  segment: () => 'A slug’s parts between slashes must not be empty, “.” or “..”.',
  'well-known': () => '/.well-known/ is reserved. Choose another slug.',
}
