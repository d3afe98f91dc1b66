import { operations } from '../../contract/operations'
import { route } from '../../http/route'

/** A key holds nothing that would have to be escaped. */
export default route(operations.showStopMails, ({ query }) =>
  Promise.resolve(
    '<!doctype html><html lang="en"><meta charset="utf-8"><title>Stop mails</title><meta name="referrer" ' +
      `content="no-referrer"><p><a href="/stop-mails?key=${query.key}">Stop these mails</a></p></html>`,
  ),
)
