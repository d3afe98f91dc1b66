import { describe, expect, it } from 'vitest'
import { changeZone, makeZone, readZone, writeZone, zoneFaults } from '../../../core/dns'
import { namedCheckzone } from './bind'
import { AWKWARD, AWKWARD_ORIGIN, FATAL, RFC1035_5_3, RFC2308, RFC4592, SUFFERED, UNREADABLE } from './zones'

const PUBLISHED: [string, string, string][] = [
  ['RFC 1035 §5.3', 'isi.edu.', RFC1035_5_3],
  ['RFC 2308', 'example.', RFC2308],
  ['RFC 4592 §2.2.1', 'example.', RFC4592],
]
const ALL = [
  ...PUBLISHED,
  ...Object.entries(AWKWARD).map(([name, text]): [string, string, string] => [name, AWKWARD_ORIGIN, text]),
]

describe('master files, against named-checkzone (BIND 9, Debian)', () => {
  it.each(ALL)('%s: read, written, and still the same zone', (_name, origin, text) => {
    const theirs = namedCheckzone(origin, text)
    expect(theirs, theirs.said).toMatchObject({ ok: true })
    const file = readZone(text, origin)
    expect(file.faults).toEqual([])
    const written = namedCheckzone(origin, writeZone(origin, file.records))
    expect(written.ok, written.said).toBe(true)
    expect(written.lines).toEqual(theirs.lines)
    // As many records as the program counts, doubles aside.
    expect(makeZone(origin, file.records).records).toHaveLength(theirs.lines.length)
  })

  it.each(ALL)('%s: a file without a change stays byte for byte', (_name, origin, text) => {
    const file = readZone(text, origin)
    expect(changeZone(file, { remove: [], add: [] })).toBe(text)
  })

  it.each(ALL)('%s: a change leaves every other record as it was', (_name, origin, text) => {
    const file = readZone(text, origin)
    const [soa] = file.records.filter((record) => record.type === 'SOA')
    const victim = file.records.find(
      (record) =>
        record.type === 'A' &&
        record.name !== `ns1.${origin}` &&
        record.name !== `venera.${origin}` &&
        record.name !== `a.${origin}` &&
        record.name !== `vaxa.${origin}`,
    )
    const added = { name: `new.${origin}`, type: 'A', ttl: 77, data: '192.0.2.200' }
    const after = namedCheckzone(
      origin,
      changeZone(file, { remove: victim ? [victim] : [], add: [added], serial: 4242 }),
    )
    expect(after.ok, after.said).toBe(true)
    const expected = [
      ...makeZone(origin, file.records).records.filter(
        (record) =>
          record !== victim &&
          record !== soa &&
          !(victim && record.name === victim.name && record.data === victim.data),
      ),
      added,
      {
        ...soa!,
        data: soa!.data
          .split(' ')
          .map((word, index) => (index === 2 ? '4242' : word))
          .join(' '),
      },
    ]
    const theirs = namedCheckzone(origin, writeZone(origin, expected))
    expect(after.lines).toEqual(theirs.lines)
  })

  it.each(Object.entries(FATAL))('%s: refused by both', (_name, { kind, text }) => {
    expect(namedCheckzone(AWKWARD_ORIGIN, text).ok).toBe(false)
    const file = readZone(text, AWKWARD_ORIGIN)
    expect(file.faults).toEqual([])
    expect(
      zoneFaults(file)
        .filter((finding) => finding.severity === 'fatal')
        .map((finding) => finding.kind),
    ).toContain(kind)
  })

  it.each(Object.entries(UNREADABLE))('%s: unreadable for both', (_name, text) => {
    expect(namedCheckzone(AWKWARD_ORIGIN, text).ok).toBe(false)
    const { faults } = readZone(text, AWKWARD_ORIGIN)
    expect(faults.length).toBeGreaterThan(0)
    expect(faults[0]!.sentence).toMatch(/^Line \d+: .+\.$/s)
  })

  it.each(Object.entries(SUFFERED))('%s: let through by the program, found by us', (_name, { kind, text }) => {
    expect(namedCheckzone(AWKWARD_ORIGIN, text).ok).toBe(true)
    const findings = zoneFaults(readZone(text, AWKWARD_ORIGIN))
    expect(findings.map((finding) => finding.kind)).toContain(kind)
    expect(findings.filter((finding) => finding.severity === 'fatal')).toEqual([])
  })

  it('a sound zone has no fault', () => {
    for (const name of ['blank owners', 'CAA', 'delegation with glue and DS', 'null MX'])
      expect(zoneFaults(readZone(AWKWARD[name]!, AWKWARD_ORIGIN)), name).toEqual([])
  })
})
