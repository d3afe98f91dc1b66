// What a written configuration answers otherwise is found before it is handed out. That our reading of such files is
// the servers’ own: tests/reference/exchange/out.test.ts.
import { describe, expect, it } from 'vitest'
import { WRITERS, type Written } from '../../../core/formats/write'
import { withDifferences } from '../../../core/formats/write/trial/differences'
import { makeRegister } from '../../reference/exchange/registers'

const { outgoing } = makeRegister(4)
const link = outgoing.links.find(({ standing }) => standing === 'live')!
const otherwise = (kind: 'apache' | 'nginx', written: Written) =>
  withDifferences(kind, outgoing, written).cannot.find(({ code }) => code === 'otherwise')
/** The file with one destination spoiled, as a fault of a writer would. */
const spoiled = (written: Written): Written => ({
  ...written,
  files: written.files.map(({ name, text }) => ({
    name,
    text: text
      .split('\n')
      .map((line) => (line.includes(link.canonical) ? line.replace('portansel', 'elsewhere') : line))
      .join('\n'),
  })),
})

describe.each(['apache', 'nginx'] as const)('a file for %s', (kind) => {
  it('that answers as the gateway has no difference listed', () => {
    expect(otherwise(kind, WRITERS[kind](outgoing))).toBeUndefined()
  })

  it('that holds a part of the register is not asked for the rest of it', () => {
    const part = { ...outgoing, links: [link], rules: [], whole: false }
    expect(withDifferences(kind, part, WRITERS[kind](part)).cannot.map(({ code }) => code)).not.toContain('otherwise')
  })

  it('that differs in a capital alone has it listed', () => {
    const written = WRITERS[kind](outgoing)
    const files = written.files.map(({ name, text }) => ({
      name,
      text: text.replaceAll('/www.portansel.', '/Www.portansel.'),
    }))
    expect(otherwise(kind, { ...written, files })!.count).toBeGreaterThan(0)
  })

  it('that answers otherwise has it listed by address, with what comes instead of what', () => {
    const found = otherwise(kind, spoiled(WRITERS[kind](outgoing)))!
    expect(found.count).toBeGreaterThan(0)
    expect(found.subjects[0]).toMatch(/^\/\S+: https:\/\/www\.elsewhere\S* instead of https:\/\/www\.portansel/)
  })
})
