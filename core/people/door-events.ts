/** What is noted of a member's doors, with its words; whoever owns the account sees it. */
export const DOOR_EVENTS = {
  'signed-in': { words: 'Signed in', failed: false },
  'wrong-password': { words: 'Tried with a wrong password', failed: true },
  'wrong-factor': { words: 'Gave a wrong second factor', failed: true },
  'too-many-tries': { words: 'Was turned away after too many tries', failed: true },
  'recovery-used': { words: 'Used a recovery code', failed: false },
  'password-changed': { words: 'Changed the password', failed: false },
  'password-reset': { words: 'Chose a password by a one-time address', failed: false },
  'factor-added': { words: 'Added a second factor', failed: false },
  'factor-removed': { words: 'Removed a second factor', failed: false },
  'factors-taken': { words: 'Had all second factors taken away by an administrator', failed: false },
  'session-ended': { words: 'Ended a session', failed: false },
  'role-refused': { words: 'Was refused something the role does not allow', failed: true },
} as const satisfies Record<string, { words: string; failed: boolean }>

export type DoorEventKind = keyof typeof DOOR_EVENTS
