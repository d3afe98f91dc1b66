<script setup lang="ts">
import { watch } from 'vue'
import type { Member, OneTimeAddress } from '~~/core/schemas'
import { ROLES } from '~~/core/schemas/roles'

const { member } = defineProps<{ member: Member }>()
const emit = defineEmits<{ address: [told: OneTimeAddress & { name: string }] }>()
const doors = useDoorsStore()
const settings = useSettingsStore()
const form = useMemberForm()
const { fields, faults, fault, meanwhile, clashes } = form
watch(
  () => member.version,
  () => form.open(member),
  { immediate: true },
)
/** What is chosen is saved at once; what is refused is told here and goes back. */
async function choose(more: Partial<typeof fields>) {
  Object.assign(fields, more)
  if ((await form.save()) || meanwhile.value) return
  const told = Object.values(faults.value)[0] ?? fault.value
  form.discard()
  useNotice().tell(told)
}
async function readdress() {
  try {
    emit('address', { name: member.name, ...(await doors.readdress(member.id)) })
  } catch (error) {
    useNotice().tell((error as Error).message)
  }
}
async function takeFactors() {
  try {
    await doors.takeFactors(member.id)
    await settings.loadMembers()
    useNotice().tell(`${member.name} has no second factor now and is signed out`)
  } catch (error) {
    useNotice().tell((error as Error).message)
  }
}
</script>

<template>
  <li>
    <div class="who">
      <b>{{ member.name }}</b><br /><span class="soft"
        >{{ member.email }},
        {{ member.joined ? (member.secondFactor ? 'with second factor' : 'no second factor') : 'invited' }}</span
      >
    </div>
    <VSelect
      :model-value="fields.role"
      :items="ROLES"
      :label="`Role of ${member.name}`"
      class="role"
      @update:model-value="choose({ role: $event })"
    />
    <VBtn variant="text" @click="choose({ active: !fields.active })">{{
      fields.active ? 'Deactivate' : 'Activate'
    }}</VBtn>
    <VBtn v-if="fields.active" variant="text" @click="readdress">Create one-time link</VBtn>
    <VBtn v-if="member.secondFactor" variant="text" @click="takeFactors">Remove second factor</VBtn>
    <div v-if="meanwhile" class="both">
      <MeanwhileNotice what="member" :clashes="clashes" @theirs="form.takeTheirs()" />
      <VBtn class="mt-2" @click="choose({})">Save mine over it</VBtn>
    </div>
  </li>
</template>

<style scoped>
li {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 10px;
  padding: 8px 0;
}
.who {
  flex: 1 1 220px;
}
.role {
  flex: 0 0 190px;
}
.both {
  flex: 1 0 100%;
}
</style>
