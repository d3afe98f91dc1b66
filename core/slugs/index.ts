export { randomSlug, UNMISTAKABLE } from './random'
