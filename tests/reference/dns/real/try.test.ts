import { it, expect } from 'vitest'
import { dig } from '../bind'
import { startCachingNamed, startKnot, startNamed, startUnbound, nsupdate } from './programs'
const Z = '$TTL 60\n@ SOA ns1 h 1 5 5 60 5\n@ NS ns1\nns1 A 192.0.2.1\nwww A 192.0.2.3\n'
it('starts', async () => {
  const t = Date.now()
  const n = await startNamed({ 'a.test.': { text: Z } }); console.log('named', Date.now() - t)
  const k = await startKnot({ 'a.test.': { text: Z } }); console.log('knot', Date.now() - t)
  const u = await startUnbound({ 'a.test.': [n] }); console.log('unbound', Date.now() - t)
  const c = await startCachingNamed({ 'a.test.': [n] }); console.log('caching', Date.now() - t)
  const v6 = await startNamed({ 'a.test.': { text: Z } }, { host: '::1' }); console.log('v6', Date.now() - t)
  for (const p of [n, k, u, c]) console.log((await dig(p.port, 'www.a.test', 'A', '+recurse')))
  console.log(await nsupdate(n, 'a.test.', ['update add x.a.test. 60 A 192.0.2.9']), '|', await nsupdate(k, 'a.test.', ['update add x.a.test. 60 A 192.0.2.9']))
  for (const p of [n, k, u, c, v6]) await p.stop()
})
