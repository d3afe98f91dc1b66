import { createVuetify } from 'vuetify'
import { aliases, mdi } from 'vuetify/iconsets/mdi-svg'
export default defineNuxtPlugin((nuxtApp) => {
  nuxtApp.vueApp.use(createVuetify({ icons: { defaultSet: 'mdi', aliases, sets: { mdi } } }))
})
