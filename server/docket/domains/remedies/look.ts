import { readSoa } from '../../../../core/dns'
import { ask } from '../../../names/ask'
import { checkReach } from '../../../names/reach'
import { writeCase } from '../../../usecases/docket/case-state'
import { lookNow } from '../../../usecases/domains/domain-observations'
import { runChange } from '../../../usecases/ledger/change'
import { remedyView, type ComposedRemedy } from '../../remedy'
import type { Context } from './context'

/** Somebody waits for the page. */
const BRIEFLY = { timeoutMs: 1000, retries: 0 }

/** A server that is behind: tells each one's serial as it is now. */
export async function catchUp(context: Context): Promise<ComposedRemedy> {
  const { names, overview } = context
  const serials = await Promise.all(
    (overview.watch?.servers ?? []).map(async (server) => {
      const asked = await ask(names.way(server.address, 53), overview.zone.origin, 'SOA', BRIEFLY)
      const soa = asked.ok ? asked.message.answer.find((record) => record.type === 'SOA') : undefined
      return soa
        ? `${server.name} has serial ` + `${readSoa({ ...soa, type: 'SOA' }).serial}`
        : `${server.name} gives no answer`
    }),
  )
  return {
    view: remedyView({
      id: 'agree-again',
      title: 'Synchronise the name servers',
      sentence:
        'Let the one that differs transfer the zone again. Current answers: ' +
        `${serials.join('; ') || 'no name server is known'}.`,
      to: `/domains/${context.domain.id}`,
      visitsKept: context.impact,
    }),
  }
}

export function lookAgain({ db, domain }: Context): ComposedRemedy {
  return {
    view: remedyView({
      id: 'look-again',
      title: 'Check again',
      sentence: 'Queries all name servers and resolvers now. The case settles automatically if they are correct.',
      applies: true,
    }),
    apply: async () => {
      await lookNow(db, domain.id)
      return 'The watch looks again at once.'
    },
  }
}

/** Sets the case aside until the resolver must have let go, by its own word. */
export function waitForLapse(context: Context): ComposedRemedy {
  const { db, row, overview, names } = context
  const server = row.subject.split(' ').slice(2).join(' ')
  const until = Math.max(
    ...overview.latest
      .filter(
        (seen) =>
          seen.role === 'resolver' && seen.server === server && seen.ttl !== null && seen.name === overview.name,
      )
      .map((seen) => seen.at + (seen.ttl! * 1000) / names.ttlSpeed),
    Date.now() + 60_000,
  )
  const time = new Date(until).toISOString().slice(0, 16).replace('T', ' ')
  return {
    view: remedyView({
      id: 'wait',
      title: 'Wait for the old answer to expire',
      sentence: `By its own word ${server} keeps the old answer until ${time} UTC. The case is set aside until then.`,
      applies: true,
      undoable: true,
      visitsKept: context.impact,
    }),
    apply: async (actor) => {
      await runChange(db, actor, async (change) => {
        await row.reload({ transaction: change.transaction, lock: change.transaction.LOCK.UPDATE })
        await writeCase(
          db,
          change,
          row,
          context.domain.host,
          {
            state: 'set-aside',
            setAsideUntil: new Date(until).toISOString(),
            reason: `${server} keeps the old answer until then`,
          },
          'set-aside',
        )
      })
      return `Set aside until ${time} UTC.`
    },
  }
}

export async function seeFront(context: Context): Promise<ComposedRemedy> {
  const reach = await checkReach(context.names, context.domain.host, new Date())
  return {
    view: remedyView({
      id: 'see-front',
      title: 'Have the gateway’s front answer for the name',
      visitsKept: context.impact,
      to: `/domains/${context.domain.id}?tab=certificate`,
      sentence:
        `Asked just now: ${reach?.sentence ?? 'no resolver answers.'} Whatever stands in front of the ` +
        `gateway must pass requests for ${context.domain.host} on to it.`,
    }),
  }
}

/** What is done about a certificate is done at the front, or at what keeps it from getting one. */
export const seeCertificate = (context: Context): ComposedRemedy => ({
  view: remedyView({
    id: 'see-certificate',
    title: 'Let the reverse proxy request a certificate',
    visitsKept: context.impact,
    to: `/domains/${context.domain.id}?tab=certificate`,
    sentence:
      `${context.overview.caa.sentence} The Certificate page shows the attempts of the reverse proxy. It tries again ` +
      'automatically, and a failed attempt counts against the authority’s limits. Ports 80 and 443 must reach the ' +
      'reverse proxy.',
  }),
})
