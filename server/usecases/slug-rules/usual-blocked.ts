import profanity from 'leo-profanity'

/** Words to begin a domain's blocked list with: those of a list that is kept up, one word each. */
export const usualBlocked: readonly string[] = profanity
  .list()
  .filter((word) => /^[a-z]{3,}$/.test(word))
  .sort()
