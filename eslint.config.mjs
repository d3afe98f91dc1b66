import withNuxt from './.nuxt/eslint.config.mjs'

/** The arrows of the architecture: who may not be imported from where. */
const arrows = (files, forbidden, message) => ({
  files,
  rules: {
    'no-restricted-imports': [
      'error',
      { patterns: [{ regex: `^(?:~~/|(?:\\.\\./)+)(?:${forbidden})(?:/|$)`, message }] },
    ],
  },
})

export default withNuxt(
  { ignores: ['dist/**', '.output/**', '.data/**', 'core/address/case-folding-data.ts'] },
  {
    files: ['core/**/*.ts'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            {
              regex:
                '^(?:~~/|~/|(?:\\.\\./){2,})(?:app|server|gateway|worker|standins|environment|scripts|tests)(?:/|$)',
              message: 'core imports nobody but itself.',
            },
            {
              regex: '^(?:node:|h3$|vue|nuxt|#|sequelize|mariadb|umzug|vuetify|pinia)',
              message: 'core does no I/O and knows no framework.',
            },
          ],
        },
      ],
    },
  },
  arrows(['server/**/*.ts'], 'app|gateway|worker|standins|scripts|tests', 'server → core only.'),
  arrows(['gateway/**/*.ts'], 'app|server|worker|standins|scripts|tests', 'gateway → core only.'),
  arrows(['worker/**/*.ts'], 'app|gateway|standins|scripts|tests', 'worker → server/usecases → core.'),
  arrows(
    ['environment/**/*.ts'],
    'app|server|gateway|worker|standins|scripts|tests|core',
    'environment imports nobody.',
  ),
  arrows(
    ['standins/**/*.ts'],
    'app|server|gateway|worker|environment|scripts|tests|core/(?!dns)',
    'stand-ins know only core/dns.',
  ),
  arrows(
    ['app/**/*.{ts,vue}'],
    'server|gateway|worker|standins|environment|scripts|tests',
    'app → core only; the server is reached through the API.',
  ),
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
      'no-console': ['error', { allow: ['error'] }],
    },
  },
)
