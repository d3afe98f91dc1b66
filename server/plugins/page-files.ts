import files, { fonts } from '#page-files'

const pages = files.map(({ path, scripts, styles }) => ({
  path: new RegExp(path),
  links: [
    ...fonts.map((file) => `<link rel="preload" as="font" type="font/woff2" crossorigin href="/_nuxt/${file}">`),
    ...styles.map((file) => `<link rel="stylesheet" href="/_nuxt/${file}" crossorigin>`),
    ...scripts.map((file) => `<link rel="modulepreload" as="script" crossorigin href="/_nuxt/${file}">`),
  ].join(''),
}))

/**
 * A page names the files it needs itself, so that they are fetched at once, not one after the other as scripts come to
 * import them; and it is drawn with all its styles from the beginning, so that nothing jumps when they arrive.
 */
export default defineNitroPlugin((nitro) => {
  nitro.hooks.hook('render:html', (html, { event }) => {
    const path = event.path.split('?')[0]!
    const page = pages.find((one) => one.path.test(path))
    // The sign-in form needs no script and no style of a page.
    if (page && path !== '/sign-in') html.head.push(page.links)
  })
})
