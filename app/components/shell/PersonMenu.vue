<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Appearance } from '~/composables/useAppearance'

const emit = defineEmits<{ shortcuts: [] }>()
const session = useSessionStore()
const { appearance } = useAppearance()
const isOpen = ref(false)
const choices: { value: Appearance; title: string }[] = [
  { value: 'system', title: 'System' },
  { value: 'light', title: 'Light' },
  { value: 'dark', title: 'Dark' },
]
const initials = computed(() =>
  (session.session?.member.name ?? '')
    .split(/\s+/)
    .map((word) => Array.from(word)[0] ?? '')
    .filter((_, index, all) => index === 0 || index === all.length - 1)
    .join('')
    .toUpperCase(),
)

async function signOut() {
  await session.signOut()
  await navigateTo('/sign-in')
}
function keys() {
  isOpen.value = false
  emit('shortcuts')
}
</script>

<template>
  <VMenu v-model="isOpen" location="bottom end" :close-on-content-click="false">
    <template #activator="{ props }">
      <button v-bind="props" type="button" class="person" aria-label="Account and settings">{{ initials }}</button>
    </template>
    <VCard min-width="220" class="menu">
      <p class="who">
        <b>{{ session.session?.member.name }}</b><br /><span class="soft"
          >{{ session.session?.member.email }}, {{ session.session?.member.role }}</span
        >
      </p>
      <NuxtLink to="/settings/account" class="entry" @click="isOpen = false">Sign-in and security</NuxtLink>
      <NuxtLink to="/settings/notices" class="entry" @click="isOpen = false">Notifications</NuxtLink>
      <NuxtLink to="/settings" class="entry" @click="isOpen = false">Settings</NuxtLink>
      <button type="button" class="entry" @click="keys">Keyboard shortcuts</button>
      <fieldset class="appearance">
        <legend class="soft">Appearance</legend>
        <label v-for="{ value, title } in choices" :key="value" :class="{ on: appearance === value }">
          <input v-model="appearance" type="radio" name="appearance" :value="value" class="visually-hidden" />{{
            title
          }}
        </label>
      </fieldset>
      <button type="button" class="entry" @click="signOut">Sign out</button>
    </VCard>
  </VMenu>
</template>

<style scoped>
.person {
  flex: none;
  width: 36px;
  height: 36px;
  border: 1px solid rgba(var(--v-theme-on-band), 0.45);
  border-radius: 2px;
  color: rgb(var(--v-theme-on-band));
  font-size: 13px;
  font-weight: 700;
}
.who {
  padding: 12px 16px;
  border-bottom: 1px solid rgb(var(--v-theme-rule));
}
.entry {
  display: flex;
  align-items: center;
  width: 100%;
  min-height: 36px;
  padding: 0 16px;
  color: inherit;
  text-align: left;
  text-decoration: none;
}
.entry:hover {
  background: rgb(var(--v-theme-background));
}
.appearance {
  display: flex;
  flex-wrap: wrap;
  gap: 0;
  margin: 6px 16px 8px;
  border: 0;
}
.appearance legend {
  padding: 0;
  font-size: 12px;
}
.appearance label {
  padding: 3px 10px;
  border: 1px solid rgb(var(--v-theme-rule));
  margin-right: -1px;
  cursor: pointer;
}
.appearance label:focus-within {
  outline: 2px solid rgb(var(--v-theme-primary));
}
.appearance .on {
  background: rgb(var(--v-theme-tint-primary));
  font-weight: 700;
}
@media (max-width: 699px) {
  .person {
    width: 44px;
    height: 44px;
  }
  .entry,
  .appearance label {
    min-height: 44px;
  }
}
</style>
