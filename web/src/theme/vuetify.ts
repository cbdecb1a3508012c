import { mdiCheck, mdiMenuDown } from '@mdi/js'
import { createVuetify } from 'vuetify'
import { mdi } from 'vuetify/iconsets/mdi-svg'

/** The component library with our tokens; every sheet has the look from here. */
export function makeVuetify() {
  const nonce = document.querySelector<HTMLMetaElement>('meta[name=csp-nonce]')?.content ?? ''
  return createVuetify({
    theme: {
      cspNonce: nonce,
      defaultTheme: 'light',
      themes: {
        light: { colors: { primary: '#2f4575', surface: '#fffdf8', background: '#e8e2d4', error: '#a23b28' } },
        dark: {
          dark: true,
          colors: { primary: '#9db3e0', surface: '#22211d', background: '#171612', error: '#f0937c' },
        },
      },
    },
    // The icons of the components that are used, and no others.
    icons: {
      defaultSet: 'mdi',
      aliases: { dropdown: `svg:${mdiMenuDown}`, complete: `svg:${mdiCheck}` },
      sets: { mdi },
    },
    defaults: {
      global: { ripple: false },
      VBtn: { variant: 'outlined', elevation: 0 },
      VAutocomplete: {
        variant: 'underlined',
        density: 'compact',
        hideDetails: true,
        autoSelectFirst: true,
        menuProps: { maxHeight: 320 },
      },
    },
  })
}
