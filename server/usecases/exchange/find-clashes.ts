import { describeConflict, type Conflict, type Survey } from '../../../core/conflicts'
import { isRemark } from '../../../core/docket'
import type { SurveyLink, SurveyRule } from '../../../core/rows'
import { toFinding } from '../../docket/conflicts/findings'
import { isNewLink } from './compare-rows'
import type { JudgedRow, LinkToBe, RuleToBe } from './judged-row'

const ms = (text: string | null) => (text === null ? null : Date.parse(text))

/** A row as the finders see it: what is not there yet has a number below zero. */
const surveyLink = (state: LinkToBe, id: number): SurveyLink => ({
  id,
  domainId: state.domainId,
  slug: state.slug,
  canonical: state.canonical,
  forwardsTo: null,
  exception: true,
  destination: state.destination,
  status: state.status,
  query: state.query,
  queryConflict: state.queryConflict,
  standing: state.standing,
  startsAt: ms(state.startsAt),
  endsAt: ms(state.endsAt),
  resumesAt: null,
  endedDestination: state.endedDestination,
  robots: null,
  referrerPolicy: null,
  unlisted: state.unlisted,
  visits28: 0,
})

const LAST = 1_000_000_000

const surveyRule = ({ title: _title, rank: _rank, ...state }: RuleToBe, id: number, position: number): SurveyRule => ({
  ...(state as Omit<SurveyRule, 'id' | 'position' | 'active' | 'visits28'>),
  id,
  position,
  active: true,
  visits28: 0,
})

/**
 * Puts rows of a file to the finders of conflicts, beside all there is (semantics §3). What is in conflict wants a
 * decision; what leads in a circle is refused; a chain is made straight where nothing of the request is lost by that.
 * Yields, so that whoever drives it may tell how far it is. The survey is of no use afterwards.
 */
export function* findClashes(survey: Survey, rows: readonly JudgedRow[]): Generator<{ done: number; total: number }> {
  const byId = new Map<number, JudgedRow>()
  const links: SurveyLink[] = []
  const rules: SurveyRule[] = []
  for (const [index, row] of rows.entries()) {
    const id = -1 - index
    if (isNewLink(row)) {
      byId.set(id, row)
      links.push(surveyLink(row.state as LinkToBe, id))
    } else if (row.kind === 'rule' && row.state) {
      byId.set(id, row)
      rules.push(surveyRule(row.state as RuleToBe, id, LAST + index))
    } else if (row.linkId !== null && row.state && 'destination' in row.state) {
      const known = survey.state.links.get(row.linkId)
      if (!known) continue
      byId.set(known.id, row)
      // Only loops matter of what may be replaced, and only where it is.
    }
  }
  if (links.length === 0 && rules.length === 0) return
  survey.load([], links, rules, Date.now())
  yield* survey.scan()
  for (const conflict of survey.conflicts) {
    for (const id of toDecide(conflict)) {
      const row = byId.get(id)
      if (row) meet(survey, row, id, conflict)
    }
  }
}

/**
 * The rows of a file whose part in a conflict is to be decided. Where all sides of it are in the file, those asked
 * first stay as they are, and leaving the others out must not take them along: links stay and rules are decided; of
 * rules alone, or links alone, the first stays. A circle has no first.
 */
function toDecide({ kind, links, rules }: Conflict): number[] {
  const sides = [...links, ...rules]
  const mine = sides.filter((id) => id < 0)
  if (mine.length < sides.length || kind === 'loop' || kind === 'chain') return mine
  if (links.length > 0 && rules.length > 0) return [...rules]
  return mine.sort((a, b) => b - a).slice(1)
}

function meet(survey: Survey, row: JudgedRow, id: number, conflict: Conflict): void {
  if (row.kind === 'refused') return
  const { sentence } = describeConflict(survey.state, conflict)
  if (conflict.kind === 'loop') {
    Object.assign(row, {
      kind: 'refused',
      code: 'loop',
      decision: null,
      why: sentence,
      would: 'Give one of the addresses in this circle another destination.',
      hash: null,
    })
    return
  }
  if (conflict.kind === 'chain') return straighten(survey, row, id, conflict)
  if (conflict.kind === 'twins' || isRemark(toFinding(survey, conflict))) return
  // The first thing found is told; what is refused or decided already stays so.
  if (row.kind === 'clash') return
  const other = conflict.rules.find((rule) => rule !== id)
  Object.assign(row, {
    kind: 'clash',
    code: conflict.kind,
    cause: other === undefined ? '' : (survey.state.rules.get(other)?.pattern ?? ''),
    decision: null,
    why: sentence.slice(0, 900),
  })
}

/** A link that leads to one of our addresses, which leads on, is pointed at the end. */
function straighten(survey: Survey, row: JudgedRow, id: number, { links, end, via }: Conflict): void {
  if (links[0] !== id || end === undefined || !row.state || !('slug' in row.state)) return
  const state = row.state as LinkToBe
  if (state.query !== 'discard' || survey.state.isOurs(end)) return
  row.why = `It led to ${via?.at(-1) ?? 'another short address'}, which redirects; changed to the final destination.`
  row.code = 'straightened'
  state.destination = end
  row.destination = end
}
