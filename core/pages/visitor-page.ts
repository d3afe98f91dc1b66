import { HIDDEN_CHARACTERS } from '../address/hidden-characters'
import { lookUpLanguage } from '../conditions/language'
import { readableOnDark } from './contrast'
import { markup, trusted, type Markup } from './markup'
import type { PageSettings } from './settings'
import { PAGE_LANGUAGES, WORDS, type PageKind, type PageLanguage, type PageText } from './words'

/** A link that may have been meant. */
export interface Offer {
  /** As people read it, like `ansl.example/fares`. */
  address: string
  /** Where it leads: its address as a URL, or a path of the same domain. */
  href: string
}

/** What a page of our own is made of. */
export interface VisitorPage {
  kind: PageKind
  /** The domain’s host as people read it; empty for a name that is not ours. */
  host: string
  /** What was asked for, as people read it; empty for the bare domain. */
  asked: string
  settings: PageSettings
  acceptLanguage: string
  likely?: Offer | null
  others?: readonly Offer[]
  /** Seconds until it is back, where that is known. */
  backAfter?: number | null
  capitalsMatter?: boolean
  /** Said instead of the usual text. */
  text?: PageText
  /** Whether the field to try again is shown; it needs the gateway. */
  tryAgain?: boolean
}

/** Text as it is shown: what hides in it as a mark. */
const shown = (text: string) => text.replace(HIDDEN_CHARACTERS, '\ufffd')

const STYLE = trusted(
  `:root{color-scheme:light dark;--a:#6a2c4f}*{box-sizing:border-box}body{margin:0;min-height:100vh;
display:grid;place-items:center;background:#f6f3ec;color:#22252b;font:17px/1.5 system-ui,sans-serif}
main{width:100%;max-width:34rem;padding:2rem 1.25rem}h1{font-size:1.5rem;margin:0 0 .6rem;line-height:1.25}
h2{font-size:1rem;margin:1.6rem 0 .4rem}p,ul{margin:.4rem 0}ul{list-style:none;padding:0}
code{font:.95em ui-monospace,monospace;overflow-wrap:anywhere}a{color:var(--a);overflow-wrap:anywhere}
li a,.o{display:inline-block;padding:.35rem 0}.o{font-weight:600}
form{display:flex;flex-wrap:wrap;gap:.5rem;align-items:center;margin:.4rem 0}
input{flex:1 1 10rem;min-width:0;font:inherit;padding:.55rem .6rem;border:1px solid #767b86;border-radius:3px;
background:#fffdf9;color:inherit}button{font:inherit;padding:.55rem 1rem;border:0;border-radius:3px;
background:var(--a);color:#fff}label{flex-basis:100%;font-size:1rem;font-weight:600;margin-top:1.2rem}
:focus-visible{outline:3px solid var(--a);outline-offset:2px}
footer{color:#5b606b;margin-top:1.8rem;border-top:1px solid #ddd6c8;padding-top:.8rem}
.m{display:inline-block;background:var(--a);color:#fff;border-radius:3px;padding:.1rem .45rem;margin-right:.5rem;
font-weight:700}@media(prefers-color-scheme:dark){:root{--a:#d9a3c3}body{background:#1b1a1d;color:#ece7df}
input{background:#26242a}button,.m{color:#1b1a1d}footer{color:#b3aca4;border-color:#3d3a40}}`.replace(/\n/g, ''),
)

/** Longer addresses are cut where they are shown, so that no request makes a page large. */
const MAX_SHOWN = 300
const cut = (text: string) => (text.length > MAX_SHOWN ? text.slice(0, MAX_SHOWN).toWellFormed() + '…' : text)

/** The language a page is told in: the one wanted most of those the domain speaks (RFC 4647 §3.4), else its first. */
export function pageLanguage(acceptLanguage: string, settings: PageSettings): PageLanguage {
  const spoken = settings.languages ?? (Object.keys(PAGE_LANGUAGES) as PageLanguage[])
  if (acceptLanguage === '') return spoken[0] ?? 'en'
  return (lookUpLanguage(acceptLanguage, spoken) as PageLanguage | undefined) ?? spoken[0] ?? 'en'
}

/** A span of time in a language, like “in 3 hours”. */
function inWords(seconds: number, language: PageLanguage): string {
  const format = new Intl.RelativeTimeFormat(language, { numeric: 'always' })
  if (seconds < 5400) return format.format(Math.max(1, Math.round(seconds / 60)), 'minute')
  if (seconds < 129_600) return format.format(Math.round(seconds / 3600), 'hour')
  return format.format(Math.round(seconds / 86_400), 'day')
}

const offer = ({ address, href }: Offer) => markup`<a href="${href}">${shown(address)}</a>`
const bestOffer = ({ address, href }: Offer) => markup`<a class="o" href="${href}">${shown(address)}</a>`

/**
 * A page of our own as HTML: under 14 KB, without script, in the domain’s name, mark and words and the visitor’s
 * language. Says nothing of who runs it or how.
 */
export function visitorPage(page: VisitorPage): string {
  const { settings, host, kind } = page
  const language = pageLanguage(page.acceptLanguage, settings)
  const words = WORDS[language]
  const own = settings.texts?.[language]?.[kind]
  const heading = page.text?.heading ?? (own?.heading || words.pages[kind].heading)
  const usual = words.pages[kind].sentence + (page.capitalsMatter && kind === 'not-found' ? ` ${words.capitals}` : '')
  const back = page.backAfter ? words.back.replace('{time}', inWords(page.backAfter, language)) : ''
  const sentence = page.text?.sentence ?? (back || own?.sentence || usual)
  const name = settings.name || host
  const title = shown(heading)
  const others = page.others ?? []
  const parts = [
    markup`<h1>${title}</h1><p>${shown(sentence)}</p>`,
    page.asked !== '' && markup`<p><code>${shown(cut(page.asked))}</code></p>`,
    page.likely && markup`<h2>${words.likely}</h2><p>${bestOffer(page.likely)}</p>`,
    others.length > 0 && markup`<h2>${page.likely ? words.others : words.likely}</h2>${listOf(others)}`,
    page.tryAgain && field(words.tryAgain, words.go, page.asked),
    (name || settings.contact) &&
      markup`<footer>${markOf(settings)}${shown(name)}${contactOf(settings, words.contact)}</footer>`,
  ] as const
  const head = [
    markup`<meta charset="utf-8"><meta name="viewport" content="width=device-width,initial-scale=1">`,
    markup`<meta name="robots" content="noindex"><title>${title}</title><style>${STYLE}</style>${colourOf(settings)}`,
  ]
  return markup`<!doctype html><html lang="${language}">${head}<main>${parts}</main></html>\n`.text
}

const listOf = (others: readonly Offer[]) => markup`<ul>${others.map((one) => markup`<li>${offer(one)}</li>`)}</ul>`

/** The field to try again with; it begins with what was asked. */
function field(label: string, go: string, asked: string): Markup {
  const value = asked && asked.length <= MAX_SHOWN ? shown(asked.slice(asked.indexOf('/') + 1)) : ''
  const parts = [
    markup`<label for="a">${label}</label>`,
    markup`<input id="a" name="address" value="${value}" maxlength="300" ${ATTRIBUTES}><button>${go}</button>`,
  ]
  return markup`<form action="/.well-known/short-address/find" role="search">${parts}</form>`
}

/** No correcting, no capitals, no checking of spelling: it is an address. */
const ATTRIBUTES = trusted('autocapitalize="off" autocorrect="off" spellcheck="false" required')

const markOf = ({ mark }: PageSettings) => mark && markup`<span class="m" aria-hidden="true">${shown(mark)}</span>`
const contactOf = ({ contact }: PageSettings, question: string) =>
  contact && markup`<p>${question} ${contactLink(contact)}</p>`

/** The domain's colour, and one of the same hue that can be read in the dark; checked when it was saved. */
function colourOf({ colour }: PageSettings): Markup | undefined {
  if (!colour) return undefined
  const dark = readableOnDark(colour)
  return markup`<style>:root{--a:${colour}}@media(prefers-color-scheme:dark){:root{--a:${dark}}}</style>`
}

function contactLink(contact: string): Markup {
  const href = contact.startsWith('http')
    ? contact
    : contact.includes('@')
      ? `mailto:${contact}`
      : `tel:${contact.replace(/[^+0-9]/g, '')}`
  return markup`<a href="${href}">${shown(contact)}</a>`
}
