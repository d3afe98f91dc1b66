import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { DatabaseError } from 'sequelize'
import { manyLinks } from '../../core/schemas'
import { asProblem, problemDetails } from '../../server/http/problem-details'
import { currentSurvey } from '../../server/usecases/conflicts/survey'
import { readSurvey } from '../../server/usecases/conflicts/read-survey'
import { makeOrChangeLinks } from '../../server/usecases/links/make-or-change-links'
import { administrator, TestRegister } from './register'

let register: TestRegister
beforeAll(async () => (register = await TestRegister.start()))
afterAll(() => register.stop())

const many = (links: object[], reason?: string) =>
  makeOrChangeLinks(register.db, administrator, manyLinks.parse({ links, reason }), {
    refuse: () => Promise.resolve(),
    tell: (error) => problemDetails(asProblem(error)) as never,
  })
const link = (slug: string, destination = `https://www.example/${slug}`) => ({
  domain: 'ansl.example',
  slug,
  destination,
})
/** Links in the index of conflicts of this process, and in one read afresh. */
async function indexes() {
  const [held, fresh] = [await currentSurvey(register.db), await readSurvey(register.db)]
  fresh.scanAll()
  return [held, fresh].map(({ state, conflicts }) => ({
    links: [...state.links].sort(([a], [b]) => a - b),
    conflicts: [...conflicts].map(({ key }) => key).sort(),
  }))
}

describe('many links in one request', () => {
  it('come each with an entry of its own, and what is refused takes none along', async () => {
    const before = await register.db.LedgerEntry.count()
    const answer = await many([
      link('bay-one-hundred'),
      link('no such slug!'),
      { ...link('harbour-times'), destination: 'ftp://files.example/' },
      link('bay-one-hundred', 'https://twice.example/'),
      link('market-square-fair'),
    ])
    expect(answer.results.map(({ status }) => status)).toEqual([201, 422, 422, 409, 201])
    expect(answer).toMatchObject({ made: 2, changed: 0, refused: 3 })
    expect(await register.db.LedgerEntry.count()).toBe(before + 2)
    const revisions = (await register.db.LedgerEntry.findAll({ order: [['id', 'ASC']] })).map(
      ({ revision }) => revision,
    )
    expect(revisions).toEqual([...revisions].sort((a, b) => Number(a) - Number(b)))
    expect(new Set(revisions).size).toBe(revisions.length)
    const [held, fresh] = await indexes()
    expect(held).toEqual(fresh)
  })

  it('are compared with those before them in the same request', async () => {
    const answer = await many([link('pier-lights-0'), link('pier-lights-o')])
    expect(answer.results.map(({ status }) => status)).toEqual([201, 409])
    expect(answer.results[1]!.problem!.title).toBe('Would be in conflict')
    const loop = await many(
      [link('round-about', 'https://ansl.example/round-trip'), link('round-trip', 'https://ansl.example/round-about')],
      'for a test',
    )
    expect(loop.results.map(({ status }) => status)).toEqual([201, 422])
    const [held, fresh] = await indexes()
    expect(held).toEqual(fresh)
  })

  it('let others have their turn in between, who wait for a short while', async () => {
    let isOver = false
    const waits: number[] = []
    const others = Array.from({ length: 4 }, async (_, writer) => {
      for (let edit = 0; !isOver; edit++) {
        const began = Date.now()
        await register.link(`other-${writer}-${edit}-${'qxzvj'[edit % 5]}${edit * 7919}`, 'https://o.example/', {
          reason: 'for a test',
        })
        waits.push(Date.now() - began)
      }
    })
    const answer = await many(
      Array.from({ length: 100 }, (_, index) => link(`many-${index * 104_729}-${'bcdfg'[index % 5]}`)),
      'for a test',
    )
    isOver = true
    await Promise.all(others)
    expect(answer.made).toBe(100)
    // Four writers and a request of 100 links share one lock: nobody is starved by it.
    expect(waits.length).toBeGreaterThan(8)
    const [held, fresh] = await indexes()
    expect(held).toEqual(fresh)
  }, 120_000)
})

describe('a full disk', () => {
  const fault = (errno: number, sqlMessage: string) =>
    new DatabaseError(Object.assign(new Error(sqlMessage), { errno, sqlMessage, sql: '' }))
  // The server's own texts (MariaDB 10.11, from memory: ER_DISK_FULL, ER_RECORD_FILE_FULL, ER_GET_ERRNO).
  it.each([
    [1021, "Disk full (/tmp/x); waiting for someone to free some space (errno: 28 'No space left on device')"],
    [1114, "The table 'link' is full"],
    [1030, 'Got error 28 "No space left on device" from storage engine InnoDB'],
  ])('is reported as such (errno %i)', (errno, text) => {
    expect(asProblem(fault(errno, text))).toMatchObject({ status: 503, title: 'The disk is full' })
  })
  it('is not what every fault of the engine is taken for', () => {
    expect(asProblem(fault(1030, 'Got error 168 from storage engine'))).toMatchObject({ status: 500 })
  })
})
