import { memberCreate, memberPatch, type Member } from '~~/core/schemas'
import { useVersionedForm } from './useVersionedForm'

/** A member to be invited. */
export function useNewMemberForm() {
  const store = useSettingsStore()
  return useVersionedForm<Pick<Member, 'name' | 'email' | 'role'>, Member>({
    name: () => 'new member',
    blank: () => ({ name: '', email: '', role: 'editor' }),
    fieldsOf: ({ name, email, role }) => ({ name, email, role }),
    schema: { make: memberCreate, change: memberPatch },
    save: (body) => store.addMember(body),
  })
}

/** An existing member, whose role and activation can change. */
export function useMemberForm() {
  const store = useSettingsStore()
  return useVersionedForm<Pick<Member, 'role' | 'active'>, Member>({
    name: (member) => `member ${member?.id}`,
    blank: () => ({ role: 'viewer', active: true }),
    fieldsOf: ({ role, active }) => ({ role, active }),
    schema: { change: memberPatch },
    save: (body, member, version) => store.changeMember(member!.id, version, body),
  })
}
