<script setup lang="ts">
import { onMounted, ref } from 'vue'
import type { Member } from '~~/core/schemas'
import { ROLES, type Role } from '~~/core/schemas/roles'

const settings = useSettingsStore()
const blank = () => ({ name: '', email: '', role: 'editor' as Role, password: '' })
const fields = ref(blank())
const faults = ref<Record<string, string>>({})
onMounted(() => settings.loadMembers().catch(() => undefined))

async function add() {
  faults.value = {}
  try {
    await settings.addMember(fields.value)
    useNotice().tell(`Added ${fields.value.email}`)
    fields.value = blank()
  } catch (error) {
    if (error instanceof ApiProblem)
      faults.value = Object.keys(error.fields).length ? error.fields : { email: error.message }
  }
}
async function change(member: Member, body: object) {
  await settings.changeMember(member, body).catch((error: Error) => {
    useNotice().tell(error.message)
    return settings.loadMembers()
  })
}
</script>

<template>
  <section aria-labelledby="members-title">
    <h2 id="members-title" class="mb-2">Members</h2>
    <ul class="ruled-list">
      <li v-for="member in settings.members" :key="member.id">
        <div class="who">
          <b>{{ member.name }}</b><br /><span class="soft">{{ member.email }}</span>
        </div>
        <VSelect
          :model-value="member.role"
          :items="ROLES"
          :label="`Role of ${member.name}`"
          class="role"
          @update:model-value="change(member, { role: $event })"
        />
        <VBtn variant="text" @click="change(member, { active: !member.active })">{{
          member.active ? 'Switch off' : 'Switch on'
        }}</VBtn>
      </li>
    </ul>
    <form class="add" novalidate @submit.prevent="add">
      <VTextField v-model="fields.name" label="Name" :error-messages="faults.name" />
      <VTextField v-model="fields.email" label="E-mail address" type="email" :error-messages="faults.email" />
      <VSelect v-model="fields.role" :items="ROLES" label="Role" :error-messages="faults.role" />
      <VTextField
        v-model="fields.password"
        label="First password"
        type="password"
        autocomplete="new-password"
        :error-messages="faults.password"
      />
      <VBtn type="submit" height="40">Add member</VBtn>
    </form>
  </section>
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
.add {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(190px, 1fr));
  gap: 10px;
  margin-top: 14px;
}
</style>
