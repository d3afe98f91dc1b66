<script setup lang="ts">
import type { Trace } from '~~/core/schemas'

/** The way past our own answer, hop by hop, and what became of each parameter. */
type Parameter = NonNullable<Trace['onward']>['parameters'][number]
defineProps<{ onward: Trace['onward']; following: boolean; problem: string }>()
const arrival = ({ lostAt, by }: Parameter) =>
  lostAt === null ? 'arrives' : lostAt === 0 ? 'dropped by our own answer' : `lost at hop ${lostAt}, ${by}`
</script>

<template>
  <section v-if="onward || following || problem" class="mt-5" aria-labelledby="onward-title">
    <h2 id="onward-title" class="mb-1">Redirects after ours</h2>
    <p v-if="following" class="soft" role="status">Following redirects, signed out…</p>
    <p v-else-if="problem" class="soft" role="status">Could not follow the redirect. {{ problem }}</p>
    <template v-else-if="onward">
      <p class="mb-1"><StateMark :state="onward.state" /> {{ onward.sentence }}</p>
      <HopLadder :hops="onward.hops" />
      <table v-if="onward.parameters.length > 0" class="parameters mt-3">
        <caption class="soft">
          Parameters on the way
        </caption>
        <tbody>
          <tr v-for="parameter in onward.parameters" :key="parameter.name + parameter.value">
            <th scope="row" class="mono">{{ parameter.name }}={{ parameter.value }}</th>
            <td>
              <StateMark :state="parameter.lostAt === null ? 'sound' : 'doubtful'" />
              {{ arrival(parameter) }}
            </td>
          </tr>
        </tbody>
      </table>
    </template>
  </section>
</template>

<style scoped>
.parameters {
  font-size: 13px;
}
.parameters caption {
  text-align: left;
}
.parameters th {
  padding-right: 16px;
  text-align: left;
  vertical-align: top;
  overflow-wrap: anywhere;
}
.parameters td {
  overflow-wrap: anywhere;
}
</style>
