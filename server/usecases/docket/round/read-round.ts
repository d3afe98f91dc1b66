import type { MorningRound, RoundGroup } from '../../../../core/schemas'
import type { Database } from '../../../database/open'
import { planRound } from './plan'

const sum = (numbers: number[]) => numbers.reduce((total, one) => total + one, 0)

/** The morning round: all remedies that need no decision, by cause, those that restore most visits first. */
export async function readRound(db: Database): Promise<MorningRound> {
  const groups = new Map<string, RoundGroup>()
  for (const { group, fix } of await planRound(db)) {
    const known = groups.get(group.key) ?? { ...group, visits: 0, fixes: [] }
    known.fixes.push(fix)
    known.visits += fix.visits
    groups.set(group.key, known)
  }
  const all = [...groups.values()]
  for (const group of all) group.visits = Math.round(group.visits * 100) / 100
  const fixes = all.flatMap((group) => group.fixes)
  return {
    groups: all.sort((a, b) => b.visits - a.visits),
    fixes: fixes.length,
    visits: Math.round(sum(fixes.map(({ visits }) => visits)) * 100) / 100,
    links: sum(fixes.map(({ links }) => links)),
    slugs: sum(fixes.map(({ slugs }) => slugs)),
  }
}
