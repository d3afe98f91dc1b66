/** What a written configuration would answer to a request for a target on its host. */
export interface TrialAnswer {
  status: number
  location: string | null
}
export type Trial = (target: string) => TrialAnswer

/** A text as its UTF-8 octets, one character each: servers compare octets. */
export const asOctets = (text: string): string => String.fromCharCode(...new TextEncoder().encode(text))

/** A target’s path as a server compares it, decoded to octets, and its query; `undefined` where an escape is faulty. */
export function partsOfTarget(target: string): { path: string; args: string } | undefined {
  const question = target.indexOf('?')
  const raw = question === -1 ? target : target.slice(0, question)
  if (/%(?![0-9A-Fa-f]{2})/.test(raw)) return undefined
  const path = raw.replace(/%([0-9A-Fa-f]{2})/g, (_, hex: string) => String.fromCharCode(parseInt(hex, 16)))
  return { path, args: question === -1 ? '' : target.slice(question + 1) }
}

/** A written expression, which is of Perl’s dialect, over octets. */
export const trialExpression = (source: string, fold: boolean): RegExp =>
  new RegExp(source.replaceAll('(?s:.)', '[^]'), fold ? 'i' : '')
