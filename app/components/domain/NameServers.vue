<script setup lang="ts">
import type { ObservationsView } from '~~/core/schemas'

/** The zone's name servers as such, whatever records they give: whether they answer, and how new their copy is. */
defineProps<{ observations: ObservationsView }>()
type Server = ObservationsView['nameServers'][number]
const moments = useMoments()

const state = (server: Server) => (server.status !== 'answered' ? 'broken' : server.isBehind ? 'doubtful' : 'sound')
const says = (server: Server) =>
  ({
    answered: `serial ${server.serial}${server.isBehind ? ', behind' : ''}`,
    none: 'has no SOA',
    lame: 'not authoritative for the zone',
    refused: 'refuses',
    failed: 'fails (SERVFAIL)',
    silent: 'no answer',
  })[server.status]

const SIGNING = {
  unsigned: undefined,
  sound: { state: 'sound', sentence: 'DNSSEC: signed, valid.' },
  ending: { state: 'doubtful', sentence: 'DNSSEC: signed; signatures expire soon.' },
  broken: { state: 'broken', sentence: 'DNSSEC: signed, but validating resolvers reject the answers.' },
} as const
</script>

<template>
  <div>
    <ul v-if="observations.nameServers.length > 0" class="servers" aria-label="Name servers of the zone">
      <li v-for="server in observations.nameServers" :key="server.server">
        <StateMark :state="state(server)" />
        <span class="mono name">{{ server.server }}</span>
        <span class="mono soft">{{ server.address }}</span>
        <span>{{ says(server) }}</span>
        <span v-if="state(server) !== 'sound'" class="soft">since {{ moments.short(server.since) }}</span>
      </li>
    </ul>
    <p v-if="observations.signing && SIGNING[observations.signing]" class="mt-1">
      <StateMark :state="SIGNING[observations.signing]!.state" /> {{ SIGNING[observations.signing]!.sentence }}
    </p>
  </div>
</template>

<style scoped>
.servers {
  padding: 0;
  list-style: none;
  font-size: 13px;
}
.servers > li {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 10px;
  align-items: baseline;
  padding: 2px 0;
}
.name {
  overflow-wrap: anywhere;
}
</style>
