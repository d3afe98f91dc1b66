import type { z } from 'zod'
import { readSlug, readTarget, showHost } from '../../../core/address'
import { rank } from '../../../core/misses'
import type { rankAnswer, rankRequest } from '../../../core/schemas'
import type { Database } from '../../database/open'
import { findDomainNamed } from '../domains/find-domain'
import { fieldProblem } from '../problem'
import { missRegister } from './miss-register'

/** What was most likely meant by a path, whether or not anybody asked for it yet. */
export async function rankPath(
  db: Database,
  input: z.output<typeof rankRequest>,
): Promise<z.output<typeof rankAnswer>> {
  const domain = await findDomainNamed(db, input.domain)
  const escaped = input.path.replace(/[^\u0021-\u007e]/gu, (one) => encodeURIComponent(one.toWellFormed()))
  const target = readTarget(escaped.startsWith('/') ? escaped : '/' + escaped)
  const reading = target.ok ? readSlug(target.path, domain) : undefined
  if (!reading?.ok || reading.canonical === '')
    throw fieldProblem('path', 'path: no request could ask for this; give a path like /fraes.')
  const register = await missRegister(db)
  const { candidates, none } = rank(register.index, { domainId: domain.id, path: reading.canonical })
  return {
    none,
    candidates: candidates.map(({ link, domainId, canonical, probability, because }) => {
      const part = register.table.domains.get(domainId)
      return {
        link,
        address: `${showHost(part?.domain.host ?? '')}/${part?.links.get(canonical)?.extra?.slug ?? canonical}`,
        probability,
        because,
      }
    }),
  }
}
