import { describe, expect, it } from 'vitest'
import { handoverText } from '../../../core/domain/handover-text'
import { readZone } from '../../../core/dns'

const record = (name: string, type: string, data: string) => ({ name, type, ttl: 3600, data })
const given = {
  host: 'rider.example',
  zone: 'rider.example',
  organisation: 'Port Ansel Transit',
  place: [
    record('rider.example.', 'A', '192.0.2.80'),
    record('_fides.rider.example.', 'TXT', '"fides=0123456789abcdef"'),
  ],
  replace: [record('rider.example.', 'A', '198.51.100.7')],
  page: 'https://desk.portansel.example/handover?key=3.abc',
}

describe('the text for whoever keeps a zone', () => {
  it('gives records as lines of a zone file, which read back as they are (RFC 1035 §5.1)', () => {
    const lines = handoverText(given)
      .split('\n')
      .filter((line) => line.includes(' IN '))
    expect(lines).toHaveLength(3)
    const zone = readZone(
      `$TTL 60\n@ SOA ns hostmaster 1 2 3 4 5\n@ NS ns\n${lines.join('\n').replace(/^ +/gm, '')}\n`,
      'rider.example.',
    )
    expect(zone.faults).toEqual([])
    expect(
      zone.records.filter(({ type }) => type === 'A' || type === 'TXT').map(({ name, type, ttl }) => [name, type, ttl]),
    ).toEqual([
      ['rider.example.', 'A', 3600],
      ['_fides.rider.example.', 'TXT', 3600],
      ['rider.example.', 'A', 3600],
    ])
  })
  it('names the page, and says nothing of replacing where nothing is replaced', () => {
    const text = handoverText({ ...given, replace: [] })
    expect(text).toContain('\nhttps://desk.portansel.example/handover?key=3.abc\n')
    expect(text).not.toContain('replace')
  })
})
