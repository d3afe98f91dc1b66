import type { FindingKind } from '../../../../core/dns'

/** Makers of authoritative servers, and our own stand-ins. */
export type Maker = 'named' | 'knot' | 'stand-ins'

/** A zone an organisation might have, with what Fides must find before it brings `host` here. */
export interface ZoneScenario {
  name: string
  /** The domain brought, relative to the zone; `@` for its top. */
  host: string
  records: string
  /** Kinds of findings, each once, in any order; those that only say how a zone was read are left out. */
  finds: readonly FindingKind[]
  /** Whether the plan is blocked. */
  blocked?: true
  /** Makers that can load it at all; all by default. */
  makers?: readonly Maker[]
  /** How each maker signs it by itself. */
  signed?: 'plain' | 'hashed'
  /** Names and types asked of the servers beside the usual ones. */
  probes?: readonly (readonly [name: string, type: string])[]
}

const rows = (count: number, line: (index: number) => string) =>
  Array.from({ length: count }, (_, index) => line(index)).join('')

/** Zones after the sections named with each; made up, their rules are the documents'. */
export const ZONE_SCENARIOS: readonly ZoneScenario[] = [
  { name: 'a name that is not there (RFC 2308 §5)', host: 'go', records: '', finds: [] },
  {
    name: 'a website with an IPv4 address',
    host: 'go',
    records: 'go 3600 A 198.51.100.7\n',
    finds: ['website-on-name', 'long-ttl'],
  },
  {
    name: 'a website on both families with a short TTL',
    host: 'go',
    records: 'go 60 A 198.51.100.7\ngo 60 A 198.51.100.8\ngo 60 AAAA 2001:db8:7::7\n',
    finds: ['website-on-name'],
  },
  {
    name: 'a website at the top of the zone (RFC 1034 §3.6.2)',
    host: '@',
    records: '@ 120 A 198.51.100.7\n@ MX 10 mail\nmail A 198.51.100.25\n@ TXT "v=spf1 mx -all"\n',
    finds: ['website-on-name', 'mail-on-name'],
  },
  {
    name: 'mail on the name (RFC 2181 §10.1)',
    host: 'go',
    records: 'go 120 A 198.51.100.7\ngo MX 10 mail\nmail A 198.51.100.25\n',
    finds: ['website-on-name', 'mail-on-name'],
  },
  {
    name: 'an alias elsewhere (RFC 1034 §3.6.2)',
    host: 'go',
    records: 'go 240 CNAME pages.elsewhere.example.\n',
    finds: ['website-on-name'],
  },
  {
    name: 'a chain of aliases',
    host: 'go',
    records: 'go 30 CNAME one\none 60 CNAME two\ntwo 90 A 198.51.100.7\n',
    finds: ['website-on-name'],
    probes: [
      ['one', 'A'],
      ['two', 'A'],
      ['one', 'AAAA'],
    ],
  },
  {
    name: 'an alias of nothing',
    host: 'go',
    records: 'go 30 CNAME gone\n',
    finds: ['website-on-name', 'dangling-cname'],
    probes: [['gone', 'A']],
  },
  {
    name: 'a wildcard just above (RFC 4592 §2.2.1)',
    host: 'go',
    records: '* 90 A 198.51.100.9\n* 90 MX 10 mail\nmail A 198.51.100.25\n',
    finds: ['wildcard-stops', 'mail-on-name'],
    probes: [
      ['other', 'A'],
      ['other', 'MX'],
      ['below.go', 'A'],
      ['*', 'A'],
    ],
  },
  {
    name: 'a wildcard two labels above (RFC 4592 §3.3.1)',
    host: 'go.deep',
    records: '* 90 A 198.51.100.9\n',
    finds: ['wildcard-stops'],
    probes: [
      ['deep', 'A'],
      ['other.deep', 'A'],
      ['*.deep', 'A'],
    ],
  },
  {
    name: 'wildcards at two depths, the nearer one answers',
    host: 'go.deep',
    records: '* 90 A 198.51.100.9\n*.deep 45 A 198.51.100.10\n',
    finds: ['wildcard-stops'],
    probes: [
      ['deep', 'A'],
      ['other', 'A'],
      ['other.deep', 'A'],
    ],
  },
  {
    name: 'a wildcard that does not reach below a name that exists (RFC 4592 §2.2.2)',
    host: 'go.deep',
    records: '* 90 A 198.51.100.9\ndeep TXT "here"\n',
    finds: [],
    probes: [
      ['deep', 'A'],
      ['other.deep', 'A'],
      ['other', 'A'],
    ],
  },
  {
    name: 'a name above others, with a wildcard beside it (an empty non-terminal)',
    host: 'go',
    records: '* 90 A 198.51.100.9\nlow.go 90 A 198.51.100.11\n',
    finds: [],
    probes: [
      ['low.go', 'A'],
      ['other', 'A'],
    ],
  },
  {
    name: 'a name with the wildcard’s own address',
    host: 'go',
    records: '* 90 A 198.51.100.9\ngo 90 A 198.51.100.9\n',
    finds: ['website-on-name'],
  },
  {
    name: 'an alias through a wildcard',
    host: 'go',
    records: '* 90 CNAME www\nwww A 198.51.100.7\n',
    finds: ['wildcard-stops'],
    probes: [['other', 'A']],
  },
  {
    name: 'a delegation above the name (RFC 1034 §4.2.1)',
    host: 'go.child',
    records: 'child NS ns.child\nns.child A 192.0.2.99\n',
    finds: ['delegated'],
    blocked: true,
    probes: [
      ['child', 'NS'],
      ['child', 'A'],
    ],
  },
  {
    name: 'a CAA that shuts the issuer out (RFC 8659 §3)',
    host: 'go',
    records: '@ CAA 0 issue "other.example"\n',
    finds: ['caa-shuts-out'],
    probes: [
      ['@', 'CAA'],
      ['go', 'CAA'],
    ],
  },
  {
    name: 'a CAA on the name that lets the issuer in',
    host: 'go',
    records: '@ CAA 0 issue "other.example"\ngo CAA 0 issue "ca.example"\n',
    finds: [],
    probes: [['go', 'CAA']],
  },
  {
    name: 'an SVCB-style website record (RFC 9460)',
    host: 'go',
    records: 'go 60 HTTPS 1 . alpn=h2,h3 ipv4hint=198.51.100.7\ngo 60 A 198.51.100.7\n',
    finds: ['website-on-name'],
    probes: [['go', 'HTTPS']],
  },
  {
    name: 'LOC, NAPTR, SSHFP, TLSA and an unknown type beside (RFC 1876, 3403, 4255, 6698, 3597)',
    host: 'go',
    records:
      'go LOC 38 42 0.000 N 9 8 0.000 W 12.00m 30m 10m 5m\n' +
      'go NAPTR 100 50 "s" "http+I2R" "!^.*$!x!" _http._tcp.go\n' +
      'go SSHFP 4 2 0123456789abcdef0123456789abcdef0123456789abcdef0123456789abcdef\n' +
      '_443._tcp.go TLSA 3 1 1 0123456789abcdef0123456789abcdef0123456789abcdef0123456789abcdef\n' +
      'go TYPE65280 \\# 4 0a000001\n',
    finds: [],
    probes: [
      ['go', 'LOC'],
      ['go', 'NAPTR'],
      ['go', 'SSHFP'],
      ['_443._tcp.go', 'TLSA'],
      ['go', 'TYPE65280'],
    ],
  },
  {
    name: 'a TXT of 3,000 octets, over UDP and TCP (RFC 2181 §9)',
    host: 'go',
    records: `go 60 A 198.51.100.7\nbig TXT ${rows(15, (index) => `"${String(index).padStart(200, 'x')}" `)}\n`,
    finds: ['website-on-name'],
    probes: [['big', 'TXT']],
  },
  {
    name: 'DNAME above the name (RFC 6672)',
    host: 'www',
    records: 'old DNAME new\nwww.new A 198.51.100.7\n',
    finds: [],
    probes: [
      ['www.old', 'A'],
      ['www.new', 'A'],
      ['old', 'A'],
    ],
  },
  {
    name: 'signed by the server, NSEC (RFC 4035)',
    host: 'go',
    records: 'go 60 A 198.51.100.7\n',
    finds: ['website-on-name', 'signed-zone'],
    makers: ['named', 'knot'],
    signed: 'plain',
  },
  {
    name: 'signed by the server, NSEC3, with a wildcard (RFC 5155)',
    host: 'go',
    records: '* 90 A 198.51.100.9\n',
    finds: ['wildcard-stops', 'signed-zone'],
    makers: ['named', 'knot'],
    signed: 'hashed',
  },
  {
    name: 'an alias in a signed zone (RFC 4035 §2.5)',
    host: 'go',
    records: 'go 30 CNAME www\nwww A 198.51.100.7\n',
    finds: ['website-on-name', 'signed-zone'],
    makers: ['named', 'knot'],
    signed: 'plain',
  },
  {
    name: '$GENERATE in the file (common practice, no source)',
    host: 'go',
    records: '$GENERATE 1-30 stop$ 60 A 198.51.100.$\ngo 60 A 198.51.100.7\n',
    finds: ['website-on-name'],
    makers: ['named'],
    probes: [['stop17', 'A']],
  },
  {
    name: '$INCLUDE in the file (RFC 1035 §5.1)',
    host: 'go',
    records: '$INCLUDE further.inc\n@ MX 10 mail\n',
    finds: ['website-on-name'],
    makers: ['named', 'knot'],
    probes: [['mail', 'A']],
  },
  {
    name: '50,000 records',
    host: 'go',
    records: `go 60 A 198.51.100.7\n${rows(50_000, (index) => `stop${index} A 198.51.${index >> 8}.${index & 255}\n`)}`,
    finds: ['website-on-name'],
    probes: [
      ['stop4417', 'A'],
      ['stop99999', 'A'],
    ],
  },
]

/** What `$INCLUDE` brings. */
export const INCLUDED = 'mail A 198.51.100.25\ngo 60 A 198.51.100.7\n'

/** The top of every zone of these scenarios. */
export const TOP = `$TTL 300
@ SOA ns1 hostmaster ( 2026112001 7200 900 1209600 60 )
@ NS ns1
ns1 A 192.0.2.1
`
