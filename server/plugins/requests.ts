import { requestBegins } from '../usecases/yield-to-event-loop'

/** Counts the requests under way, for which long work stands back. */
export default defineNitroPlugin((nitro) => {
  nitro.hooks.hook('request', ({ node }) => {
    const ends = requestBegins()
    // Comes after an answer as well as after a visitor who went away.
    node.res.once('close', ends)
  })
})
