import { operations } from '../../../contract/operations'
import { enforceTokenScope } from '../../../http/token-scope'
import { asProblem, problemDetails } from '../../../http/problem-details'
import { route } from '../../../http/route'
import { makeOrChangeLinks } from '../../../usecases/links/make-or-change-links'

export default route(operations.makeOrChangeLinks, ({ db, actor, body }) =>
  makeOrChangeLinks(db, actor, body, {
    refuse: async (row) => {
      if (actor.domains?.length)
        await enforceTokenScope(db, row.id === 0 ? 'body' : 'link', actor.domains, { ...row, query: {} })
    },
    tell: (error) => problemDetails(asProblem(error)),
  }),
)
