<script setup lang="ts">
import type { Token } from '~~/core/schemas'

const { tokens } = defineProps<{ tokens: readonly Token[] }>()
const settings = useSettingsStore()
const { short } = useMoments()
</script>

<template>
  <ul class="ruled-list">
    <li v-for="token in tokens" :key="token.id">
      <b>{{ token.name }}</b>
      <span class="soft"
        ><template v-if="token.member">of {{ token.member }}, </template>{{ token.scope
        }}<template v-if="token.domains.length > 0">, limited to {{ token.domains.join(', ') }}</template
        >, made {{ short(token.createdAt)
        }}<template v-if="token.expiresAt">, until {{ short(token.expiresAt) }}</template
        >, {{ token.lastUsedAt ? `last used ${short(token.lastUsedAt)}` : 'never used' }}</span
      >
      <VSpacer />
      <span v-if="token.revokedAt" class="soft">revoked</span>
      <VBtn
        v-else
        variant="text"
        color="primary"
        :aria-label="`Revoke ${token.name}`"
        @click="settings.revokeToken(token)"
        >Revoke</VBtn
      >
    </li>
  </ul>
</template>

<style scoped>
li {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 2px 8px;
  min-height: 38px;
}
</style>
