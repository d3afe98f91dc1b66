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
        heading: 'Address not found',
        sentence: 'Please check the spelling. The characters l and 1, O and 0 look alike.',
      },
      ended: {
        heading: 'This address is no longer in use',
        sentence: 'The page it led to is no longer offered here.',
      },
      gone: {
        heading: 'This address has been withdrawn',
        sentence: 'It is no longer available.',
      },
      paused: {
        heading: 'Temporarily unavailable',
        sentence: 'This address is switched off at the moment. Please try again later.',
      },
      'not-served': { heading: 'No site at this name', sentence: 'This server has no pages for this name.' },
    },
    likely: 'Closest address',
    others: 'Similar addresses',
    capitals: 'Capital and small letters are different.',
    tryAgain: 'Enter another address',
    go: 'Go',
    contact: 'Contact',
    back: 'Available again {time}.',
  },
  pt: {
    pages: {
      'not-found': {
        heading: 'Este endereço não existe',
        sentence: 'Verifique a grafia. Os caracteres l e 1, O e 0 são parecidos.',
      },
      ended: {
        heading: 'Este endereço já não está em uso',
        sentence: 'A página a que levava já não está disponível aqui.',
      },
      gone: {
        heading: 'Este endereço foi retirado',
        sentence: 'Já não está disponível.',
      },
      paused: {
        heading: 'Temporariamente indisponível',
        sentence: 'Este endereço está desligado de momento. Tente novamente mais tarde.',
      },
      'not-served': {
        heading: 'Não há nenhum site com este nome',
        sentence: 'Este servidor não tem páginas para este nome.',
      },
    },
    likely: 'Endereço mais próximo',
    others: 'Endereços parecidos',
    capitals: 'As maiúsculas e as minúsculas são diferentes.',
    tryAgain: 'Introduzir outro endereço',
    go: 'Ir',
    contact: 'Contacto',
    back: 'Novamente disponível {time}.',
  },
  de: {
    pages: {
      'not-found': {
        heading: 'Diese Adresse gibt es nicht',
        sentence: 'Bitte prüfen Sie die Schreibweise. Die Zeichen l und 1, O und 0 sehen sich ähnlich.',
      },
      ended: {
        heading: 'Diese Adresse wird nicht mehr verwendet',
        sentence: 'Die Seite, zu der sie führte, wird hier nicht mehr angeboten.',
      },
      gone: {
        heading: 'Diese Adresse wurde zurückgezogen',
        sentence: 'Sie ist nicht mehr verfügbar.',
      },
      paused: {
        heading: 'Vorübergehend nicht erreichbar',
        sentence: 'Diese Adresse ist im Moment abgeschaltet. Bitte versuchen Sie es später noch einmal.',
      },
      'not-served': {
        heading: 'Keine Website unter diesem Namen',
        sentence: 'Dieser Server hat keine Seiten für diesen Namen.',
      },
    },
    likely: 'Ähnlichste Adresse',
    others: 'Ähnliche Adressen',
    capitals: 'Groß- und Kleinbuchstaben werden unterschieden.',
    tryAgain: 'Eine andere Adresse eingeben',
    go: 'Los',
    contact: 'Kontakt',
    back: 'Wieder verfügbar {time}.',
  },
  fr: {
    pages: {
      'not-found': {
        heading: 'Cette adresse n’existe pas',
        sentence: 'Vérifiez l’orthographe. Les caractères l et 1, O et 0 se ressemblent.',
      },
      ended: {
        heading: 'Cette adresse n’est plus utilisée',
        sentence: 'La page vers laquelle elle menait n’est plus proposée ici.',
      },
      gone: {
        heading: 'Cette adresse a été retirée',
        sentence: 'Elle n’est plus disponible.',
      },
      paused: {
        heading: 'Temporairement indisponible',
        sentence: 'Cette adresse est désactivée pour le moment. Veuillez réessayer plus tard.',
      },
      'not-served': { heading: 'Aucun site à ce nom', sentence: 'Ce serveur n’a pas de pages pour ce nom.' },
    },
    likely: 'Adresse la plus proche',
    others: 'Adresses similaires',
    capitals: 'Les majuscules et les minuscules sont différentes.',
    tryAgain: 'Saisir une autre adresse',
    go: 'Aller',
    contact: 'Contact',
    back: 'De nouveau disponible {time}.',
  },
  es: {
    pages: {
      'not-found': {
        heading: 'Esta dirección no existe',
        sentence: 'Compruebe la ortografía. Los caracteres l y 1, O y 0 se parecen.',
      },
      ended: {
        heading: 'Esta dirección ya no está en uso',
        sentence: 'La página a la que llevaba ya no se ofrece aquí.',
      },
      gone: {
        heading: 'Esta dirección se ha retirado',
        sentence: 'Ya no está disponible.',
      },
      paused: {
        heading: 'No disponible temporalmente',
        sentence: 'Esta dirección está desactivada por ahora. Inténtelo más tarde.',
      },
      'not-served': {
        heading: 'No hay ningún sitio con este nombre',
        sentence: 'Este servidor no tiene páginas para este nombre.',
      },
    },
    likely: 'Dirección más parecida',
    others: 'Direcciones parecidas',
    capitals: 'Las mayúsculas y las minúsculas son diferentes.',
    tryAgain: 'Introducir otra dirección',
    go: 'Ir',
    contact: 'Contacto',
    back: 'Disponible de nuevo {time}.',
  },
}
