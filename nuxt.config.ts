import vuetify, { transformAssetUrls } from 'vite-plugin-vuetify'

export default defineNuxtConfig({
  compatibilityDate: '2026-11-01',
  ssr: false,
  devtools: { enabled: false },
  telemetry: false,
  modules: ['@pinia/nuxt', '@vueuse/nuxt', '@nuxt/eslint'],
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
  routeRules: {
    '/**': {
      headers: {
        // Of pages, server/plugins/policy.ts writes another.
        'Content-Security-Policy': "default-src 'none'; frame-ancestors 'none'",
        'Cross-Origin-Opener-Policy': 'same-origin',
        'Cross-Origin-Resource-Policy': 'same-origin',
        'Permissions-Policy': 'camera=(), geolocation=(), microphone=()',
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
