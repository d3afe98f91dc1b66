import withNuxt from './.nuxt/eslint.config.mjs'
import { REFUSED_WORDS, refusedSource } from './scripts/refused-words.mjs'

// Layout is Prettier's and the arrows between folders are dependency-cruiser's; here is what neither looks at.
const LINE = 120

// docs/words.md: turns that texts for people must not use. A text is a string that has a space and is not SQL; in a
// template, text nodes and the values of plain attributes.
const SQL = '/SELECT|INSERT|UPDATE|DELETE|ALTER|CREATE|VALUES|GROUP BY/'
const isText = `[value=/ /][value!=${SQL}]`
const isPart = `[value.raw=/ /][value.raw!=${SQL}]`
const CODE = '/^(class|id|name|key|to|href|type|rel|d|autocomplete|data-.*)$/'
const refusing = (...places) =>
  REFUSED_WORDS.flatMap(({ pattern, instead }) =>
    places.map((place) => ({
      selector: place.replace('WORDS', `/${refusedSource(pattern)}/i`),
      message: `Write ${instead} (docs/words.md).`,
    })),
  )
const IN_STRINGS = refusing(`Literal[value=WORDS]${isText}`, `TemplateElement[value.raw=WORDS]${isPart}`)

export default withNuxt(
  { ignores: ['dist/**', '.output/**', '.data/**', 'core/address/case-folding-data.ts', 'client/api.ts'] },
  {
    files: ['app/components/**/*.vue', 'app/pages/**/*.vue'],
    rules: {
      'no-restricted-globals': [
        'error',
        { name: 'fetch', message: 'Stores and composables fetch, components do not.' },
      ],
    },
  },
  {
    rules: {
      'vue/html-self-closing': 'off',
      'vue/multi-word-component-names': 'off',
      'vue/singleline-html-element-content-newline': 'off',
      'vue/max-attributes-per-line': 'off',
      'vue/html-indent': 'off',
      'vue/html-closing-bracket-newline': 'off',
      'vue/multiline-html-element-content-newline': 'off',
      'no-console': ['error', { allow: ['error'] }],
    },
  },
  {
    files: ['{app,core,server,gateway,worker,shipper,environment}/**/*.{ts,vue}'],
    // Migrations are SQL; signs are phrases found on destination pages.
    ignores: ['server/database/migrations/**', 'core/targets/signs.ts'],
    rules: { 'no-restricted-syntax': ['error', ...IN_STRINGS] },
  },
  {
    files: ['app/**/*.vue'],
    rules: {
      'vue/no-restricted-syntax': [
        'error',
        ...IN_STRINGS,
        ...refusing(
          'VElement[name!=/^(script|style)$/] > VText[value=WORDS]',
          `VAttribute[directive=false][key.name!=${CODE}] > VLiteral[value=WORDS]`,
        ),
      ],
    },
  },
  // What bursts is split by meaning.
  {
    files: ['**/*.ts', '**/*.mjs'],
    rules: {
      'max-len': ['error', { code: LINE }],
      'max-lines': ['error', 300],
    },
  },
  {
    files: ['**/*.vue'],
    rules: {
      'vue/max-len': ['error', { code: LINE, template: LINE }],
      'max-lines': ['error', 250],
    },
  },
)
