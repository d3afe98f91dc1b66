export { contrastWith } from './contrast'
export { pageSettings, type PageSettings } from './settings'
export { escapeHtml, pageLanguage, visitorPage, type Offer } from './visitor-page'
export { PAGE_KINDS, PAGE_LANGUAGES, WORDS, type PageKind, type PageLanguage } from './words'
