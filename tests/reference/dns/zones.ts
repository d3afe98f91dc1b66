/** RFC 1035 §5.3, the example ISI.EDU, with its TTL-less records and its escaped mailbox. */
export const RFC1035_5_3 = `@   IN  SOA     VENERA      Action\\.domains (
                                 20     ; SERIAL
                                 7200   ; REFRESH
                                 600    ; RETRY
                                 3600000; EXPIRE
                                 60)    ; MINIMUM

        NS      A.ISI.EDU.
        NS      VENERA
        NS      VAXA
        MX      10      VENERA
        MX      20      VAXA

A       A       26.3.0.103

VENERA  A       10.1.0.52
        A       128.9.0.32

VAXA    A       10.2.0.27
        A       128.9.0.33
`

/**
 * RFC 2308 §10 (history and example of $TTL in §4 and of negative answers in §2): the zone of the document's answers.
 */
export const RFC2308 = `$TTL 1200
$ORIGIN EXAMPLE.
@ IN SOA NS1.XX. HOSTMASTER.NS1.XX. 1997102000 1800 900 604800 1200
  IN NS NS1.XX.
  IN NS NS2.XX.
TRIPPLE IN CNAME XX.EXAMPLE.
XX IN A 127.0.0.1
`

/** RFC 4592 §2.2.1, the example zone. */
export const RFC4592 = `$ORIGIN example.
example.                 3600 IN  SOA   ns.example.com. host.example. 1 7200 600 86400 3600
example.                 3600     NS    ns.example.com.
example.                 3600     NS    ns.example.net.
*.example.               3600     TXT   "this is a wildcard"
*.example.               3600     MX    10 host1.example.
sub.*.example.           3600     TXT   "this is not a wildcard"
host1.example.           3600     A     192.0.2.1
_ssh._tcp.host1.example. 3600     SRV   0 0 22 host1.example.
_ssh._tcp.host2.example. 3600     SRV   0 0 22 host1.example.
subdel.example.          3600     NS    ns.example.com.
subdel.example.          3600     NS    ns.example.net.
`

const SOA =
  '@ 3600 IN SOA ns1 hostmaster ( 2026112301 7200 900 1209600 900 )\n@ 3600 IN NS ns1\nns1 3600 IN A 192.0.2.53\n'
const zone = (rest: string) => SOA + rest

/**
 * Zones that are awkward to read and still right; our own, each after a rule of RFC 1035 §5.1 or of the type's own
 * document.
 */
export const AWKWARD: Record<string, string> = {
  'blank owners': zone('www 300 A 192.0.2.1\n  300 A 192.0.2.2\n\t300 TXT "same owner"\n'),
  'a comment on every line':
    '; top\n' + zone('; alone\nwww 300 A 192.0.2.1 ; behind\n   ; indented and alone\n 300 TXT "still www"\n'),
  'parentheses over lines with comments': zone('www 300 TXT ( "one" ; first\n   "two"\n ) ; closed\n'),
  'parenthesis before the type': zone('www ( 300\n IN\n A 192.0.2.1 )\n'),
  'class before TTL': zone('www IN 300 A 192.0.2.1\n'),
  'TTL before class': zone('www 300 IN A 192.0.2.1\n'),
  'neither TTL nor class': '$TTL 600\n' + zone('www A 192.0.2.1\n'),
  '$TTL with units': '$TTL 1h30m\n' + zone('www A 192.0.2.1\nmail 1w2d A 192.0.2.2\n'),
  '$TTL twice': '$TTL 600\n' + zone('www A 192.0.2.1\n$TTL 1200\nmail A 192.0.2.2\n'),
  '$ORIGIN moves down and up': zone(
    '$ORIGIN sub.zone.test.\nwww 300 A 192.0.2.1\n$ORIGIN zone.test.\nmail 300 A 192.0.2.2\n',
  ),
  'relative $ORIGIN': zone('$ORIGIN deep\n@ 300 A 192.0.2.1\nx 300 A 192.0.2.2\n'),
  'absolute and relative names mixed': zone('www.zone.test. 300 CNAME web\nweb 300 A 192.0.2.1\n'),
  'mixed case': zone('WWW 300 in a 192.0.2.1\nwWw 300 IN TXT "Case"\n'),
  'semicolon in quotes': zone('www 300 TXT "v=spf1; not a comment" ; a comment\n'),
  'parenthesis in quotes': zone('www 300 TXT "(not open"\n'),
  'escaped quote': zone('www 300 TXT "say \\"hello\\""\n'),
  'decimal escapes': zone('www 300 TXT "\\065\\009\\255"\n'),
  'escaped backslash': zone('www 300 TXT "a\\\\b"\n'),
  'unquoted text': zone('www 300 TXT plain\\;text and more\n'),
  'empty string': zone('www 300 TXT ""\n'),
  'several strings': zone('www 300 TXT "a" "b" c\n'),
  'a string of 255 octets': zone(`www 300 TXT "${'x'.repeat(255)}"\n`),
  'escaped dot in a label': zone('a\\.b 300 A 192.0.2.1\n'),
  'decimal escape in a label': zone('a\\098c 300 A 192.0.2.1\n'),
  wildcard: zone('* 300 A 192.0.2.1\n*.sub 300 TXT "w"\n'),
  'underscored names': zone('_dmarc 300 TXT "v=DMARC1; p=none"\n_sip._tcp 300 SRV 0 5 5060 ns1\n'),
  'IPv6 in many spellings': zone(
    'a 300 AAAA 2001:DB8:0:0:0:0:0:1\nb 300 AAAA ::ffff:192.0.2.1\nc 300 AAAA 2001:db8::\n',
  ),
  CAA: zone(
    '@ 300 CAA 0 issue "ca.test; account=1"\n@ 300 CAA 128 iodef "mailto:x@zone.test"\n@ 300 CAA 0 issuewild ";"\n',
  ),
  'CAA unquoted': zone('@ 300 CAA 0 issue ca.test\n'),
  'delegation with glue and DS': zone(
    'child 300 NS ns.child\nns.child 300 A 192.0.2.99\nchild 300 DS 12345 13 2 ( ' +
      '0123456789ABCDEF0123456789ABCDEF\n 0123456789ABCDEF0123456789abcdef )\n',
  ),
  'DNSKEY with blanks in its key': zone(
    '@ 300 DNSKEY 257 3 13 ( mdsswUyr3DPW132mOi8V9xESWE8jTo0d\n xCjjnopKl+GqJxpVXckHAeF+KkxLbxIL ' +
      'fDLUT0rAK9iUzy1L53eKGQ== )\n',
  ),
  HTTPS: zone('www 300 HTTPS 1 . alpn=h2,h3 port=8443 ipv4hint=192.0.2.1,192.0.2.2\n@ 300 HTTPS 0 www\n'),
  'SVCB with a key by number': zone('_x 300 SVCB 16 www.zone.test. key667="hi there" mandatory=alpn alpn="h2"\n'),
  'unknown type': zone('x 300 TYPE62347 \\# 4 0A000001\ny 300 CLASS1 TYPE1 \\# 4 C0000201\n'),
  'generic form of a known type': zone('x 300 A \\# 4 c0000207\n'),
  // RFC 1876 §3 has this place among its examples.
  LOC: zone('@ 300 LOC 42 21 54 N 71 06 18 W -24m 30m\nx 300 LOC 42 21 43.952 N 71 5 6.344 W -24m 1m 200m\n'),
  'LOC with nothing but whole degrees': zone('@ 300 LOC 31 S 115 E 44m\n'),
  NAPTR: zone('@ 300 NAPTR 100 50 "s" "z3950+I2L+I2C" "" _z3950._tcp.gatech.edu.\n'),
  SSHFP: zone('host 300 SSHFP 2 1 123456789abcdef67890123456789abcdef67890\n'),
  TLSA: zone('_443._tcp 300 TLSA 0 0 1 d2abde240d7cd3ee6b4b28c54df034b9 7983a1d16e8a410e4561cb106618e971\n'),
  'RRSIG and NSEC beside a CNAME (RFC 4035 §2.5)': zone(
    'www 300 CNAME ns1\nwww 300 RRSIG CNAME 13 3 300 20301231000000 20260101000000 2642 zone.test. ( ' +
      'oJB1W6WNGv+ldvQ3WDG0MQkg5IEhjRip8WTrPYGv07h108dUKGMeDPKijVCHX3DDKdfb+v6oB9wfuh3DTJXUAQ== )\n' +
      'www 300 NSEC zone.test. CNAME RRSIG NSEC\n',
  ),
  'NSEC with an unknown type (RFC 4034 §4.3)': zone('alfa 86400 NSEC host.zone.test. A MX RRSIG NSEC TYPE1234\n'),
  'signatures with TTLs of their own (RFC 4034 §3)': zone(
    'www 300 A 192.0.2.1\nwww 600 TXT "x"\n' +
      ['A 13 3 300', 'TXT 13 3 600']
        .map(
          (of) =>
            `www ${of.split(' ')[3]} RRSIG ${of} 20301231000000 20260101000000 2642 zone.test. ` +
            'oJB1W6WNGv+ldvQ3WDG0MQkg' +
            '5IEhjRip8WTrPYGv07h108dUKGMeDPKijVCHX3DDKdfb+v6oB9wfuh3DTJXUAQ==\n',
        )
        .join(''),
  ),
  PTR: zone('4 300 PTR www.zone.test.\n'),
  DNAME: zone('old 300 DNAME new.zone.test.\n'),
  'carriage returns': zone('www 300 A 192.0.2.1\n').replaceAll('\n', '\r\n'),
  'no line end at the end': zone('www 300 A 192.0.2.1'),
  'tabs and many blanks': zone('www\t\t300\tIN\t\tA\t   192.0.2.1   \n'),
  'the same record twice': zone('www 300 A 192.0.2.1\nwww 300 A 192.0.2.1\n'),
  'null MX': zone('@ 300 MX 0 .\n'),
  'serial at the top of its range': zone('').replace('2026112301', '4294967295'),
  'an empty non-terminal': zone('a.b.c 300 A 192.0.2.1\n'),
  'TTL 0': zone('www 0 A 192.0.2.1\n'),
  'comment only and blank lines': '\n\n;\n' + zone('\n   \n\t\n;x\n'),
}
/** The zone the awkward ones are of. */
export const AWKWARD_ORIGIN = 'zone.test.'

/** Zones servers refuse, by our name for the fault. */
export const FATAL: Record<string, { kind: string; text: string }> = {
  'CNAME and other data': { kind: 'cname-and-other', text: zone('www 300 CNAME ns1\nwww 300 A 192.0.2.1\n') },
  'CNAME beside TXT': { kind: 'cname-and-other', text: zone('www 300 TXT "x"\nwww 300 CNAME ns1\n') },
  'CNAME at the apex': { kind: 'cname-at-apex', text: zone('@ 300 CNAME www.other.test.\n') },
  'no SOA': { kind: 'no-soa', text: '@ 3600 NS ns1\nns1 3600 A 192.0.2.53\n' },
  'no NS': { kind: 'no-ns', text: '@ 3600 SOA ns1 hostmaster 1 2 3 4 5\nns1 3600 A 192.0.2.53\n' },
  'several CNAMEs': { kind: 'several-cnames', text: zone('www 300 CNAME ns1\nwww 300 CNAME a.other.test.\n') },
  'several SOAs': { kind: 'several-soa', text: zone('@ 3600 SOA ns1 other 9 2 3 4 5\n') },
  'SOA below the apex': { kind: 'soa-elsewhere', text: zone('sub 3600 SOA ns1 other 9 2 3 4 5\n') },
  'name server without address': {
    kind: 'ns-without-address',
    text: '@ 3600 SOA ns1 hostmaster 1 2 3 4 5\n@ 3600 NS nowhere\n',
  },
  'name server that is an alias': {
    kind: 'ns-to-cname',
    text: '@ 3600 SOA ns1 hostmaster 1 2 3 4 5\n@ 3600 NS ns1\nns1 3600 CNAME other\nother 3600 A 192.0.2.1\n',
  },
}

/** Zones whose text cannot be read at all, by us and by servers. */
export const UNREADABLE: Record<string, string> = {
  'a label of 300 octets': zone(`${'x'.repeat(300)} 300 A 192.0.2.1\n`),
  'a string of 256 octets': zone(`www 300 TXT "${'x'.repeat(256)}"\n`),
  'a bad address': zone('www 300 A 192.0.2.256\n'),
  'a bad IPv6 address': zone('www 300 AAAA 2001:db8::g\n'),
  'an unknown word for a type': zone('www 300 WEB 192.0.2.1\n'),
  'an open parenthesis': zone('www 300 TXT ( "x"\n'),
  'an open quote': zone('www 300 TXT "x\n'),
  'an empty label': zone('a..b 300 A 192.0.2.1\n'),
  'too few fields': zone('@ 300 MX 10\n'),
  'too many fields': zone('www 300 A 192.0.2.1 192.0.2.2\n'),
  'a generic form of the wrong length': zone('x 300 TYPE62347 \\# 5 0A000001\n'),
  'odd hexadecimal': zone('x 300 DS 1 13 2 ABC\n'),
}

/** What servers let through and people suffer from. */
export const SUFFERED: Record<string, { kind: string; text: string }> = {
  'an alias of nothing': { kind: 'dangling-cname', text: zone('www 300 CNAME gone\n') },
  'an alias of itself': { kind: 'self-cname', text: zone('www 300 CNAME www\n') },
  'aliases in a circle': { kind: 'cname-loop', text: zone('a 300 CNAME b\nb 300 CNAME a\n') },
  'MX to an alias': { kind: 'mx-to-cname', text: zone('@ 300 MX 10 mail\nmail 300 CNAME ns1\n') },
  'delegation to an alias': { kind: 'ns-to-cname', text: zone('child 300 NS ns9\nns9 300 CNAME ns1\n') },
  'MX without an address': { kind: 'mx-without-address', text: zone('@ 300 MX 10 mail\nmail 300 TXT "no address"\n') },
  'TTLs mixed in a set': { kind: 'mixed-ttls', text: zone('www 300 A 192.0.2.1\nwww 600 A 192.0.2.2\n') },
  'data out of the zone': { kind: 'out-of-zone', text: zone('www.other.test. 300 A 192.0.2.1\n') },
}
