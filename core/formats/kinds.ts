/** The kinds of files that are read, as people call them. */
export const FORMAT_NAMES = {
  csv: 'Table (CSV, tabs)',
  json: 'JSON and JSON Lines',
  apache: 'Apache rules',
  nginx: 'nginx configuration',
  plain: 'Plain list',
  pages: 'HTML redirect pages',
  bookmarks: 'Bookmarks',
  anchors: 'Web page with links',
  sitemap: 'Sitemap',
  text: 'Text with addresses',
} as const
export type FormatId = keyof typeof FORMAT_NAMES
