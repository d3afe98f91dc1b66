import { familiesOf, type Family } from '../../../core/misses'
import type { MissFamily } from '../../../core/schemas'
import type { MissModel } from '../../database/models/miss'
import type { Database } from '../../database/open'
import { conflictsOf, toConflictView } from '../conflicts/conflict-gate'
import { currentSurvey } from '../conflicts/survey'

/** So many of a shape are looked at. */
const MAX_MEMBERS = 500
/** A link that was likely meant tells where a rule would lead. */
const MIN_LIKELY = 0.5

const member = ({ path, visitors28, ranking }: MissModel) => {
  const first = ranking?.candidates[0]
  return {
    path,
    visitors: visitors28,
    destination: first && first.probability >= MIN_LIKELY ? first.destination : null,
  }
}

/** The families among open misses of one domain. */
export const familiesAmong = (misses: readonly MissModel[]): Family[] => familiesOf(misses.map(member))

/** Open misses of a domain that share a shape. */
export const ofShape = (db: Database, domainId: number, shape: string): Promise<MissModel[]> =>
  db.Miss.findAll({
    where: { domainId, shape, answered: false, noise: null },
    order: [['visitors28', 'DESC']],
    limit: MAX_MEMBERS,
  })

/** The family of a shape with the rule that would cover it, proved against all links and rules there are. */
export async function familyOf(db: Database, domainId: number, shape: string): Promise<MissFamily | null> {
  const misses = await ofShape(db, domainId, shape)
  const [family] = familiesAmong(misses)
  if (!family) return null
  const ids = new Map(misses.map(({ id, path }) => [path, id]))
  return {
    shape,
    pattern: family.pattern,
    destination: family.destination,
    members: family.members.map(({ path, visitors }) => ({ id: ids.get(path)!, path, visitors })),
    clashes: family.destination === null ? [] : await clashesOf(db, domainId, family.pattern, family.destination),
  }
}

/** What a rule of this pattern would be in conflict with; decided on automata, so that none is missed. */
async function clashesOf(
  db: Database,
  domainId: number,
  pattern: string,
  destination: string,
): Promise<MissFamily['clashes']> {
  const survey = await currentSurvey(db)
  const domain = survey.state.domains.get(domainId)
  if (!domain) return []
  const rules = [...survey.state.rules.values()].filter((rule) => rule.domainId === domainId)
  const found = conflictsOf(survey, {
    rules: [
      {
        id: -1,
        domainId,
        position: Math.max(0, ...rules.map(({ position }) => position)) + 1,
        syntax: 'path',
        pattern,
        destination,
        status: 302,
        query: 'discard',
        queryConflict: 'destination',
        condition: [],
        except: [],
        active: true,
        visits28: 0,
      },
    ],
  })
  return found
    .map((one) => toConflictView(one, survey))
    .filter(({ severity, kind }) => severity === 'broken' || (kind !== 'chain' && kind !== 'twins'))
    .map(({ headline, sentence, witness }) => ({ headline, sentence, witness }))
}
