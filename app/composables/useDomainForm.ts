import { watch } from 'vue'
import { domainPatch, type Domain } from '~~/core/schemas'
import { useVersionedForm } from './useVersionedForm'

/** A form over some fields of the domain in hand; an empty address means none. */
export function useDomainForm<Key extends keyof Domain & string>(keys: readonly Key[]) {
  const store = useDomainStore()
  const pick = (domain: Domain) => Object.fromEntries(keys.map((key) => [key, domain[key]])) as Pick<Domain, Key>
  const form = useVersionedForm<Pick<Domain, Key>, Domain>({
    name: (domain) => `domain ${domain!.id} ${keys[0]}`,
    blank: () => pick(store.domain!),
    fieldsOf: pick,
    body: (fields) =>
      Object.fromEntries(
        Object.entries(fields).map(([key, value]) => [key, /Destination$/.test(key) && value === '' ? null : value]),
      ),
    schema: { change: domainPatch },
    save: (body, _domain, version) => store.save(version, body as Partial<Domain>),
    mergesApart: true,
  })
  form.open(store.domain!)
  // What the watch saw meanwhile is taken over where nothing is typed.
  watch(
    () => store.domain?.version,
    () => store.domain && form.changed.value.length === 0 && form.open(store.domain),
  )
  async function save() {
    if (await form.save()) useNotice().tell('Saved')
  }
  return { ...form, save }
}
