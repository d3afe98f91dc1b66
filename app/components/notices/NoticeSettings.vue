<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { LANES, type LaneName } from '~~/core/docket/kinds'

const store = useNoticesStore()
const session = useSessionStore()
const form = useNoticeForm()
const { fields, faults } = form
const problem = ref('')
const about = ref<{ email: string; sends: boolean }>()
const lanes = (Object.keys(LANES) as LaneName[]).map((value) => ({ value, title: LANES[value] }))
const hours = Array.from({ length: 24 }, (_, hour) => ({ value: hour, title: `${String(hour).padStart(2, '0')}:00` }))
const weekdays = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'].map((title, index) => ({
  value: index + 1,
  title,
}))
const digests = [
  { value: 'none', title: 'No digest' },
  { value: 'daily', title: 'Daily' },
  { value: 'weekly', title: 'Every week' },
]
const load = () =>
  store.loadSettings().then(
    (settings) => {
      problem.value = ''
      about.value = settings
      form.open(settings)
    },
    (error: Error) => (problem.value = error.message),
  )
onMounted(load)
async function save() {
  if (await form.save()) useNotice().tell('Saved: notifications')
}
</script>

<template>
  <section aria-labelledby="notices-title">
    <h1 id="notices-title">Notifications</h1>
    <p v-if="about" class="soft mb-3">
      By mail to <span class="mono">{{ about.email }}</span>. Times are those of
      {{ session.session?.organisation.timeZone }}. Cases with the same cause are sent as one message.
    </p>
    <VAlert v-if="about && !about.sends" type="info" variant="tonal" density="compact" class="mb-3">
      E-mail is not configured on this server (FIDES_SMTP_URL). Your choices take effect when the operator sets it up.
    </VAlert>
    <VAlert v-if="problem" type="error" variant="tonal" density="compact"
      >{{ problem }} <VBtn variant="text" @click="load">Try again</VBtn></VAlert
    >
    <form v-else class="field-column" :inert="!about" novalidate @submit.prevent="save">
      <h2>Cases</h2>
      <VSelect v-model="fields.lanes" :items="lanes" label="Lanes" multiple :error-messages="faults.lanes" />
      <div>
        <VSwitch
          v-model="fields.onlyMine"
          density="compact"
          hide-details
          color="primary"
          label="Only my links"
          aria-describedby="only-mine"
        />
        <p id="only-mine" class="soft">Links whose owner matches your name or e-mail address.</p>
      </div>
      <VTextField
        v-model="fields.minVisits"
        inputmode="numeric"
        label="Minimum visits affected per day"
        :error-messages="faults.minVisits"
      />
      <h2>Visits</h2>
      <div>
        <VSwitch
          v-model="fields.report"
          density="compact"
          hide-details
          color="primary"
          label="Weekly traffic report"
          aria-describedby="report-words"
        />
        <p id="report-words" class="soft">
          Sent on Mondays at 07:00: visits, top links, sources and changes, for all links.
        </p>
      </div>
      <h2>Immediate</h2>
      <VSwitch
        v-model="fields.atOnce"
        density="compact"
        hide-details
        color="primary"
        label="Notify me immediately of urgent cases"
      />
      <VTextField
        v-model="fields.atOnceVisits"
        inputmode="numeric"
        label="Urgent from (visits a day)"
        :disabled="!fields.atOnce"
        :error-messages="faults.atOnceVisits"
      />
      <h2>Digest</h2>
      <div class="trio">
        <VSelect v-model="fields.digest" :items="digests" label="Digest" :error-messages="faults.digest" />
        <VSelect
          v-if="fields.digest === 'weekly'"
          v-model="fields.digestWeekday"
          :items="weekdays"
          label="On"
          :error-messages="faults.digestWeekday"
        />
        <VSelect
          v-if="fields.digest !== 'none'"
          v-model="fields.digestHour"
          :items="hours"
          label="At"
          :error-messages="faults.digestHour"
        />
      </div>
      <h2>Quiet hours</h2>
      <div>
        <VSwitch
          v-model="fields.quiet"
          density="compact"
          hide-details
          color="primary"
          label="No mail at some hours"
          aria-describedby="quiet-hours"
        />
        <p id="quiet-hours" class="soft">Messages are sent afterwards, unless the case has been settled.</p>
      </div>
      <div v-if="fields.quiet" class="trio">
        <VSelect v-model="fields.quietFrom" :items="hours" label="From" :error-messages="faults.quietFrom" />
        <VSelect v-model="fields.quietTo" :items="hours" label="To" :error-messages="faults.quietTo" />
      </div>
      <FormFoot :form="form" what="choice of notices" :may-change="true" />
    </form>
  </section>
</template>

<style scoped>
form {
  display: flex;
  flex-direction: column;
  gap: 12px;
  max-width: 560px;
}
h2 {
  margin-top: 8px;
}
.trio {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(140px, 1fr));
  gap: 12px;
}
</style>
