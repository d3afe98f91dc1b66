import { showHost } from '../../../core/address'
import { answer } from '../../../core/table'
import type { AnsweredBy } from '../../database/models/miss'
import type { MissRegister } from './miss-register'

/** A canonical path as it would stand in a request: what no request line can hold, escaped. */
const toTarget = (path: string): string =>
  '/' + path.replace(/[^\u0021-\u007e]/gu, encodeURIComponent).replace(/[?#]/g, encodeURIComponent)

/** What the gateway answers a path with today, where that is no miss any more; `undefined` where it still is. */
export function answeredBy(
  { table }: MissRegister,
  domainId: number,
  path: string,
  now: number,
): AnsweredBy | undefined {
  const part = table.domains.get(domainId)
  if (!part) return undefined
  const { domain } = part
  const given = answer(
    table,
    { method: 'GET', host: domain.host, target: toTarget(path), visitor: { acceptLanguage: '' } },
    now,
  )
  const entry = part.links.get(given.canonical)
  const address = `${showHost(domain.host)}/${entry?.extra?.slug ?? given.canonical}`
  if (given.mended)
    return { by: 'mended', linkId: given.linkId, ruleId: null, address: `tolerant matching (${given.mended})` }
  if (given.ruleId > 0) {
    const rule = part.rules.rules.find(({ row }) => row.id === given.ruleId)
    return { by: 'rule', linkId: null, ruleId: given.ruleId, address: `the rule ${rule?.row.pattern ?? ''}` }
  }
  if (given.location === null || given.linkId === 0) return undefined
  return {
    by: entry?.extra?.forwardsTo ? 'alias' : 'link',
    linkId: given.linkId,
    ruleId: null,
    address,
  }
}
