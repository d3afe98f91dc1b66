import { filesOf, importedBy, type PageFiles } from './scripts/page-files'
import vuetify, { transformAssetUrls } from 'vite-plugin-vuetify'

/** The desk’s pages by their paths as expressions, as Nuxt finds them; the server answers 404 for all other paths. */
const pages: { path: string; file: string }[] = []
/** What each of them needs, as the build finds it. */
const pageFiles: PageFiles[] = []
/** The fonts of the first view. */
const fonts: string[] = []
const FIRST_FONTS = /-latin-wght-normal\..*woff2$/

/** The pages of the sections that are used all day. */
const SECTIONS = /pages\/(?:docket|register|links\/\[id\]|domains\/index|traffic|ledger|misses)\.vue$/

/** Vuetify’s components that nearly every page uses, as one file. */
const COMMON_PARTS = new RegExp(
  'node_modules/vuetify/lib/components/V(?:Alert|App|Avatar|Badge|Btn|Card|Checkbox|Chip|Counter|Defaults|Dialog|' +
    'Divider|Field|Form|Grid|Icon|Img|Input|Label|Layout|List|Main|Menu|Messages|NavigationDrawer|Overlay|Progress|' +
    'Select|SlideGroup|Snackbar|TextField|Tooltip|VirtualScroll)',
)

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
    'pages:extend'(found) {
      pages.length = 0
      for (const { path, file = '' } of found)
        if (!path.includes('(.*)'))
          pages.push({
            path: `^${path.replace(/:\w+\(\)/g, '[^/]+').replace(/\/$/, '')}/?$`,
            file: file.slice(file.lastIndexOf('/pages/') + 1),
          })
    },
    'build:manifest'(manifest) {
      const entry = importedBy(
        manifest,
        Object.keys(manifest).filter((key) => manifest[key]!.isEntry),
      )
      pageFiles.length = 0
      fonts.length = 0
      for (const key of entry) fonts.push(...(manifest[key]!.assets ?? []).filter((file) => FIRST_FONTS.test(file)))
      for (const { path, file } of pages)
        pageFiles.push({ path, ...filesOf(manifest, ['layouts/default.vue', file], entry) })
      // The sections people use all day are fetched ahead, with what they import; all else when it is needed.
      const sections = pages.filter(({ file }) => SECTIONS.test(file)).map(({ file }) => file)
      const { scripts, styles } = filesOf(manifest, sections, entry)
      const ahead = new Set([...scripts, ...styles])
      for (const item of Object.values(manifest)) item.prefetch = ahead.has(item.file)
    },
    'vite:extendConfig'(config) {
      ;(config as { plugins: unknown[] }).plugins.push(vuetify({ autoImport: true }))
    },
  },
  vite: {
    vue: { template: { transformAssetUrls } },
    build: {
      chunkSizeWarningLimit: 900,
      // Parts that nearly every page uses are one file: many small ones would be a request each.
      rollupOptions: { output: { manualChunks: (id: string) => (COMMON_PARTS.test(id) ? 'parts' : undefined) } },
    },
  },
  // A page behind a link is loaded when a pointer or the focus comes to it, not because the link can be seen: that ran
  // the code of every section before the first view was there.
  experimental: { defaults: { nuxtLink: { prefetchOn: { visibility: false, interaction: true } } } },
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
    virtual: {
      '#page-paths': () => `export default ${JSON.stringify(pages.map(({ path }) => path))}`,
      '#page-files': () => `export const fonts = ${JSON.stringify(fonts)}\nexport default ${JSON.stringify(pageFiles)}`,
    },
    esbuild: { options: { target: 'node20' } },
    // Scripts and styles are compressed once, when they are built.
    compressPublicAssets: { brotli: true, gzip: true },
  },
  typescript: { strict: true },
})
