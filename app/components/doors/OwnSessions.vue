<script setup lang="ts">
import { SESSION_IDLE_HOURS, SESSION_WHOLE_DAYS } from '~~/core/people/limits'
import { readDevice } from '~~/core/visits/device'

const doors = useDoorsStore()
const { short } = useMoments()
/** A browser in a few words. */
function inWords(agent: string): string {
  const { browser, system } = readDevice(agent)
  return [browser, system && `on ${system}`].filter(Boolean).join(' ') || agent.slice(0, 60) || 'Unknown browser'
}
async function end(id: number) {
  await doors.endSession(id).catch((error: Error) => useNotice().tell(error.message))
}
</script>

<template>
  <section v-if="doors.doors" aria-labelledby="sessions-title">
    <h2 id="sessions-title" class="mb-1">Sessions</h2>
    <p class="soft mb-2">
      Sessions end after {{ SESSION_IDLE_HOURS }} hours of inactivity, and at most {{ SESSION_WHOLE_DAYS }} days after
      sign-in.
    </p>
    <ul class="ruled-list">
      <li v-for="session in doors.doors.sessions" :key="session.id">
        <b :title="session.agent">{{ inWords(session.agent) }}</b>
        <span class="soft" :title="`Ends ${short(session.idleUntil)} without use, ${short(session.endsAt)} in any case`"
          >since {{ short(session.createdAt) }}, last used {{ short(session.seenAt) }}</span
        >
        <VSpacer />
        <span v-if="session.own" class="soft">current session</span>
        <VBtn
          v-else
          variant="text"
          color="primary"
          :aria-label="`End the session of ${inWords(session.agent)}`"
          @click="end(session.id)"
          >End</VBtn
        >
      </li>
    </ul>
    <h2 class="mt-6 mb-2">Security events</h2>
    <ul class="ruled-list events">
      <li v-for="(event, index) in doors.doors.events" :key="index">
        <span :class="event.failed ? 'text-doubtful' : 'soft'" aria-hidden="true">{{ event.failed ? '◆' : '●' }}</span>
        <span>{{ event.words }}</span>
        <span class="soft"
          >{{ short(event.at) }}, from <span class="mono">{{ event.peer }}</span>, {{ inWords(event.agent) }}</span
        >
      </li>
    </ul>
  </section>
</template>

<style scoped>
li {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 2px 8px;
  min-height: 38px;
}
.events li {
  min-height: 30px;
}
</style>
