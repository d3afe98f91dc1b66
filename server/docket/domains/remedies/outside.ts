import { remedyView, type ComposedRemedy } from '../../remedy'
import type { Context } from './context'

/** What only whoever runs the name servers can do, by kind of case: a title and what to do. */
const DEEDS: Readonly<Record<string, (subject: string) => [title: string, sentence: string]>> = {
  'server-lame': (subject) => [
    'Repair the name server, or remove it from the zone',
    `Have ${subject} serve the zone again, or remove its NS record from the zone and the registration.`,
  ],
  'server-silent': (subject) => [
    'Start the name server, or remove it from the zone',
    `Check that ${subject} runs and can be reached over UDP and TCP on port 53. If it is gone permanently, remove ` +
      'its NS record from the zone and the registration.',
  ],
  'server-failing': (subject) => [
    'Correct the zone at this name server',
    `Look into the log of ${subject}: it names the fault in the zone file, or why the transfer failed.`,
  ],
  'server-expired': (subject) => [
    'Let the name server transfer the zone again',
    `Check that ${subject} reaches the primary over TCP on port 53 and may transfer the zone; then let it transfer ` +
      'the zone again.',
  ],
  'no-server': () => [
    'Get one name server to answer first',
    'Check that the name servers run and can be reached; the registration must name ones that serve the zone.',
  ],
  'one-family': () => [
    'Give one name server an IPv4 address',
    'Add an A record for one of them, and the same address at the registration where it names addresses (glue).',
  ],
  'signing-broken': (subject) => [
    'Repair DNSSEC keys and signatures',
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
