export { UNMISTAKABLE } from './alphabets'

export { alphabetSize, capacityOf, randomAlphabet } from './capacity'
export { digitMask, isOneSlip, osaDistance, slipPairs } from './distance'
export { chanceOfCollision, chanceTaken, guessesPerHit, oddsOf, recommendLength } from './odds'
export type { OddsBounds } from './odds'
export { finalAddresses } from './final-addresses'
export { randomSlug } from './random'
export { breachesOf, faultsOfRules } from './rules'
export { SlipFilter } from './slip-filter'

export { OPEN_RULES } from './slug-rules'
export type { SlugRules } from './slug-rules'
export { isSingleScript } from './script'
export { shapeOf, speakability } from './shape'

export { lookAlikeKey, skeleton } from './skeleton'
export { spell } from './spoken'
export { suggestSlugs, wordsOf } from './suggest'
