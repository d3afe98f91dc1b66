import { readPage, type Evidence, type Hop, type PageFacts, type VerdictName } from '../../../core/targets'
import { chance } from './moved-site'

/** A page with the verdict its maker meant, as evidence of a check. */
export interface MadeUpPage {
  meant: VerdictName
  language: string
  evidence: Evidence
}

interface Words {
  notFound: string[]
  signIn: string[]
  maintenance: string[]
  access: string[]
  nav: string
  text: string[]
  excuse: string
}

/** What sites say in these languages (common practice, no source). */
const WORDS: Record<string, Words> = {
  en: {
    notFound: ['Page not found', '404', 'Error 404', 'Not found', 'The page you requested could not be found'],
    signIn: ['Sign in', 'Log in', 'Login', 'Members only'],
    maintenance: ['Down for maintenance', 'We’ll be back soon', 'Temporarily unavailable', 'Maintenance'],
    access: ['You need access', 'Request access'],
    nav: 'Home Timetables Fares Help About us Contact News Careers',
    text: [
      'The ferry leaves from the eastern quay every twenty minutes.',
      'Tickets are sold on board and at machines.',
      'In winter the last boat leaves an hour earlier.',
      'Dogs travel free outside the rush hours.',
      'The works at the bridge go on until May.',
      'Lifts are checked each Monday morning.',
    ],
    excuse: 'Perhaps it was moved, or the address was mistyped. Try the search.',
  },
  de: {
    notFound: ['Seite nicht gefunden', 'Fehler 404', 'Diese Seite existiert nicht', 'Die Seite wurde nicht gefunden'],
    signIn: ['Anmelden', 'Anmeldung', 'Login'],
    maintenance: ['Wartungsarbeiten', 'Wir sind gleich zurück', 'Vorübergehend nicht erreichbar'],
    access: ['Zugriff anfordern', 'Kein Zugriff'],
    nav: 'Start Fahrpläne Tarife Hilfe Über uns Kontakt Neues Stellen',
    text: [
      'Die Fähre legt alle zwanzig Minuten am Ostkai ab.',
      'Fahrkarten gibt es an Bord und am Automaten.',
      'Im Winter fährt das letzte Schiff eine Stunde früher.',
      'Hunde fahren außerhalb der Stoßzeiten frei.',
      'Die Arbeiten an der Brücke dauern bis Mai.',
    ],
    excuse: 'Vielleicht wurde sie verschoben, oder die Adresse ist vertippt.',
  },
  fr: {
    notFound: ['Page introuvable', 'Erreur 404', 'Page non trouvée', 'Cette page n’existe pas'],
    signIn: ['Connexion', 'Se connecter', 'Connectez-vous'],
    maintenance: ['Maintenance en cours', 'Nous revenons bientôt', 'Site en maintenance'],
    access: ['Demander accès', 'Accès requis'],
    nav: 'Accueil Horaires Tarifs Aide À propos Contact Actualités Emplois',
    text: [
      'Le bac part du quai est toutes les vingt minutes.',
      'Les billets se vendent à bord et aux distributeurs.',
      'En hiver le dernier bateau part une heure plus tôt.',
      'Les travaux du pont durent jusqu’en mai.',
      'Les chiens voyagent gratuitement hors des heures de pointe.',
    ],
    excuse: 'Elle a peut-être été déplacée, ou l’adresse est mal tapée.',
  },
  pt: {
    notFound: ['Página não encontrada', 'Erro 404', 'A página não foi encontrada', 'Página não existe'],
    signIn: ['Iniciar sessão', 'Entrar'],
    maintenance: ['Em manutenção', 'Voltamos já', 'Site em manutenção'],
    access: ['Pedir acesso'],
    nav: 'Início Horários Tarifas Ajuda Sobre nós Contacto Notícias Empregos',
    text: [
      'O barco parte do cais leste de vinte em vinte minutos.',
      'Os bilhetes vendem-se a bordo e nas máquinas.',
      'No inverno o último barco parte uma hora mais cedo.',
      'As obras da ponte duram até maio.',
      'Os cães viajam grátis fora das horas de ponta.',
    ],
    excuse: 'Talvez tenha mudado de lugar, ou o endereço tenha um erro.',
  },
  es: {
    notFound: ['Página no encontrada', 'Error 404', 'La página no existe', 'No se encontró la página'],
    signIn: ['Iniciar sesión', 'Acceso de usuarios'],
    maintenance: ['En mantenimiento', 'Volvemos pronto', 'Temporalmente no disponible'],
    access: ['Solicitar acceso'],
    nav: 'Inicio Horarios Tarifas Ayuda Nosotros Contacto Noticias Empleo',
    text: [
      'El barco sale del muelle este cada veinte minutos.',
      'Los billetes se venden a bordo y en las máquinas.',
      'En invierno el último barco sale una hora antes.',
      'Las obras del puente duran hasta mayo.',
      'Los perros viajan gratis fuera de las horas punta.',
    ],
    excuse: 'Quizá se movió, o la dirección está mal escrita.',
  },
}

interface Draft {
  title: string
  heading: string
  body: string
  extra?: string
}

/** A site’s frame around its pages; each site has one. */
const TEMPLATES: readonly ((language: string, nav: string, site: string, page: Draft) => string)[] = [
  (language, nav, site, { title, heading, body, extra = '' }) =>
    [
      `<!doctype html><html lang="${language}"><head><title>${title} | ${site}</title></head>`,
      `<body><header><nav>${nav}</nav>${extra}</header><main><h1>${heading}</h1>${body}</main>`,
      `<footer>${site} ${nav}</footer></body></html>`,
    ].join(''),
  (language, nav, site, { title, heading, body, extra = '' }) =>
    [
      `<html lang=${language}><head><meta charset=utf-8><title>${site} - ${title}</title>`,
      `<body><div class=top>${nav}${extra}</div><div class=c><h1>${heading}</h1>${body}</div>`,
      `<div class=b>${site}</div>`,
    ].join(''),
  (language, nav, site, { title, heading, body, extra = '' }) =>
    [
      '<!DOCTYPE html PUBLIC "-//W3C//DTD XHTML 1.0 Strict//EN" ""><html xmlns="http://www.w3.org/1999/xhtml" ',
      `xml:lang="${language}" lang="${language}"><head><title>${title} – ${site}</title><style>body{margin:0}</style>`,
      `</head><body><table><tr><td>${nav}</td><td><h1>${heading}</h1>${body}</td></tr></table>${extra}`,
      '<script>var a = 1;</script></body></html>',
    ].join(''),
  (language, nav, site, { title, heading, body, extra = '' }) =>
    [
      `<!doctype html><html lang="${language}"><head><title>${title}</title></head><body><aside>${nav}</aside>${extra}`,
      `<article><h1>${heading}</h1>${body}</article><footer>© ${site}</footer></body></html>`,
    ].join(''),
]

const paragraphs = (sentences: readonly string[]) => sentences.map((text) => `<p>${text}</p>`).join('')
const form = (word: string) =>
  '<form action="/session" method="post"><label>E-mail <input type="email" name="u"></label><label><input ' +
  `type="password" name="p"></label><button>${word}</button></form>`

/** `count` pages of sites in five languages and four templates, good and bad ones in turn. */
export function madeUpPages(count: number, seed: number): MadeUpPage[] {
  const random = chance(seed)
  const pick = <Item>(items: readonly Item[]) => items[Math.floor(random() * items.length)]!
  const languages = Object.keys(WORDS)
  const makers: readonly [
    VerdictName,
    (words: Words, topic: string) => Draft,
    sibling: 'missing' | 'same' | 'shell',
  ][] = [
    ['sound', (words, topic) => ({ title: topic, heading: topic, body: paragraphs(several(words)) }), 'missing'],
    // A site whose header has a sign-in form of its own.
    [
      'sound',
      (words, topic) => ({
        title: topic,
        heading: topic,
        body: paragraphs([...several(words), ...several(words), ...several(words)]),
        extra: form(pick(words.signIn)),
      }),
      'missing',
    ],
    // A text about error pages is none.
    [
      'sound',
      (words, topic) => ({
        title: `${topic}: ${pick(words.notFound)}?`,
        heading: `${topic}: ${pick(words.notFound)}?`,
        body: paragraphs(several(words)),
      }),
      'missing',
    ],
    // Another page than its neighbour’s error page, which answers 200 as well.
    ['sound', (words, topic) => ({ title: topic, heading: topic, body: paragraphs(several(words)) }), 'shell'],
    [
      'soft-not-found',
      (words) => ({ title: pick(words.notFound), heading: pick(words.notFound), body: paragraphs([words.excuse]) }),
      'missing',
    ],
    // Says nothing of it, but shows the same page for anything.
    [
      'soft-not-found',
      (words) => ({ title: 'Oops', heading: '…', body: paragraphs([words.excuse, words.text[0]!]) }),
      'same',
    ],
    [
      'soft-not-found',
      (words) => ({
        title: pick(words.notFound),
        heading: pick(words.notFound),
        body: paragraphs([words.excuse, ...several(words)]),
      }),
      'same',
    ],
    [
      'sign-in',
      (words) => ({ title: pick(words.signIn), heading: pick(words.signIn), body: form(pick(words.signIn)) }),
      'same',
    ],
    [
      'sign-in',
      (words) => ({ title: pick(words.access), heading: pick(words.access), body: paragraphs([words.excuse]) }),
      'missing',
    ],
    [
      'server-error',
      (words) => ({
        title: pick(words.maintenance),
        heading: pick(words.maintenance),
        body: paragraphs([words.text[4] ?? '']),
      }),
      'same',
    ],
    [
      'parked',
      (_words, topic) => ({
        title: `${topic.toLowerCase().replace(/\W+/g, '-')}.example is for sale`,
        heading: topic,
        body: paragraphs(['This domain is for sale. Inquire about this domain.']),
      }),
      'same',
    ],
  ]
  function several(words: Words): string[] {
    return [...words.text].sort(() => random() - 0.5).slice(0, 3 + Math.floor(random() * 2))
  }
  return Array.from({ length: count }, (_, index) => {
    const [meant, make, beside] = makers[index % makers.length]!
    const language = languages[Math.floor(index / makers.length) % languages.length]!
    const words = WORDS[language]!
    const template = pick(TEMPLATES)
    const site = pick(['Port Ansel Transit', 'Harbour Ferries', 'Tram Museum', 'City of Port Ansel'])
    const topic = `${words.text[index % words.text.length]!.split(' ').slice(1, 4).join(' ')} ${index}`
    const url = `https://site-${index}.example/part/${index}-page`
    const other = `https://site-${index}.example/part/zzqkxwvbnmrtpl`
    const draft = make(words, topic)
    const page = facts(template(language, words.nav, site, draft), url)
    const error: Draft = {
      title: pick(words.notFound),
      heading: pick(words.notFound),
      body: paragraphs([words.excuse]),
    }
    const sibling =
      beside === 'missing'
        ? { url: other, status: 404, final: other, page: facts(template(language, words.nav, site, error), other) }
        : {
            url: other,
            status: 200,
            final: other,
            page: facts(template(language, words.nav, site, beside === 'same' ? draft : error), other),
          }
    return {
      meant,
      language,
      evidence: { destination: url, at: 0, hops: [hop(url)], page, sibling, endless: null },
    }
  })
}

const facts = (html: string, url: string): PageFacts =>
  readPage(html, { url, type: 'text/html', octets: html.length, cut: false }).facts

const hop = (url: string): Hop => ({
  url,
  method: 'GET',
  via: 'request',
  address: '192.0.2.1',
  status: 200,
  location: null,
  milliseconds: 40,
  certificate: null,
  fields: null,
  fault: null,
})
