<script setup lang="ts">
import { mdiAccountCircleOutline } from '@mdi/js'
import type { Appearance } from '~/composables/useAppearance'

defineEmits<{ shortcuts: [] }>()
const session = useSessionStore()
const { appearance } = useAppearance()
const choices: { value: Appearance; title: string }[] = [
  { value: 'system', title: 'As the system' },
  { value: 'light', title: 'Light' },
  { value: 'dark', title: 'Dark' },
]

async function signOut() {
  await session.signOut()
  await navigateTo('/sign-in')
}
</script>

<template>
  <VMenu location="bottom end" :close-on-content-click="false">
    <template #activator="{ props }">
      <VBtn
        v-bind="props"
        :icon="mdiAccountCircleOutline"
        variant="text"
        color="on-band"
        height="36"
        width="36"
        aria-label="You and settings"
      />
    </template>
    <VCard min-width="240" class="pa-4">
      <div class="font-weight-bold">{{ session.session?.member.name }}</div>
      <div class="soft mb-4">{{ session.session?.member.email }}, {{ session.session?.member.role }}</div>
      <VSelect v-model="appearance" :items="choices" label="Appearance" class="mb-4" />
      <div class="d-flex flex-wrap ga-2">
        <VBtn to="/settings/account">Your account</VBtn>
        <VBtn to="/settings">Settings</VBtn>
        <VBtn @click="$emit('shortcuts')">Keys</VBtn>
        <VBtn @click="signOut">Sign out</VBtn>
      </div>
    </VCard>
  </VMenu>
</template>
