// Which networks an administrator may list. Sources of the blocks: RFC 1122, 1918, 3927, 4193, 4291, 6598, 6890; the
// addresses of providers’ metadata services: common practice, no source.
import { BlockList } from 'node:net'
import { describe, expect, it } from 'vitest'
import { isOwnAddress, refuseCheckNetwork } from '../../../server/names/check-networks'

describe('networks that checks may ask', () => {
  it.each(['10.0.0.0/8', '10.20.0.0/16', '172.16.5.0/24', '192.168.1.7', '100.64.0.0/10', 'fd00:1::/48', 'fc00::/7'])(
    'may be %s',
    (network) => expect(refuseCheckNetwork(network)).toBeUndefined(),
  )
  it.each([
    ['127.0.0.0/8', /this machine/],
    ['127.0.0.1', /this machine/],
    ['0.0.0.0/8', /this machine/],
    ['169.254.0.0/16', /next link/],
    ['169.254.169.254/32', /next link/],
    ['::1', /this machine/],
    ['::ffff:127.0.0.1', /this machine/],
    ['fe80::/10', /next link/],
    ['ff02::/16', /many at once/],
    ['fd00:ec2::254', /this machine/],
    ['0.0.0.0/0', /not a private network/],
    ['0.0.0.0/1', /not a private network/],
    ['::/0', /not a private network/],
    ['8.8.8.0/24', /not a private network/],
    ['10.0.0.0/7', /not a private network/],
    ['2000::/3', /not a private network/],
    ['10.0.0.0/33', /is no network/],
    ['all', /is no network/],
  ])('may not be %s', (network, sentence) => expect(refuseCheckNetwork(network)).toMatch(sentence))

  it('are no way to this machine, whatever an older list holds', () => {
    const all = new BlockList()
    all.addSubnet('0.0.0.0', 0, 'ipv4')
    all.addSubnet('::', 0, 'ipv6')
    const never = ['127.0.0.1', '::1', '::ffff:127.0.0.1', '169.254.169.254', '100.100.100.200', 'fe80::1', '0.0.0.0']
    for (const address of never) expect(isOwnAddress(address, all), address).toBe(false)
    expect(isOwnAddress('10.1.2.3', all)).toBe(true)
  })
})
