export { BAD_PORTS } from './bad-ports'
export { advance, isCase, type Patience, type Standing } from './history'
export { causeOfFailure } from './cause'
export { certificateFault } from './certificate'
export { challengeWords } from './sign-in'
export { framesAllowed, frameAncestorsOf, type FrameRule } from './frames'
export { intervalMs, spread } from './schedule'
export {
  isFailure,
  TARGET_RANKS,
  VERDICT_NAMES,
  VERDICTS,
  type Confidence,
  type Judged,
  type VerdictName,
} from './verdicts'
export { judge } from './judge'
export { locationUrl } from './moves'
export { followParameters } from './parameters'
export { MAX_REDIRECTS } from './evidence'
export type * from './evidence'
export { readPage, type PageLink } from './page'
export { retryAfterMs } from './retry-after'
export { resemblance } from './shingles'
export { bestPages, indexPages, OFFERED_FROM, type PageIndex } from './match'
export {
  chainEnd,
  endCandidates,
  nearCandidates,
  REMEDY_KINDS,
  type Candidate,
  type FoundRemedies,
  type FoundRemedy,
  type FrameFields,
} from './remedy'
export { applyMove, moveOf, moveWords, supportedMoves, type Move, type MovedPair } from './sister-move'
export { readSitemap } from './sitemap'
export { headlineOf } from './headline'
