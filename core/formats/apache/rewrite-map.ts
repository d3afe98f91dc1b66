import { absolute } from './alias'
import { placeOf, type Directive } from './directives'
import type { ReadingMaker } from '../reading'
import type { readStatus } from '../status'
import { refusal, settle, type Refusal, type RewriteContext } from './rewrite-conditions'

/** A rule whose destination is looked up in a map of text: every line of the map is a link. */
export function readMap(
  made: ReadingMaker,
  rule: Directive,
  conditions: readonly Directive[],
  context: RewriteContext,
  [whole, name, key]: RegExpExecArray | [string, string, string],
  status: ReturnType<typeof readStatus> & {},
): Refusal | undefined {
  const [pattern = '', substitution = ''] = rule.args
  const map = context.maps.get(name!.toLowerCase())
  if (!map)
    return refusal(
      rule,
      'map',
      `The map “${name}” is not among the files.`,
      'Drop its text file together with this one.',
    )
  const others = conditions.filter(({ args: [test = ''] }) => !test.startsWith('${'))
  const settled = settle(made, others, context)
  if ('code' in settled) return settled
  const form = /^\^?(\/?)\(\.[*+]\)\$?$/.exec(pattern)
  if (!form || key !== '$1' || substitution !== whole || settled.condition.length > 0 || settled.path !== undefined)
    return refusal(
      rule,
      'map-use',
      'It does more with the map than look the whole path up.',
      'Bring the map in as a plain list.',
    )
  // In a server’s file the path has its slash; a pattern that takes it away asks the map without.
  const lead = context.folder === '' && form[1] === '' ? '' : '/'
  if ([...map.values()].some((to) => to.includes('?')))
    made.remark(
      rule,
      'Present versions of the server refuse (403) what a map leads to with a query; here it leads there.',
    )
  for (const [from, to] of map)
    for (const host of settled.hosts) {
      const target = absolute(to, host)
      if (target === undefined) {
        made.refuse(rule, 'destination', `${from} ${to}`, `“${to}” is no whole address.`)
        continue
      }
      made.link({
        ...placeOf(rule),
        host,
        slug: (lead + from).replace(/^\//, ''),
        destination: status === 'gone' ? null : target.replace(/\?$/, ''),
        ...(status !== 'gone' && { status }),
        query: target.includes('?') ? 'discard' : 'carry',
        queryConflict: 'both',
      })
    }
  return undefined
}
