<script setup lang="ts">
import { ref } from 'vue'
import { toDataURL } from 'qrcode'

const doors = useDoorsStore()
const offer = ref<{ secret: string; address: string }>()
const picture = ref('')
const code = ref('')
const fault = ref('')

async function begin() {
  fault.value = ''
  try {
    offer.value = await doors.offerCode()
    picture.value = await toDataURL(offer.value.address, { margin: 2, width: 200 })
  } catch (error) {
    fault.value = (error as Error).message
  }
}
async function add() {
  fault.value = ''
  try {
    await doors.addCode(code.value)
  } catch (error) {
    fault.value = error instanceof ApiProblem ? (error.fields.code ?? error.message) : String(error)
  }
}
</script>

<template>
  <form v-if="offer" class="offer" novalidate @submit.prevent="add">
    <img :src="picture" width="200" height="200" alt="QR code of the secret below" />
    <div class="d-flex flex-column ga-3 field-column words">
      <p>Read this code with your authenticator, or type its secret:</p>
      <code class="mono secret">{{ offer.secret.match(/.{1,4}/g)!.join(' ') }}</code>
      <VTextField
        v-model="code"
        label="Six-digit code"
        class="mono"
        inputmode="numeric"
        autocomplete="one-time-code"
        :error-messages="fault"
      />
      <div class="d-flex ga-2">
        <VBtn type="submit" color="primary" variant="flat">Activate</VBtn>
        <VBtn @click="offer = undefined">Cancel</VBtn>
      </div>
    </div>
  </form>
  <div v-else>
    <VBtn @click="begin">Add an authenticator</VBtn>
    <p v-if="fault" class="text-broken mt-1" role="alert">{{ fault }}</p>
  </div>
</template>

<style scoped>
.offer {
  display: flex;
  flex-wrap: wrap;
  gap: 16px;
}
.offer img {
  background: #fff;
}
.words {
  flex: 1 1 240px;
}
.secret {
  overflow-wrap: anywhere;
}
</style>
