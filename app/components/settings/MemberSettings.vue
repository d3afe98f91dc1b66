<script setup lang="ts">
import { onMounted, ref } from 'vue'
import type { OneTimeAddress } from '~~/core/schemas'
import { ROLES } from '~~/core/schemas/roles'

const settings = useSettingsStore()
const form = useNewMemberForm()
const { fields, faults, fault, saving, resumed } = form
const told = ref<OneTimeAddress & { name: string }>()
onMounted(() => {
  form.open(undefined)
  settings.loadMembers().catch(() => undefined)
})
async function add() {
  const made = await form.save()
  if (!made) return
  told.value = { name: made.name, ...settings.invited! }
  form.open(undefined)
}
</script>

<template>
  <section aria-labelledby="members-title">
    <h2 id="members-title" class="mb-2">Members</h2>
    <ul class="ruled-list">
      <MemberRow v-for="member in settings.members" :key="member.id" :member="member" @address="told = $event" />
    </ul>
    <OneTimeNotice v-if="told" :told="told" class="mt-3" />
    <form class="add" novalidate @submit.prevent="add">
      <VTextField v-model="fields.name" label="Name" :error-messages="faults.name" />
      <VTextField v-model="fields.email" label="E-mail address" type="email" :error-messages="faults.email" />
      <VSelect v-model="fields.role" :items="ROLES" label="Role" :error-messages="faults.role" />
      <VBtn type="submit" height="40" :loading="saving">Invite member</VBtn>
    </form>
    <DraftNotice v-if="resumed" class="mt-2" @discard="form.discard()" />
    <VAlert v-if="fault" type="warning" variant="tonal" density="compact" class="mt-2" role="alert">{{ fault }}</VAlert>
  </section>
</template>

<style scoped>
.add {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(190px, 1fr));
  gap: 10px;
  margin-top: 14px;
}
</style>
