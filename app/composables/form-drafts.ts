/** What somebody typed and did not save: the fields, and the thing as it was when they began. */
interface Draft<Fields, Thing> {
  base: Thing | undefined
  fields: Partial<Fields>
}

const PREFIX = 'fides draft '
// Of one browser tab, so that two of them never mix; and of one member: the next to sign in does not see them.
const keyOf = (name: string) => `${PREFIX}${useSessionStore().session?.member.id ?? 0} ${name}`

/** The draft of that name; none where there is none or it cannot be read. */
export function readDraft<Fields, Thing>(name: string): Draft<Fields, Thing> | undefined {
  try {
    const text = sessionStorage.getItem(keyOf(name))
    return text === null ? undefined : (JSON.parse(text) as Draft<Fields, Thing>)
  } catch {
    return undefined
  }
}

/** Keeps a draft, or forgets it. A browser that keeps nothing loses nothing but the draft. */
export function writeDraft<Fields, Thing>(name: string, draft: Draft<Fields, Thing> | undefined): void {
  try {
    if (draft) sessionStorage.setItem(keyOf(name), JSON.stringify(draft))
    else sessionStorage.removeItem(keyOf(name))
  } catch {
    // The form itself still has what was typed.
  }
}

/** Forgets all drafts of this tab: the next person at the same computer must not see them. */
export function forgetDrafts(): void {
  try {
    for (const key of Object.keys(sessionStorage)) if (key.startsWith(PREFIX)) sessionStorage.removeItem(key)
  } catch {
    // A browser that keeps nothing has nothing to forget.
  }
}
