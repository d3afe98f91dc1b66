import { missing, type Behaviour } from '../behaviour'

/** Sites that break what they speak. */
export const FAULTS: readonly Behaviour[] = [
  { name: 'hanging', words: 'takes the request and says nothing', answer: () => ({ instead: 'hang' }) },
  { name: 'reset', words: 'resets the connection', answer: () => ({ instead: 'reset' }) },
  {
    name: 'wrong-length',
    words: 'promises more than it sends',
    answer: () => ({
      raw:
        'HTTP/1.1 200 OK\r\nContent-Type: text/html\r\nContent-Length: 5000\r\n\r\n' +
        '<html><title>Half a page</title><p>and then',
    }),
  },
  {
    name: 'not-http',
    words: 'speaks something else',
    answer: () => ({ raw: '220 mail.example ready\r\n500 what?\r\n' }),
  },
  {
    name: 'broken-chunks',
    words: 'breaks off in the middle of a chunk',
    answer: () => ({ raw: 'HTTP/1.1 200 OK\r\nTransfer-Encoding: chunked\r\n\r\n5\r\nhello\r\nzz\r\n' }),
  },
  {
    name: 'broken-gzip',
    words: 'says gzip and sends none',
    answer: () => ({
      raw: 'HTTP/1.1 200 OK\r\nContent-Type: text/html\r\nContent-Encoding: gzip\r\nContent-Length: 9\r\n\r\nnot gzip!',
    }),
  },
  {
    name: 'header-flood',
    words: 'sends fields without end',
    answer: () => ({ raw: `HTTP/1.1 200 OK\r\n${'X-More: and more\r\n'.repeat(20_000)}\r\n` }),
  },
  {
    name: 'drip',
    words: 'sends a page, then one octet at a time',
    answer: (visit, site) =>
      !site.pages.has(visit.path)
        ? missing(site)
        : {
            raw:
              'HTTP/1.1 200 OK\r\nContent-Type: text/html\r\n\r\n<html><title>Live board</title><h1>Live board</h1>' +
              '<p>The next ferry leaves in four minutes from the quay by the old mint, as it does each day.</p>',
            drip: true,
          },
  },
]
