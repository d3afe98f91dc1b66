import type { SurveyLink } from '../../rows'
import type { Conflict } from '../model'

/** A conflict between two links. */
export function pairOf(kind: Conflict['kind'], a: SurveyLink, b: SurveyLink): Conflict {
  const [low, high] = a.id < b.id ? [a, b] : [b, a]
  return { kind, key: `${kind} ${low.id} ${high.id}`, domainId: low.domainId, links: [low.id, high.id], rules: [] }
}
