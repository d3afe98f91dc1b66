import { useDebounceFn } from '@vueuse/core'
import { computed, getCurrentScope, onScopeDispose, reactive, ref, watch, type Ref } from 'vue'
import type { z } from 'zod'
import { ApiProblem } from './useApi'
import { useConflicts } from './useConflicts'
import { readDraft, writeDraft } from './form-drafts'

/** What a form is about: something kept under a version. */
interface Versioned {
  version: number
}

export interface FormKind<Fields extends object, Thing extends Versioned> {
  /** Names the draft of a thing, or of one being made. */
  name(thing: Thing | undefined): string
  blank(): Fields
  fieldsOf(thing: Thing): Fields
  /** The fields as the API takes them; those whose value is undefined are not sent. As they are, where not given. */
  body?(fields: Fields, making: boolean): Record<string, unknown>
  /** The schemas form, route and file import share. */
  schema: { make?: z.ZodType; change: z.ZodType }
  save(body: Record<string, unknown>, thing: Thing | undefined, version: number): Promise<Thing>
  /** Everything is sent each time, not only what differs. */
  whole?: boolean
  /** Told of each refusal, after the form has taken from it what it understands. */
  refused?(error: ApiProblem): void
  /** Fields that must not be written down, even in a draft. */
  secret?: readonly (keyof Fields & string)[]
  /** Where somebody else saved other fields only, ours go on top without a question. */
  mergesApart?: boolean
}

/** How long after the last letter what was typed is judged and kept, in milliseconds. */
const PAUSE_MS = 250

const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b)
const copy = <Value>(value: Value): Value => JSON.parse(JSON.stringify(value)) as Value

/**
 * A form over something kept under a version. The shared schema judges what was typed; faults stand at their fields and
 * go when they are mended. What was typed survives Escape, other pages, a reload and an ended session. A save that
 * somebody else's was quicker than shows both versions and goes over it only when told again.
 */
export function useVersionedForm<Fields extends object, Thing extends Versioned>(kind: FormKind<Fields, Thing>) {
  const fields = reactive(kind.blank()) as Fields
  const saving = ref(false)
  const fault = ref('')
  /** The thing as it was opened; undefined while making one. */
  const opened = ref() as Ref<Thing | undefined>
  /** What somebody else saved meanwhile, and must be compared. */
  const meanwhile = ref() as Ref<Thing | undefined>
  /** Whether what is shown was left unsaved earlier. */
  const resumed = ref(false)
  const { conflicts, reason, clear, take } = useConflicts()
  let base = copy(fields) as Fields
  let active = false

  const names = () => Object.keys(fields) as (keyof Fields & string)[]
  const differing = () => names().filter((name) => !same(fields[name], base[name]))
  const changed = computed(() => {
    void opened.value
    return differing()
  })

  // What the schema says of the fields, and what the server said of a value.
  const judged = ref<Record<string, string>>({})
  const refused = ref<Record<string, { detail: string; value: string }>>({})
  const faults = computed(() => ({
    ...judged.value,
    ...Object.fromEntries(
      Object.entries(refused.value)
        .filter(([name, { value }]) => !(name in fields) || value === JSON.stringify(fields[name as keyof Fields]))
        .map(([name, { detail }]) => [name, detail]),
    ),
  }))

  const bodyOf = (of: Fields) => kind.body?.(of, opened.value === undefined) ?? { ...(of as Record<string, unknown>) }
  /** What is sent: everything of something new, of anything else only what differs from it as opened. */
  function sent(): Record<string, unknown> {
    const [now, before] = [bodyOf(fields), bodyOf(base)]
    const body =
      opened.value && !kind.whole
        ? Object.fromEntries(Object.entries(now).filter(([name, value]) => !same(value, before[name])))
        : now
    const input = Object.fromEntries(Object.entries(body).filter(([, value]) => value !== undefined))
    return { ...input, ...(reason.value.trim() && { reason: reason.value.trim() }) }
  }
  /** The schema's first sentence for each field; of those `among`, where given. */
  function judge(among?: readonly string[]): Record<string, string> {
    const schema = opened.value ? kind.schema.change : (kind.schema.make ?? kind.schema.change)
    const checked = schema.safeParse(sent())
    const found: Record<string, string> = {}
    for (const issue of checked.error?.issues ?? []) {
      const name = String(issue.path[0] ?? '')
      if (!among || among.includes(name)) found[name] ??= issue.message
    }
    return found
  }

  const settle = useDebounceFn(() => {
    if (!active) return
    // Of something new, what nobody came to yet is no fault yet.
    judged.value = judge([...differing(), ...Object.keys(judged.value)])
    keepDraft()
  }, PAUSE_MS)
  watch(fields, () => active && void settle(), { deep: true, flush: 'sync' })

  function keepDraft() {
    const kept = differing().filter((name) => !kind.secret?.includes(name))
    const draft = kept.length === 0 ? undefined : { base: opened.value, fields: { ...fields } as Partial<Fields> }
    for (const name of kind.secret ?? []) delete draft?.fields[name]
    writeDraft(kind.name(opened.value), draft)
  }

  /** Begins with a thing, or a blank one; goes on with what was left unsaved of it. */
  function open(thing: Thing | undefined, input: Partial<Fields> = {}) {
    start(thing, { ...kind.blank(), ...input, ...(thing && kind.fieldsOf(thing)) })
    const draft = readDraft<Fields, Thing>(kind.name(thing))
    if (!draft) return
    if (draft.base && thing && draft.base.version !== thing.version) {
      start(draft.base, kind.fieldsOf(draft.base))
      meanwhile.value = thing
    }
    Object.assign(fields, draft.fields)
    resumed.value = true
  }
  function start(thing: Thing | undefined, begin: Fields) {
    opened.value = thing
    meanwhile.value = undefined
    resumed.value = false
    judged.value = {}
    refused.value = {}
    fault.value = ''
    clear()
    reason.value = ''
    base = copy(begin)
    Object.assign(fields, copy(begin))
    hold(true)
  }
  // A session that ends while somebody types is taken up again in place.
  function hold(on: boolean) {
    if (active === on) return
    active = on
    useSessionStore().holdForms(on ? 1 : -1)
  }
  /** Leaves the form; what was typed stays as a draft. */
  function close() {
    if (active) keepDraft()
    hold(false)
  }
  /** Forgets what was typed and begins anew. */
  function discard() {
    writeDraft(kind.name(opened.value), undefined)
    start(meanwhile.value ?? opened.value, meanwhile.value ? kind.fieldsOf(meanwhile.value) : base)
  }
  if (getCurrentScope()) onScopeDispose(close)

  /** Checks and saves; on a refusal everything typed stays, with a sentence at each field. */
  async function save(): Promise<Thing | undefined> {
    fault.value = ''
    refused.value = {}
    judged.value = judge()
    if (Object.keys(judged.value).length > 0) return undefined
    saving.value = true
    try {
      const saved = await send((meanwhile.value ?? opened.value)?.version ?? 0)
      writeDraft(kind.name(opened.value), undefined)
      start(opened.value && saved, kind.fieldsOf(saved))
      return saved
    } catch (error) {
      refuse(error)
      return undefined
    } finally {
      saving.value = false
    }
  }
  async function send(version: number): Promise<Thing> {
    try {
      return await kind.save(sent(), opened.value, version)
    } catch (error) {
      const current = error instanceof ApiProblem && error.status === 412 ? (error.problem.current as Thing) : undefined
      if (!kind.mergesApart || !current) throw error
      const theirs = kind.fieldsOf(current)
      if (differing().some((name) => !same(theirs[name], base[name]))) throw error
      return kind.save(sent(), opened.value, current.version)
    }
  }
  function refuse(error: unknown) {
    if (!(error instanceof ApiProblem)) throw error
    refused.value = Object.fromEntries(
      Object.entries(error.fields).map(([name, detail]) => [
        name,
        { detail, value: JSON.stringify(fields[name as keyof Fields]) },
      ]),
    )
    kind.refused?.(error)
    if (take(error)) return
    if (error.status === 412) meanwhile.value = error.problem.current as Thing
    else if (Object.keys(error.fields).length === 0) fault.value = error.message
  }

  /** Fields in which this form or the other save differs from the thing as opened. */
  const clashes = computed(() => {
    if (!opened.value || !meanwhile.value) return []
    const theirs = kind.fieldsOf(meanwhile.value)
    const text = (value: unknown) =>
      Array.isArray(value) || typeof value !== 'object' ? String(value ?? '') : JSON.stringify(value)
    return names()
      .filter((name) => !same(theirs[name], base[name]) || !same(fields[name], base[name]))
      .map((name) => ({
        name: name as string,
        before: text(base[name]),
        theirs: text(theirs[name]),
        yours: text(fields[name]),
      }))
  })
  /** Takes the other's version as the one opened; what this form changed itself can be typed again. */
  function takeTheirs() {
    const theirs = meanwhile.value!
    writeDraft(kind.name(opened.value), undefined)
    start(theirs, kind.fieldsOf(theirs))
  }
  // What was refused for a conflict may be mended by what is typed now.
  watch(fields, clear, { deep: true })

  return {
    fields,
    faults,
    fault,
    saving,
    changed,
    opened,
    meanwhile,
    clashes,
    resumed,
    conflicts,
    reason,
    open,
    close,
    discard,
    save,
    takeTheirs,
  }
}
