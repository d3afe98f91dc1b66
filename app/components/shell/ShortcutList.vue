<script setup lang="ts">
import { useEventListener } from '@vueuse/core'

const open = defineModel<boolean>({ required: true })
// The dialog itself hears Escape only once it knows that it is on top, a moment after it shows.
useEventListener('keydown', ({ key }: KeyboardEvent) => {
  if (key === 'Escape') open.value = false
})
const KEYS = [
  ['/', 'Address line: find, trace or create'],
  ['n', 'New link'],
  ['j  k', 'Next and previous link or case'],
  ['Enter', 'Open the selected link, or the domain of the case'],
  ['a', 'Apply the selected remedy'],
  ['s', 'Set the selected case aside'],
  ['u', 'Undo what a notice offers to undo; on the docket, your last decision'],
  ['x', 'Select or deselect the current link'],
  ['e', 'Edit the current link'],
  ['t', 'Trace the current link'],
  ['c', 'Copy the link in hand; on Not found, choose what is certain'],
  ['m', 'Morning round, on the docket'],
  ['g then d', 'Docket'],
  ['g then r', 'Register'],
  ['g then o', 'Domains'],
  ['g then t', 'Traffic'],
  ['g then x', 'Exchange'],
  ['g then l', 'Ledger'],
  ['?', 'Show keyboard shortcuts'],
]
</script>

<template>
  <VDialog v-model="open" max-width="420" aria-labelledby="keys-title">
    <VCard class="pa-5">
      <h1 id="keys-title" class="mb-3">Keys</h1>
      <table class="w-100">
        <tbody>
          <tr v-for="[key, what] in KEYS" :key="key">
            <th scope="row" class="text-left mono pr-4 py-1">{{ key }}</th>
            <td>{{ what }}</td>
          </tr>
        </tbody>
      </table>
      <VBtn class="mt-4 align-self-start" @click="open = false">Close</VBtn>
    </VCard>
  </VDialog>
</template>
