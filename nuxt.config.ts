import vuetify, { transformAssetUrls } from 'vite-plugin-vuetify'

export default defineNuxtConfig({
  compatibilityDate: '2026-11-01',
  ssr: false,
  devtools: { enabled: false },
  telemetry: false,
  modules: ['@pinia/nuxt', '@vueuse/nuxt', 'nuxt-auth-utils', '@nuxt/eslint'],
  css: [
    'vuetify/styles',
    '@fontsource-variable/atkinson-hyperlegible-next/index.css',
    '@fontsource-variable/atkinson-hyperlegible-mono/index.css',
    '~/assets/fides.css',
  ],
  build: { transpile: ['vuetify'] },
  hooks: {
    'vite:extendConfig'(config) {
      ;(config as { plugins: unknown[] }).plugins.push(vuetify({ autoImport: true }))
    },
  },
  vite: {
    vue: { template: { transformAssetUrls } },
    build: { chunkSizeWarningLimit: 900 },
  },
  components: [{ path: '~/components', pathPrefix: false }],
  eslint: { config: { stylistic: false } },
  app: {
    head: {
      title: 'Fides',
      htmlAttrs: { lang: 'en' },
      meta: [
        { name: 'viewport', content: 'width=device-width, initial-scale=1' },
        { name: 'robots', content: 'noindex' },
      ],
      link: [{ rel: 'icon', type: 'image/svg+xml', href: '/fides.svg' }],
    },
  },
  runtimeConfig: {
    session: {
      maxAge: 60 * 60 * 24 * 7,
      name: 'fides-session',
      password: '',
      cookie: { sameSite: 'lax', httpOnly: true, secure: false },
    },
  },
  routeRules: {
    '/**': {
      headers: {
        'Content-Security-Policy':
          "default-src 'self'; script-src 'self' 'unsafe-inline'; style-src 'self' 'unsafe-inline'; " +
          "img-src 'self' data:; font-src 'self' data:; base-uri 'self'; form-action 'self'; " +
          "frame-ancestors 'none'",
        'X-Content-Type-Options': 'nosniff',
        'Referrer-Policy': 'same-origin',
      },
    },
  },
  nitro: {
    esbuild: { options: { target: 'node20' } },
  },
  typescript: { strict: true },
})
