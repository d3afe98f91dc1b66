/** The kinds of files that are read, as people call them. */
export const FORMAT_NAMES = {
  csv: 'Table (CSV, tabs)',
  json: 'JSON and JSON Lines',
  apache: 'Apache rules',
  nginx: 'nginx configuration',
  plain: 'Plain list',
  pages: 'Static pages',
  bookmarks: 'Bookmarks',
  anchors: 'Page full of links',
  sitemap: 'Sitemap',
  text: 'Text with addresses',
} as const
export type FormatId = keyof typeof FORMAT_NAMES
