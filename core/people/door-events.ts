/** What is noted of a member's doors, with its words; the owner of the account sees it. */
export const DOOR_EVENTS = {
  'signed-in': { words: 'Signed in', failed: false },
  'wrong-password': { words: 'Failed sign-in: wrong password', failed: true },
  'wrong-factor': { words: 'Failed sign-in: wrong second factor', failed: true },
  'too-many-tries': { words: 'Blocked after too many attempts', failed: true },
  'recovery-used': { words: 'Used a recovery code', failed: false },
  'password-changed': { words: 'Changed the password', failed: false },
  'password-reset': { words: 'Set a password with a one-time link', failed: false },
  'factor-added': { words: 'Added a second factor', failed: false },
  'factor-removed': { words: 'Removed a second factor', failed: false },
  'factors-taken': { words: 'All second factors removed by an administrator', failed: false },
  'session-ended': { words: 'Ended a session', failed: false },
  'role-refused': { words: 'Refused: not allowed for the role', failed: true },
} as const satisfies Record<string, { words: string; failed: boolean }>

export type DoorEventKind = keyof typeof DOOR_EVENTS
