import { showHost } from '../core/address'
import type { Answer } from '../core/table'
import type { DomainRow } from '../core/rows'

const ESCAPES: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' }

/** Escapes text for HTML content and quoted attributes. */
export function escapeHtml(text: string): string {
  return /[&<>"']/.test(text) ? text.replace(/[&<>"']/g, (character) => ESCAPES[character]!) : text
}

/** The short note of a redirect (RFC 9110 §15.4.2). */
export function redirectNote(location: string): string {
  const link = escapeHtml(location)
  return `<!doctype html><title>Moved</title><p>The page is at <a href="${link}">${link}</a>.</p>\n`
}

const STYLE = `:root{color-scheme:light dark}body{margin:0;min-height:100vh;display:grid;place-items:center;
background:#f6f3ec;color:#22252b;font:17px/1.5 system-ui,sans-serif}main{max-width:32rem;padding:2rem 1.5rem}
h1{font-size:1.5rem;margin:0 0 .6rem;line-height:1.25}p{margin:.4rem 0}
code{font:.95em ui-monospace,monospace;overflow-wrap:anywhere}
.host{color:#5b606b;margin-top:1.6rem;border-top:1px solid #ddd6c8;padding-top:.8rem}
@media(prefers-color-scheme:dark){body{background:#1b1a1d;color:#ece7df}
.host{color:#b3aca4;border-color:#3d3a40}}`.replace(/\n/g, '')

/** What a page says: its heading and a sentence. */
function words(answer: Answer, capitalsMatter: boolean): [heading: string, sentence: string] {
  switch (answer.outcome) {
    case 'root':
      return [
        'Short addresses live here',
        'This name holds short addresses only. Type the whole address, with the part after the slash.',
      ]
    case 'paused':
      return answer.retryAfter === null
        ? ['This address is paused', 'It is switched off for the moment and will come back.']
        : ['This address is paused', `It will be back ${inWords(answer.retryAfter)}.`]
    case 'ended':
      return ['This address has ended', 'What it led to is over, and nothing has taken its place.']
    case 'retired':
      return ['This address is gone', 'It was withdrawn for good and will not be used for anything else.']
    case 'not-ours':
    case 'not-open':
      return ['Nothing answers here yet', 'This name is not served from here.']
    case 'bad-host':
    case 'bad-target':
      return [
        'This address cannot be read',
        'Part of it is written in a way no address can be. Check it against where you found it.',
      ]
    case 'too-long':
      return ['This address is too long', 'Addresses over 8,000 characters are not answered.']
    case 'bad-method':
      return ['This method is not answered', 'Open the address in a browser instead.']
    default:
      return [
        'No such address',
        `Check it for mistyped letters: ${capitalsMatter ? 'capitals count, and ' : ''}l, 1, O and 0 are ` +
          'easily confused.',
      ]
  }
}

function inWords(seconds: number): string {
  if (seconds < 90) return 'within about a minute'
  if (seconds < 5400) return `in about ${Math.round(seconds / 60)} minutes`
  if (seconds < 129_600) return `in about ${Math.round(seconds / 3600)} hours`
  return `in about ${Math.round(seconds / 86_400)} days`
}

/** A page of our own, in the domain's name; says nothing of who runs it or how. */
export function ownPage(answer: Answer, domain: DomainRow | undefined): string {
  if (answer.outcome === 'reserved') return answer.status === 200 ? 'User-agent: *\nDisallow:\n' : ''
  const [heading, sentence] = words(answer, domain?.capitalsMatter ?? false)
  const host = domain && showHost(domain.host)
  const asked = host && answer.canonical ? `<p><code>${escapeHtml(`${host}/${answer.canonical}`)}</code></p>` : ''
  const name = host ? `<p class="host">${escapeHtml(host)}</p>` : ''
  return (
    '<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" ' +
    `content="width=device-width,initial-scale=1"><title>${escapeHtml(heading)}</title><style>${STYLE}</style>` +
    `<main><h1>${escapeHtml(heading)}</h1><p>${escapeHtml(sentence)}</p>${asked}${name}</main></html>\n`
  )
}
