import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import LongAddress from '../../app/components/address/LongAddress.vue'
import RedirectChip from '../../app/components/address/RedirectChip.vue'
import ShortAddress from '../../app/components/address/ShortAddress.vue'
import StateMark from '../../app/components/address/StateMark.vue'
import MeanwhileNotice from '../../app/components/form/MeanwhileNotice.vue'
import { changedFields, sentenceOf } from '../../app/composables/ledger-words'
import type { LedgerEntry } from '../../core/schemas'

describe('addresses', () => {
  it('keep host and slug apart, and the whole address at hand', () => {
    const short = mount(ShortAddress, { props: { address: 'ansl.example/stop/4417' } })
    expect(short.find('.host').text()).toBe('ansl.example')
    expect(short.find('.slug').text()).toBe('stop/4417')
    expect(short.attributes('title')).toBe('ansl.example/stop/4417')
  })
  it.each([
    ['https://www.site.example/a/long/path/to/page', 'site.example', '/a/long/path/to/page'],
    ['https://site.example', 'site.example', ''],
    ['http://www.example/x', 'http:', '//www.example/x'],
  ])('%s loses nothing but https:// and www.', (address, host, path) => {
    const long = mount(LongAddress, { props: { address } })
    expect(long.find('.host').text()).toBe(host)
    expect(long.find('.front').text() + long.find('.back').text()).toBe(path)
    expect(long.attributes('title')).toBe(address)
  })

  it.each([
    ['https://www.site.example/fares/2027', '/fares/2027'],
    ['https://www.site.example/night-network/map.pdf', '/map.pdf'],
    ['https://www.site.example/a-long-name-of-a-folder/2027', '/2027'],
    ['https://www.site.example/fares', '/fares'],
    ['https://www.site.example/', '/'],
    ['https://www.site.example', ''],
    [`https://www.site.example/${'x'.repeat(40)}`, 'x'.repeat(26)],
  ])('%s keeps whole segments at its end: %s', (address, end) =>
    expect(mount(LongAddress, { props: { address } }).find('.back').text()).toBe(end),
  )
})

describe('marks', () => {
  it.each([
    [301, 'permanent'],
    [308, 'permanent'],
    [302, 'temporary'],
    [303, 'temporary'],
    [307, 'temporary'],
  ])('%i is said in a word, not by colour alone', (status, word) => {
    expect(mount(RedirectChip, { props: { status } }).text()).toContain(word)
  })
  it('differ in shape by state', () => {
    const shapes = ['sound', 'doubtful', 'broken', 'idle', 'ended'].map((state) =>
      mount(StateMark, { props: { state } }).text(),
    )
    expect(new Set(shapes).size).toBe(5)
  })
})

describe('what was saved meanwhile', () => {
  it('stands beside what this form holds', async () => {
    const notice = mount(MeanwhileNotice, {
      props: { what: 'link', clashes: [{ name: 'title', before: 'Opened', theirs: 'Theirs', yours: 'Mine' }] },
    })
    expect(notice.findAll('td').map((cell) => cell.text())).toEqual(['Theirs', 'Mine'])
    await notice.find('button').trigger('click')
    expect(notice.emitted('theirs')).toHaveLength(1)
  })
})

describe('ledger words', () => {
  const entry = (before: object | null, after: object | null, action = 'change') =>
    ({ action, subject: { kind: 'link', id: 1, label: 'a/b' }, before, after }) as unknown as LedgerEntry
  it('name the fields that changed, before and after', () => {
    expect(
      changedFields(entry({ title: 'Old', tags: ['a'], status: 302 }, { title: 'New', tags: ['a'], status: 302 })),
    ).toEqual([{ name: 'Title', before: 'Old', after: 'New' }])
    expect(changedFields(entry({ tags: ['a', 'b'] }, { tags: [] }))).toEqual([
      { name: 'Tags', before: 'a, b', after: '' },
    ])
  })
  it('show where a new link leads', () => {
    expect(changedFields(entry(null, { destination: 'https://x.example/', title: 'T' }))).toEqual([
      { name: 'Destination', before: '', after: 'https://x.example/' },
    ])
    expect(sentenceOf(entry(null, {}, 'create'))).toBe('Created')
  })
})
