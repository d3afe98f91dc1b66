/** What a webhook may be told of, each as people call it. */
export const WEBHOOK_WORDS = {
  'case.opened': 'A case opened, or came back',
  'case.settled': 'A case was settled',
  'change.applied': 'A change set for a moment was made',
  'change.held': 'A scheduled change was put on hold',
  'ledger.entry': 'New ledger entry',
} as const
export type WebhookKind = keyof typeof WEBHOOK_WORDS
export const WEBHOOK_KINDS = Object.keys(WEBHOOK_WORDS) as WebhookKind[]
