import { HIDDEN_CHARACTERS } from '../address/hidden-characters'

/** What a letter to a page's owner says. */
export interface LetterFacts {
  /** The page or site that carries the wrong address. */
  page: string
  wrong: string
  /** The address that was meant, where it is known. */
  right: string | null
  visitors: number
  organisation: string
}

/** A text from outside in which nothing hides: control and direction characters as `\u{…}`. */
export const visible = (text: string): string =>
  text.replace(HIDDEN_CHARACTERS, (one) => `\\u{${one.codePointAt(0)!.toString(16).padStart(4, '0')}}`)

/** A ready letter to the owner of a page that carries a wrong address: subject and plain text. */
export function letterTo({ page, wrong, right, visitors, organisation }: LetterFacts): {
  subject: string
  text: string
} {
  const came = visitors === 1 ? 'One visitor came' : `${visitors.toLocaleString('en')} visitors came`
  return {
    subject: `A wrong address on ${visible(page)}`,
    text: [
      'Hello,',
      '',
      `${came} from ${visible(page)} with an address that does not work:`,
      '',
      `    ${visible(wrong)}`,
      '',
      ...(right === null
        ? ['Please check the link on that page, or tell us where it should lead.']
        : ['The correct address is probably:', '', `    ${visible(right)}`, '', 'Could you correct the link?']),
      '',
      'Thank you,',
      visible(organisation),
      '',
    ].join('\n'),
  }
}
