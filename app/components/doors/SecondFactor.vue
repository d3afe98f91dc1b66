<script setup lang="ts">
import { computed, nextTick, onMounted, ref } from 'vue'
import type { Factor } from '~~/core/schemas'

/** Asks for one of the ways to prove who one is; `give` sends it and rejects where it is refused. */
const { needs, give } = defineProps<{ needs: readonly Factor[]; give: (proof: object) => Promise<void> }>()
const WORDS: Record<Exclude<Factor, 'passkey'>, string> = {
  code: 'Six digits from your authenticator',
  recovery: 'Recovery code',
  password: 'Password',
}
const fields = computed(() => needs.filter((need): need is Exclude<Factor, 'passkey'> => need !== 'passkey'))
const chosen = ref<Exclude<Factor, 'passkey'>>()
const kind = computed(() => chosen.value ?? fields.value[0])
const typed = ref('')
const problem = ref('')
const busy = ref(false)
const field = ref<{ focus(): void }>()
onMounted(() => field.value?.focus())

async function send(make: () => Promise<object> | object) {
  busy.value = true
  problem.value = ''
  try {
    await give(await make())
  } catch (error) {
    problem.value =
      error instanceof ApiProblem ? error.message : 'Passkey cancelled. Try again, or choose another method.'
    typed.value = ''
    await nextTick()
    field.value?.focus()
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <form class="d-flex flex-column ga-4 field-column" novalidate @submit.prevent="send(() => ({ [kind!]: typed }))">
    <VAlert v-if="problem" type="error" variant="tonal" density="compact" role="alert">{{ problem }}</VAlert>
    <VBtn
      v-if="needs.includes('passkey')"
      :color="kind ? undefined : 'primary'"
      :variant="kind ? 'outlined' : 'flat'"
      height="40"
      :loading="busy"
      @click="send(async () => ({ passkey: await signWithPasskey() }))"
      >Use a passkey</VBtn
    >
    <template v-if="kind">
      <VTextField
        ref="field"
        v-model="typed"
        :label="WORDS[kind]"
        :type="kind === 'password' ? 'password' : 'text'"
        :inputmode="kind === 'code' ? 'numeric' : undefined"
        :autocomplete="kind === 'code' ? 'one-time-code' : kind === 'password' ? 'current-password' : 'off'"
        :class="{ mono: kind !== 'password' }"
      />
      <VBtn type="submit" color="primary" variant="flat" height="40" :loading="busy">Go on</VBtn>
    </template>
    <div class="d-flex flex-wrap ga-2">
      <VBtn
        v-for="other in fields.filter((each) => each !== kind)"
        :key="other"
        variant="text"
        @click="
          () => {
            chosen = other
            typed = ''
            nextTick(() => field?.focus())
          }
        "
        >{{ other === 'recovery' ? 'Use a recovery code' : WORDS[other] }}</VBtn
      >
    </div>
  </form>
</template>
