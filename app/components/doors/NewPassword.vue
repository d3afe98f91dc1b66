<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { MIN_CHARACTERS } from '~~/core/people/limits'
import type { Strength } from '~~/core/people/password-strength'

/** A field for a password that is chosen, with how soon it would be guessed; `about`: what others know of its owner. */
const { about = [], error = '' } = defineProps<{ about?: string[]; error?: string }>()
const password = defineModel<string>({ required: true })
const strength = ref<Strength>()
const WORDS = ['very weak', 'guessed soon', 'fair', 'hard to guess', 'very hard to guess']
// Its dictionaries are large: they come when somebody begins to type.
watch(password, async (typed) => {
  if (typed === '') return (strength.value = undefined)
  const { passwordStrength } = await import('~~/core/people/password-strength')
  if (typed === password.value) strength.value = passwordStrength(typed, about)
})
const hint = computed(() =>
  strength.value
    ? strength.value.refusal || `Strength: ${WORDS[strength.value.score]}.`
    : `At least ${MIN_CHARACTERS} characters, and hard to guess.`,
)
</script>

<template>
  <div>
    <VTextField
      v-model="password"
      label="New password"
      type="password"
      autocomplete="new-password"
      :hint="hint"
      persistent-hint
      :error-messages="error"
    />
    <VProgressLinear
      v-if="strength"
      :model-value="(strength.score + 1) * 20"
      :color="strength.refusal ? 'warning' : 'success'"
      height="4"
      class="mt-1"
      :aria-label="`Strength: ${WORDS[strength.score]}`"
    />
  </div>
</template>
