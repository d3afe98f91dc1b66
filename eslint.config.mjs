import withNuxt from './.nuxt/eslint.config.mjs'

// Layout is Prettier's and the arrows between folders are dependency-cruiser's; here is what neither looks at.
const LINE = 120

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
