import { createHash } from 'node:crypto'

const keyOf = (...parts: (string | number)[]) => createHash('sha256').update(parts.join('\n')).digest('hex')

/** The key of a miss's case: its address, so that it stays one case whatever it turns out to mean. */
export const missKey = ({ domainId, path }: { domainId: number; path: string }): string =>
  keyOf('misses', domainId, path)

/** The key of a family's case. */
export const familyKey = ({ domainId, shape }: { domainId: number; shape: string }): string =>
  keyOf('misses', 'family', domainId, shape)
