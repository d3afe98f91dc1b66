import type { operations } from './operations'

/** A request that works as it stands, on a register with a link 1 and a domain 1 called ansl.example. */
export interface Example {
  id?: number
  n?: number
  word?: string
  query?: Readonly<Record<string, string>>
  body?: unknown
  text?: string
}

/** An example for operations that scripts call, in an order in which they can be run; the tests do. */
export const EXAMPLES: Partial<Record<keyof typeof operations, Example>> = {
  createLink: {
    body: {
      domain: 'ansl.example',
      slug: 'harbour-day',
      destination: 'https://www.portansel.example/events/harbour-day',
      status: 302,
      title: 'Harbour day',
      tags: ['events'],
      reason: 'For the posters of the harbour day',
    },
  },
  makeOrChangeLinks: {
    body: {
      reason: 'Stops of the night network',
      links: [
        { domain: 'ansl.example', slug: 'stop/4417', destination: 'https://live.portansel.example/s/4417' },
        { domain: 'ansl.example', slug: 'stop/4418', destination: 'https://live.portansel.example/s/4418' },
      ],
    },
  },
  listLinks: { query: { domain: 'ansl.example', sort: 'address', limit: '50' } },
  countLinks: { query: { domain: 'ansl.example' } },
  readLink: { id: 1 },
  changeLink: { id: 1, body: { title: 'Fares of this season', reason: 'A new season' } },
  addAlias: { id: 1, body: { slug: 'tickets', reason: 'As riders call it' } },
  linkHistory: { id: 1, query: { limit: '20' } },
  addPlacement: { id: 1, body: { medium: 'Stop poster', place: 'Quay 3', placedOn: '2026-11-02', copies: 12 } },
  listPlacements: { id: 1 },
  addLinkDate: { id: 1, body: { kind: 'look-again', day: '2027-03-01', note: 'Fares change' } },
  checkSlug: { body: { domain: 'ansl.example', slug: 'fare', title: 'Fares' } },
  trace: { body: { address: 'ansl.example/fares' } },
  listTags: { query: { limit: '50' } },
  listDomains: { query: { limit: '50' } },
  readDomain: { id: 1 },
  createRule: {
    body: {
      domain: 'ansl.example',
      pattern: '/line/:number(\\d+)',
      destination: 'https://www.portansel.example/lines/{number}',
      reason: 'Every line has a page',
    },
  },
  listRules: { query: { domain: 'ansl.example' } },
  testPatterns: { body: { domain: 'ansl.example', addresses: ['ansl.example/line/7', 'ansl.example/lines'] } },
  comparePatterns: { body: { a: '/line/:number(\\d+)', b: '/line/1*' } },
  makeProposal: {
    body: {
      select: { host: 'live.portansel.example' },
      change: { tags: { add: ['stops'] } },
      reason: 'To find them',
    },
  },
  listProposals: { query: { limit: '10' } },
  makeIntake: {
    query: { name: 'old-list.txt', domain: 'ansl.example' },
    text: '/timetable https://www.portansel.example/timetable 302\n/zones https://www.portansel.example/zones 302\n',
  },
  listIntakes: { query: { limit: '10' } },
  takeOut: { word: 'csv', query: { domain: 'ansl.example' } },
  aboutExport: { word: 'nginx', query: { domain: 'ansl.example' } },
  lookUpPast: { query: { address: 'ansl.example/fares', at: '2026-11-01T08:00:00Z' } },
  readTraffic: {
    query: { from: '2026-11-01T00:00:00Z', to: '2026-11-08T00:00:00Z', by: 'link', domain: 'ansl.example' },
  },
  listLedger: { query: { limit: '20' } },
  listCases: { query: {} },
  listMisses: { query: {} },
  rankPath: { body: { domain: 'ansl.example', path: '/fraes' } },
  listDates: { query: { from: '2026-11-01', to: '2026-12-31', limit: '50' } },
  readHealth: { query: {} },
}
