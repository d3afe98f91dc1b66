/** Languages the pages of our own come with (RFC 5646 tags), by their names in themselves. */
export const PAGE_LANGUAGES = { en: 'English', pt: 'Português', de: 'Deutsch', fr: 'Français', es: 'Español' } as const
export type PageLanguage = keyof typeof PAGE_LANGUAGES

/** The pages visitors may see of us, by what they are about. */
export const PAGE_KINDS = {
  'not-found': 'Not found',
  ended: 'Ended',
  gone: 'Gone',
  paused: 'Paused',
  'not-served': 'Not served here',
} as const
export type PageKind = keyof typeof PAGE_KINDS

/** What a page says: its heading and a sentence. */
export interface PageText {
  heading: string
  sentence: string
}

interface Words {
  pages: Record<PageKind, PageText>
  /** Before the one likely link. */
  likely: string
  /** Before others that may be meant. */
  others: string
  /** Where they count. */
  capitals: string
  tryAgain: string
  go: string
  contact: string
  /** It comes back after a while; `{time}` is a span of time. */
  back: string
}

export const WORDS: Record<PageLanguage, Words> = {
  en: {
    pages: {
      'not-found': {
        heading: 'No such address',
        sentence: 'Check it for mistyped letters: l, 1, O and 0 are easily confused.',
      },
      ended: {
        heading: 'This address has ended',
        sentence: 'What it led to is over, and nothing has taken its place.',
      },
      gone: {
        heading: 'This address is gone',
        sentence: 'It was withdrawn for good and will not be used for anything else.',
      },
      paused: {
        heading: 'This address is paused',
        sentence: 'It is switched off for the moment and will come back.',
      },
      'not-served': { heading: 'Nothing answers here yet', sentence: 'This name is not served from here.' },
    },
    likely: 'Did you mean this?',
    others: 'Or one of these?',
    capitals: 'Mind that capitals count.',
    tryAgain: 'Try another address',
    go: 'Go',
    contact: 'Questions?',
    back: 'It will be back {time}.',
  },
  pt: {
    pages: {
      'not-found': {
        heading: 'Este endereço não existe',
        sentence: 'Verifique se há letras trocadas: l, 1, O e 0 confundem-se facilmente.',
      },
      ended: { heading: 'Este endereço terminou', sentence: 'Aquilo a que levava acabou e nada o substituiu.' },
      gone: {
        heading: 'Este endereço já não existe',
        sentence: 'Foi retirado de vez e não será usado para mais nada.',
      },
      paused: { heading: 'Este endereço está em pausa', sentence: 'Está desligado por agora e há de voltar.' },
      'not-served': { heading: 'Aqui ainda nada responde', sentence: 'Este nome não é servido a partir daqui.' },
    },
    likely: 'Queria dizer este?',
    others: 'Ou um destes?',
    capitals: 'As maiúsculas contam.',
    tryAgain: 'Tentar outro endereço',
    go: 'Ir',
    contact: 'Perguntas?',
    back: 'Estará de volta {time}.',
  },
  de: {
    pages: {
      'not-found': {
        heading: 'Diese Adresse gibt es nicht',
        sentence: 'Prüfen Sie sie auf Tippfehler: l, 1, O und 0 sind leicht zu verwechseln.',
      },
      ended: {
        heading: 'Diese Adresse ist abgelaufen',
        sentence: 'Wohin sie führte, ist vorbei, und nichts ist an seine Stelle getreten.',
      },
      gone: {
        heading: 'Diese Adresse gibt es nicht mehr',
        sentence: 'Sie wurde endgültig zurückgezogen und wird für nichts anderes verwendet.',
      },
      paused: { heading: 'Diese Adresse macht Pause', sentence: 'Sie ist im Moment abgeschaltet und kommt wieder.' },
      'not-served': { heading: 'Hier antwortet noch nichts', sentence: 'Dieser Name wird nicht von hier bedient.' },
    },
    likely: 'Meinten Sie diese?',
    others: 'Oder eine von diesen?',
    capitals: 'Groß- und Kleinschreibung zählt.',
    tryAgain: 'Eine andere Adresse versuchen',
    go: 'Los',
    contact: 'Fragen?',
    back: 'Sie ist {time} wieder da.',
  },
  fr: {
    pages: {
      'not-found': {
        heading: 'Cette adresse n’existe pas',
        sentence: 'Vérifiez les fautes de frappe : l, 1, O et 0 se confondent facilement.',
      },
      ended: {
        heading: 'Cette adresse a pris fin',
        sentence: 'Ce vers quoi elle menait est terminé et rien ne l’a remplacé.',
      },
      gone: {
        heading: 'Cette adresse n’existe plus',
        sentence: 'Elle a été retirée pour de bon et ne servira à rien d’autre.',
      },
      paused: {
        heading: 'Cette adresse est en pause',
        sentence: 'Elle est désactivée pour le moment et reviendra.',
      },
      'not-served': { heading: 'Rien ne répond encore ici', sentence: 'Ce nom n’est pas servi d’ici.' },
    },
    likely: 'Vouliez-vous dire celle-ci ?',
    others: 'Ou l’une de celles-ci ?',
    capitals: 'Les majuscules comptent.',
    tryAgain: 'Essayer une autre adresse',
    go: 'Aller',
    contact: 'Des questions ?',
    back: 'Elle sera de retour {time}.',
  },
  es: {
    pages: {
      'not-found': {
        heading: 'Esta dirección no existe',
        sentence: 'Compruebe si hay letras cambiadas: l, 1, O y 0 se confunden con facilidad.',
      },
      ended: {
        heading: 'Esta dirección ha terminado',
        sentence: 'Aquello a lo que llevaba se acabó y nada lo ha sustituido.',
      },
      gone: {
        heading: 'Esta dirección ya no existe',
        sentence: 'Se retiró para siempre y no se usará para nada más.',
      },
      paused: { heading: 'Esta dirección está en pausa', sentence: 'Está desactivada por ahora y volverá.' },
      'not-served': { heading: 'Aquí todavía no responde nada', sentence: 'Este nombre no se sirve desde aquí.' },
    },
    likely: '¿Quería decir esta?',
    others: '¿O una de estas?',
    capitals: 'Las mayúsculas cuentan.',
    tryAgain: 'Probar otra dirección',
    go: 'Ir',
    contact: '¿Preguntas?',
    back: 'Volverá {time}.',
  },
}
