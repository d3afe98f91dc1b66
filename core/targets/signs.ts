/**
 * Signs that pages bear, in one list to read and to add to. A pattern is held against the title or heading, cut at the
 * separators between a page's name and its site's; “text” against the page's first words; “host” and “resource”
 * against the host of the page and of what it loads. The words are common practice, no source.
 */
export interface Sign {
  name: 'not-found' | 'maintenance' | 'sign-in' | 'ask-access' | 'parked' | 'challenge'
  where: 'title' | 'text' | 'resource'
  pattern: RegExp
  why: string
}

const sign = (name: Sign['name'], where: Sign['where'], pattern: RegExp, why: string): Sign => ({
  name,
  where,
  pattern,
  why,
})

// A part of a title must be all of it: an article about error pages is none.
const whole = (...phrases: string[]) => new RegExp(`^(?:${phrases.join('|')})[.!…]*$`, 'iu')
// In a text they stand among others.
const words = (...phrases: string[]) => new RegExp(`(?<![\\p{L}])(?:${phrases.join('|')})(?![\\p{L}])`, 'iu')
const NUMBER = '(?:(?:error|fehler|erreur|erro|errore|fout|fel|błąd)[ :#]*)?404(?:[ :]*(?:error|fehler|not found))?'

// “The page you requested could not be found”, in its parts.
const THING = '(?:page|document|file|content|resource|url|address|article|product|item|event|stop)'
const ASKED = '(?: you (?:are looking|were looking|requested|asked)(?: for)?)?'
const MISSING =
  " (?:(?:was |is |could )?(?:not|no longer)(?: be)? ?|can(?:not|’t|'t) be |has been )" +
  '(?:found|available|here|exist|removed|moved|deleted)'

export const SIGNS: readonly Sign[] = [
  sign('not-found', 'title', whole(NUMBER), 'the number of the status itself'),
  sign(
    'not-found',
    'title',
    whole(
      `(?:${NUMBER}[ ,:.-]*)?(?:oops!? *|sorry,? *)?(?:the )?${THING}${ASKED}${MISSING}`,
      `(?:${NUMBER}[ ,:.-]*)?not found`,
      '(?:oops!? *)?nothing (?:was )?found(?: here)?',
      "we (?:can’t|can't|cannot|couldn’t|couldn't|could not) find (?:that|this|the) page",
      "this page (?:does not|doesn’t|doesn't) exist(?: any ?more)?",
      'no such page',
    ),
    'English',
  ),
  sign(
    'not-found',
    'title',
    whole(
      '(?:die )?(?:seite|datei|inhalt|adresse)(?: wurde| ist| konnte)?(?: leider)? nicht ' +
        '(?:gefunden|vorhanden|mehr verfügbar)(?: werden)?',
      'diese seite (?:gibt es|existiert) nicht(?: mehr)?',
      'nicht gefunden',
    ),
    'German',
  ),
  sign(
    'not-found',
    'title',
    whole(
      "(?:la |cette )?page (?:non trouvée|introuvable|n’existe (?:pas|plus)|n'existe (?:pas|plus))",
      '(?:la )?page demandée est introuvable',
      'introuvable',
    ),
    'French',
  ),
  sign(
    'not-found',
    'title',
    whole('(?:a )?página não (?:foi )?encontrada', '(?:esta )?página não existe', 'não encontrad[ao]'),
    'Portuguese',
  ),
  sign(
    'not-found',
    'title',
    whole('(?:la )?página no (?:encontrada|existe|se ha encontrado)', 'no se (?:ha )?encontr(?:ó|ado) la página'),
    'Spanish',
  ),
  sign('not-found', 'title', whole('pagina non trovata', '(?:la )?pagina non esiste'), 'Italian'),
  sign('not-found', 'title', whole('pagina niet gevonden', 'deze pagina bestaat niet(?: meer)?'), 'Dutch'),
  sign('not-found', 'title', whole('sidan (?:hittades inte|finns inte)', 'sidan kunde inte hittas'), 'Swedish'),
  sign(
    'not-found',
    'title',
    whole('siden (?:blev|ble) ikke fundet', 'siden (?:finnes|findes) ikke'),
    'Danish, Norwegian',
  ),
  sign('not-found', 'title', whole('nie znaleziono strony', 'strona nie (?:została znaleziona|istnieje)'), 'Polish'),

  sign(
    'maintenance',
    'title',
    whole(
      '(?:down for |under |scheduled |site )*maintenance(?: mode)?',
      "we(?:’ll|'ll| will| are|’re|'re)? (?:be )?(?:back|right back)(?: (?:soon|shortly|in a moment))?",
      '(?:this |the |our )?(?:site|service|website) is (?:temporarily |currently )?' +
        '(?:down|offline|unavailable|closed)(?: for maintenance)?',
      '(?:temporarily|briefly) (?:unavailable|out of service)',
      'service unavailable',
    ),
    'English',
  ),
  sign(
    'maintenance',
    'title',
    whole(
      'wartungs(?:arbeiten|modus|pause)',
      'wartung',
      'wir sind gleich zurück',
      'vorübergehend nicht (?:erreichbar|verfügbar)',
    ),
    'German',
  ),
  sign(
    'maintenance',
    'title',
    whole(
      '(?:site |page )?en maintenance',
      'maintenance en cours',
      'nous revenons bientôt',
      'momentanément indisponible',
    ),
    'French',
  ),
  sign(
    'maintenance',
    'title',
    whole('em manutenção', '(?:site |página )em manutenção', 'voltamos já', 'temporariamente indisponível'),
    'Portuguese',
  ),
  sign(
    'maintenance',
    'title',
    whole('(?:sitio |página )?en mantenimiento', 'volvemos (?:pronto|enseguida)', 'temporalmente no disponible'),
    'Spanish',
  ),
  sign('maintenance', 'title', whole('(?:sito )?in manutenzione', 'torniamo presto'), 'Italian'),
  sign('maintenance', 'title', whole('(?:in )?onderhoud', 'we zijn zo terug'), 'Dutch'),

  sign(
    'sign-in',
    'title',
    /\b(?:sign|log)[ -]?(?:in|on)\b|\blogin\b|\bauthentication required\b|\bmembers only\b/iu,
    'English',
  ),
  sign('sign-in', 'title', /\banmeld(?:en|ung)\b|\beinloggen\b/iu, 'German'),
  sign('sign-in', 'title', /\bconnexion\b|\bse connecter\b|\bconnectez-vous\b|\bidentifiez-vous\b/iu, 'French'),
  sign(
    'sign-in',
    'title',
    /\biniciar sess(?:ão)|\bentrar\b|\biniciar sesión\b|\bacceso de usuarios\b/iu,
    'Portuguese, Spanish',
  ),
  sign(
    'sign-in',
    'title',
    /\baccedi\b|\binloggen\b|\baanmelden\b|\blogga in\b|\blog ind\b|\blogg inn\b|\bzaloguj\b/iu,
    'Italian, Dutch, Nordic, Polish',
  ),

  sign(
    'ask-access',
    'title',
    whole(
      '(?:you need|request|ask for|no) (?:access|permission)',
      'access required',
      'this (?:document|file|folder) is private',
      'private (?:document|file)',
    ),
    'English',
  ),
  sign(
    'ask-access',
    'title',
    whole(
      'zugriff (?:anfordern|erforderlich)',
      'kein zugriff',
      'demander (?:un )?accès',
      'accès requis',
      'pedir acesso',
      'solicitar acceso',
      'richiedi accesso',
      'toegang vragen',
    ),
    'other languages',
  ),
  sign(
    'ask-access',
    'text',
    /\b(?:ask|request|contact)\b[^.]{0,60}\b(?:for access|owner for access|access from the owner)\b/iu,
    'a button that asks the owner',
  ),

  sign(
    'parked',
    'title',
    whole(
      '(?:this |the )?domain (?:name )?(?:is |may be )?(?:for sale|parked|available)',
      'parked domain',
      'domain parking',
      '[\\p{L}\\p{N}.-]+ (?:is|may be) (?:for sale|parked)',
      'buy this domain',
    ),
    'what sellers call it',
  ),
  sign(
    'parked',
    'text',
    words(
      '(?:this|the) domain (?:name )?(?:is|may be) (?:for sale|parked)',
      'buy this domain',
      'domain is parked',
      'inquire about this domain',
    ),
    'the offer in the text',
  ),
  sign(
    'parked',
    'text',
    words(
      'diese domain (?:steht zum verkauf|kaufen|ist geparkt)',
      'ce (?:nom de )?domaine est à vendre',
      'este domínio está à venda',
      'este dominio está en venta',
    ),
    'other languages',
  ),
  sign('parked', 'resource', /(?:^|\.)(?:domain-?)?(?:parking|parked)\b/iu, 'what parked pages load'),

  sign(
    'challenge',
    'title',
    whole(
      'just a moment',
      'checking your browser',
      'attention required',
      'are you (?:a )?(?:human|robot)',
      'security check',
      'verify you are human',
    ),
    'walls against robots',
  ),
]

const SEPARATORS = /\s+[|–—·•:»«-]\s+|\s*[|•·»]\s*/u

/** The names of the signs a page bears. */
export function signsOf(page: {
  title: string
  heading: string
  text: string
  resources: readonly string[]
}): string[] {
  const parts = [page.title, page.heading, ...page.title.split(SEPARATORS), ...page.heading.split(SEPARATORS)]
    .map((part) => part.trim())
    .filter(Boolean)
  const found = new Set<string>()
  for (const { name, where, pattern } of SIGNS) {
    if (found.has(name)) continue
    const borne =
      where === 'title'
        ? parts.some((part) => pattern.test(part))
        : where === 'text'
          ? pattern.test(page.text)
          : page.resources.some((host) => pattern.test(host))
    if (borne) found.add(name)
  }
  return [...found]
}
