import { remedyView, type ComposedRemedy } from '../../remedy'
import type { Context } from './context'

/** What only whoever runs the name servers can do, by kind of case: a title and what to do. */
const DEEDS: Readonly<Record<string, (subject: string) => [title: string, sentence: string]>> = {
  'server-lame': (subject) => [
    'Mend the name server, or take it out of the zone',
    `Have ${subject} serve the zone again, or take its NS record out of the zone and out of the registration.`,
  ],
  'server-silent': (subject) => [
    'Start the name server, or take it out of the zone',
    `See whether ${subject} runs and is reached over UDP and TCP on port 53. If it is gone for good, take its NS ` +
      'record out of the zone and out of the registration.',
  ],
  'server-failing': (subject) => [
    'Mend the zone at this name server',
    `Look into the log of ${subject}: it names the fault in the zone file, or why the zone could not be taken over.`,
  ],
  'server-expired': (subject) => [
    'Let the name server take the zone again',
    `See whether ${subject} reaches the primary over TCP on port 53 and may transfer the zone; then have it take the ` +
      'zone anew.',
  ],
  'no-server': () => [
    'Get one name server to answer first',
    'See whether the name servers run and are reached; the registration must name ones that serve the zone.',
  ],
  'one-family': () => [
    'Give one name server an IPv4 address',
    'Add an A record for one of them, and the same address at the registration where it names addresses (glue).',
  ],
  'signing-broken': (subject) => [
    'Make keys and signatures fit again',
    `Sign ${subject} with the key its DS record at the parent names; or, to be reached at once, have the ` +
      'registrar take ' +
      'the DS record out until the zone is signed rightly.',
  ],
  'signing-ending': (subject) => [
    'Have the zone signed again',
    `See whether the signer of ${subject} runs, whether its keys can be read, and whether its clock is right.`,
  ],
}

/** The remedy of a case that is mended at the name servers, outside of Fides. */
export function outside({ domain, row }: Context, kind: string): ComposedRemedy {
  const [title, sentence] = DEEDS[kind]!(row.subject)
  return { view: remedyView({ id: 'mend-server', title, sentence, to: `/domains/${domain.id}` }) }
}
