// The desk's own, for code that Nuxt would give it to.
export { ApiProblem } from '../../app/composables/useApi'
