import { createVuetify } from 'vuetify'
import { aliases, mdi } from 'vuetify/iconsets/mdi-svg'

const light = {
  dark: false,
  colors: {
    background: '#F6F3EC',
    surface: '#FFFDF9',
    'surface-variant': '#22252B',
    'on-surface-variant': '#FFFDF9',
    primary: '#6A2C4F',
    'on-primary': '#FFFDF9',
    band: '#6A2C4F',
    'on-band': '#FFFDF9',
    'band-field': '#7F4666',
    'new-link': '#FFFDF9',
    'on-new-link': '#6A2C4F',
    success: '#2E6B4A',
    warning: '#8A5F0B',
    error: '#A92F1B',
    info: '#3D5A73',
    field: '#FFFDF9',
    soft: '#5B606B',
    rule: '#DDD6C8',
    'tint-info': '#E2EAF1',
    'tint-error': '#F7E1DB',
    'tint-warning': '#F7EAD0',
    'tint-success': '#E0EEE5',
    'tint-primary': '#F1E4EB',
    count: '#EAE5DA',
    heavy: '#22252B',
    'on-heavy': '#FFFDF9',
    bars: '#B9A6B0',
    'on-background': '#22252B',
    'on-surface': '#22252B',
  },
  variables: {
    'high-emphasis-opacity': 1,
    'medium-emphasis-opacity': 0.78,
    'border-color': '#DDD6C8',
    'border-opacity': 1,
  },
}

const dark = {
  dark: true,
  colors: {
    background: '#1B1A1D',
    surface: '#232227',
    'surface-variant': '#ECE7DF',
    'on-surface-variant': '#1B1A1D',
    primary: '#DFA3C3',
    'on-primary': '#33111F',
    band: '#4A1F38',
    'on-band': '#FBF3F7',
    'band-field': '#613450',
    'new-link': '#F1DDE7',
    'on-new-link': '#4A1F38',
    success: '#7FC79F',
    warning: '#E0B255',
    error: '#F2917D',
    info: '#9DBCD6',
    field: '#2B2930',
    soft: '#B3ACA4',
    rule: '#3D3A40',
    'tint-info': '#26333F',
    'tint-error': '#472620',
    'tint-warning': '#40341B',
    'tint-success': '#203A2C',
    'tint-primary': '#3B2733',
    count: '#38353C',
    heavy: '#ECE7DF',
    'on-heavy': '#1B1A1D',
    bars: '#7D6774',
    'on-background': '#ECE7DF',
    'on-surface': '#ECE7DF',
  },
  variables: {
    'high-emphasis-opacity': 1,
    'medium-emphasis-opacity': 0.8,
    'border-color': '#3D3A40',
    'border-opacity': 1,
  },
}

/** Fields: the label above, a single rule beneath (see `fides.css`). */
const FIELD = {
  variant: 'underlined',
  density: 'compact',
  active: true,
  hideDetails: 'auto',
  persistentHint: true,
  color: 'primary',
} as const
/** Menus fade in, without a shadow. */
const MENU = { transition: 'fade-transition', contentClass: 'plain-menu' }

export default defineNuxtPlugin((nuxtApp) => {
  nuxtApp.vueApp.use(
    createVuetify({
      icons: { defaultSet: 'mdi', aliases, sets: { mdi } },
      theme: { defaultTheme: 'light', themes: { light, dark } },
      display: { mobileBreakpoint: 1000 },
      defaults: {
        // The theme’s lines are opaque, and this one’s ground is drawn with their strength.
        VProgressLinear: { bgOpacity: 0.2 },
        VBtn: { variant: 'outlined', color: 'on-surface', rounded: 'sm', height: 32, ripple: false },
        VTextField: FIELD,
        VNumberInput: { ...FIELD, controlVariant: 'hidden' },
        VFileInput: { ...FIELD, prependIcon: '' },
        VTextarea: FIELD,
        VSelect: { ...FIELD, menuProps: MENU },
        VCombobox: { ...FIELD, menuProps: MENU },
        VAutocomplete: { ...FIELD, menuProps: MENU },
        VMenu: MENU,
        VRadioGroup: { density: 'compact', hideDetails: 'auto', color: 'primary' },
        VCheckbox: { density: 'compact', hideDetails: 'auto', color: 'primary', ripple: false },
        VRadio: { ripple: false },
        VSwitch: { density: 'compact', hideDetails: 'auto', color: 'primary', inset: true, ripple: false },
        VAlert: { border: 'start', rounded: 0, density: 'compact', variant: 'tonal' },
        VCard: { rounded: 'sm', flat: true, border: true },
        VDialog: { scrim: '#22252B', opacity: 0.4 },
        VNavigationDrawer: { color: 'background', border: true },
        VTooltip: { openDelay: 400 },
      },
    }),
  )
})
