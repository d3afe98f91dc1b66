const ESCAPES: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' }

/** Escapes text for content and quoted attributes of HTML and XML. */
const escaped = (text: string): string =>
  /[&<>"']/.test(text) ? text.replace(/[&<>"']/g, (character) => ESCAPES[character]!) : text

/** Markup: what it was made of is escaped already. */
export class Markup {
  constructor(readonly text: string) {}

  toString(): string {
    return this.text
  }
}

/** What can stand in a template: text is escaped, markup and lists of it are put in as they are. */
type Part = string | number | Markup | readonly Part[] | null | undefined | false

const written = (part: Part): string => {
  if (part instanceof Markup) return part.text
  if (typeof part === 'string') return escaped(part)
  if (typeof part === 'number') return String(part)
  return part ? part.map(written).join('') : ''
}

/** A template of HTML or XML that escapes all that is put into it; `null`, `undefined` and `false` are nothing. */
export function markup(template: TemplateStringsArray, ...parts: readonly Part[]): Markup {
  let text = template[0]!
  for (let at = 0; at < parts.length; at++) text += written(parts[at]) + template[at + 1]!
  return new Markup(text)
}

/** Markup of our own that is written elsewhere, as a style sheet is. Never for what somebody typed. */
export const trusted = (text: string): Markup => new Markup(text)
