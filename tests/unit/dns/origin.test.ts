import { describe, expect, it } from 'vitest'
import { originByNames, originInFile, soaFits, soaInFile } from '../../../core/dns'

const HOST = 'go.ansl.example.'
const relative = '@ SOA ns1 hostmaster 1 2 3 4 5\n@ NS ns1\nns1 A 192.0.2.1\n'

describe('the zone a file that does not say it is of', () => {
  it.each([
    ['has the name as a relative owner: the one above', `${relative}go A 198.51.100.7\n`, 'ansl.example.'],
    ['has it as a delegation', `${relative}go NS ns1.go\n`, 'ansl.example.'],
    ['has it two labels below', `${relative}go.ansl A 198.51.100.7\n`, 'example.'],
    ['in capitals', `${relative}GO 300 IN A 198.51.100.7\n`, 'ansl.example.'],
    ['does not have it', `${relative}www A 198.51.100.7\n`, undefined],
    ['names it only in data', `${relative}www CNAME go\n`, undefined],
  ])('%s', (_, text, origin) => {
    expect(originInFile(text, HOST)).toBeUndefined()
    expect(originByNames(text, HOST)).toBe(origin)
  })
  it.each([
    [relative, 'ansl.example.', 'ns1.ansl.example.', 'hostmaster.ansl.example.', true],
    [relative, HOST, 'ns1.ansl.example.', 'hostmaster.ansl.example.', false],
    ['@ SOA ns.far.example. mail.far.example. 1 2 3 4 5\n', HOST, 'ns.far.example.', 'mail.far.example.', true],
  ])('has the SOA of the zone it is of: %s', (text, origin, primary, mailbox, fits) =>
    expect(soaFits(soaInFile(text)!, origin, primary, mailbox)).toBe(fits),
  )
  it('has none: nothing is compared', () => expect(soaInFile('www A 192.0.2.1\n')).toBeUndefined())
})
