<script setup lang="ts">
import { computed, onUnmounted, ref } from 'vue'

const doors = useDoorsStore()
const { short } = useMoments()
const name = ref('')
const fault = ref('')
const guarded = computed(() => doors.doors !== undefined && (doors.doors.code || doors.doors.passkeys.length > 0))
const host = location.hostname
// Shown once: they are not shown again when the page is reopened.
onUnmounted(() => (doors.recoveryCodes = []))

/** Does something; what is refused, or given up in the browser's own window, is told here. */
async function act(work: () => Promise<unknown>) {
  fault.value = ''
  try {
    await work()
  } catch (error) {
    fault.value = error instanceof ApiProblem ? error.message : 'No passkey was made.'
  }
}
const addPasskey = () =>
  act(async () => {
    await doors.addPasskey(name.value.trim() || 'Passkey')
    name.value = ''
  })
</script>

<template>
  <section v-if="doors.doors" aria-labelledby="factors-title">
    <h2 id="factors-title" class="mb-1">Second factor</h2>
    <p class="soft mb-3">
      {{
        guarded
          ? 'Required at sign-in and before you change members, tokens or keys.'
          : 'Not set up. Your password alone gives access. Add a passkey or an authenticator.'
      }}
    </p>
    <VAlert v-if="fault" type="warning" variant="tonal" density="compact" class="mb-3" role="alert">{{ fault }}</VAlert>
    <RecoveryCodes :codes="doors.recoveryCodes" class="mb-3" />
    <ul v-if="guarded" class="ruled-list">
      <li v-for="passkey in doors.doors.passkeys" :key="passkey.id">
        <b>{{ passkey.name }}</b>
        <span class="soft"
          >passkey, made {{ short(passkey.createdAt) }},
          {{ passkey.usedAt ? `last used ${short(passkey.usedAt)}` : 'not used yet' }}</span
        >
        <VSpacer />
        <VBtn
          variant="text"
          color="primary"
          :aria-label="`Remove ${passkey.name}`"
          @click="act(() => doors.removePasskey(passkey.id))"
          >Remove</VBtn
        >
      </li>
      <li v-if="doors.doors.code">
        <b>Authenticator</b> <span class="soft">time codes</span>
        <VSpacer />
        <VBtn variant="text" color="primary" aria-label="Remove authenticator" @click="act(doors.removeCode)"
          >Remove</VBtn
        >
      </li>
      <li>
        <b>Recovery codes</b> <span class="soft">{{ doors.doors.recoveryCodes }} left</span>
        <VSpacer />
        <VBtn variant="text" color="primary" @click="act(doors.makeRecoveryCodes)">Make new ones</VBtn>
      </li>
    </ul>
    <div class="d-flex flex-wrap ga-4 mt-3 align-start">
      <form v-if="passkeysPossible()" class="passkey" novalidate @submit.prevent="addPasskey">
        <VTextField v-model="name" label="Device name" placeholder="This computer" />
        <VBtn type="submit" height="40">Add a passkey</VBtn>
      </form>
      <p v-else class="soft">
        Passkeys need HTTPS and a host name; <span class="mono">{{ host }}</span> cannot have them.
      </p>
      <AuthenticatorForm v-if="!doors.doors.code" />
    </div>
  </section>
</template>

<style scoped>
li {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px;
  min-height: 38px;
}
.passkey {
  display: flex;
  flex-wrap: wrap;
  align-items: flex-end;
  gap: 8px;
}
.passkey .v-input {
  min-width: 220px;
}
</style>
