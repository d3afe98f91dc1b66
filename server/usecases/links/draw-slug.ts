import { randomBytes } from 'node:crypto'
import { canonicalSlug } from '../../../core/address'
import { lookNeighbours, slipNeighbours } from '../../../core/conflicts'
import { breachesOf, randomAlphabet, randomSlug } from '../../../core/slugs'
import type { Database } from '../../database/open'
import type { DomainModel } from '../../database/models/domain'
import { wholeSlugRules } from '../../../core/rows'
import { currentSurvey } from '../conflicts/survey'

const DRAWS = 60

/**
 * A free random slug by the domain's rules, from a cryptographic source: one that could be mistaken for no other where
 * one is found soon, any free one else. `undefined` where the rules leave none.
 */
export async function drawSlug(db: Database, domain: DomainModel): Promise<string | undefined> {
  const survey = await currentSurvey(db)
  const rules = wholeSlugRules(domain.slugRules)
  const alphabet = randomAlphabet(rules, domain.capitalsMatter).join('')
  const prefix = rules.prefixes[0] ? `${rules.prefixes[0]}/` : ''
  const length = Math.max(1, rules.randomLength - prefix.length, rules.minLength - prefix.length)
  const id = domain.id
  let free: string | undefined
  for (let draw = 0; draw < DRAWS; draw++) {
    const slug = prefix + randomSlug(alphabet, prefix === '' ? rules.randomLength : length, randomBytes)
    const canonical = canonicalSlug(slug, domain)
    if (
      !canonical ||
      survey.state.table.domains.get(id)?.links.has(canonical) ||
      breachesOf(slug, rules, domain.capitalsMatter).length > 0
    )
      continue
    free ??= slug
    if (
      lookNeighbours(survey.state, id, canonical).length === 0 &&
      slipNeighbours(survey.state, id, canonical).length === 0
    )
      return slug
  }
  return free
}
