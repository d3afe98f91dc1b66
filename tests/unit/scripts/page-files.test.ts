import { describe, expect, it } from 'vitest'
import { filesOf, importedBy } from '../../../scripts/page-files'

const MANIFEST = {
  entry: { file: 'entry.js', imports: ['_vue.js'], css: ['entry.css'] },
  '_vue.js': { file: 'vue.js' },
  'layouts/default.vue': { file: 'layout.js', imports: ['entry', '_bar.js'], css: ['layout.css'] },
  '_bar.js': { file: 'bar.js', imports: ['layouts/default.vue'], css: ['bar.css', 'layout.css'] },
  'pages/docket.vue': { file: 'docket.js', imports: ['_bar.js', '_gone.js'], css: [] },
  'font.woff2': { file: 'font.woff2' },
}
const entry = importedBy(MANIFEST, ['entry'])

describe('the files of a page', () => {
  it('are what it imports, whoever imports whom, each once and without what the entry brings along', () => {
    expect([...entry]).toEqual(['entry', '_vue.js'])
    expect(filesOf(MANIFEST, ['layouts/default.vue', 'pages/docket.vue'], entry)).toEqual({
      scripts: ['layout.js', 'bar.js', 'docket.js'],
      styles: ['layout.css', 'bar.css'],
    })
  })
  it('are none for a page the build does not know, and only scripts count as scripts', () => {
    expect(filesOf(MANIFEST, ['pages/gone.vue'], entry)).toEqual({ scripts: [], styles: [] })
    expect(filesOf(MANIFEST, ['font.woff2'], entry).scripts).toEqual([])
  })
})
