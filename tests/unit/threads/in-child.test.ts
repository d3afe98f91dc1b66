import { describe, expect, it } from 'vitest'
import { Problem } from '../../../server/usecases/problem'
import { inChild, inChildIfLong } from '../../../server/threads/in-child'

const WORDS = { what: 'Reading it', instead: 'Give less.' }
const sameness = { capitalsMatter: true, trailingSlashMatters: false }
const line = '192.0.2.1 - - [24/Nov/2026:10:00:00 +0000] "GET /page HTTP/1.1" 200 123\n'

const refusal = (asked: Promise<unknown>): Promise<Problem> =>
  asked.then(
    () => {
      throw new Error('it was not refused')
    },
    (error: unknown) => error as Problem,
  )

describe('long computations in processes of their own', () => {
  it('give what they would give here', async () => {
    const given = { syntax: 'path' as const, sameness, a: '/stop/:id', b: '/stop/*' }
    expect(await inChild('compare-patterns', given, WORDS)).toMatchObject({
      ok: true,
      comparison: { relation: 'b-covers-a' },
    })
    const judged = { syntax: 'expression' as const, sameness, pattern: '/(a|b)*a(a|b){12}', except: [] }
    expect(await inChild('judge-pattern', judged, WORDS)).toContain('2,000 states')
    const text = '$TTL 1h\n@ SOA ns1 h 1 2 3 4 5\n@ NS ns1\n'
    const zone = { text, origin: 'big.example.' }
    expect(await inChild('read-zone', zone, WORDS)).toEqual(await inChildIfLong(10, 'read-zone', zone, WORDS))
  })

  it('leave this thread free', async () => {
    const octets = new TextEncoder().encode(line.repeat(200_000))
    let turns = 0
    const timer = setInterval(() => turns++, 5)
    const reading = await inChild('read-log', { octets, most: 5 }, WORDS)
    clearInterval(timer)
    expect(reading).toMatchObject({ lines: 200_000, unread: 0, paths: [{ path: '/page', visits: 200_000 }] })
    expect(turns).toBeGreaterThan(5)
  })

  it('end at their deadline with a sentence, and the next one goes on', async () => {
    const octets = new TextEncoder().encode(line.repeat(400_000))
    const late = await refusal(inChild('read-log', { octets, most: 5 }, { ...WORDS, deadlineMs: 20 }))
    expect(late).toBeInstanceOf(Problem)
    expect(late.status).toBe(422)
    expect(late.detail).toBe('Reading it took longer than 0.02 s and was given up. Give less.')
    const next = { octets: new TextEncoder().encode(line), most: 5 }
    expect(await inChild('read-log', next, WORDS)).toMatchObject({ lines: 1 })
  })

  it('are refused where they need more memory, which is not this process’s', async () => {
    const before = process.memoryUsage.rss()
    const text = Array.from({ length: 400_000 }, (_, row) => `host-${row} 300 IN A 192.0.2.1`).join('\n')
    const full = await refusal(
      inChild('read-zone', { text, origin: 'big.example.' }, { ...WORDS, deadlineMs: 240_000 }),
    )
    expect(full.detail).toBe('Reading it needs more memory than one computation may have. Give less.')
    expect(process.memoryUsage.rss() - before).toBeLessThan(150_000_000)
    // Near the limit collecting what is free takes most of the time, more so beside other work.
  }, 300_000)

  it('are refused where too many wait, and those that wait are all answered', async () => {
    const asked = Array.from({ length: 60 }, () =>
      inChild('read-zone', { text: '$TTL 1h\n', origin: 'big.example.' }, WORDS).then(
        () => 200,
        (error: Problem) => error.status,
      ),
    )
    const told = await Promise.all(asked)
    expect(told.filter((status) => status === 200).length).toBeGreaterThanOrEqual(40)
    expect(told.filter((status) => status === 503).length).toBeGreaterThanOrEqual(10)
    expect(new Set(told)).toEqual(new Set([200, 503]))
  })
})
