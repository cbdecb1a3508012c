import '@fontsource-variable/archivo/wdth.css'
import '@fontsource-variable/bricolage-grotesque/wdth.css'
import 'vuetify/styles/layers'
import 'vuetify/styles/core'
import './theme/tokens.css'
import './theme/base.css'
import './theme/sheet.css'
import './theme/ledger.css'
import './theme/fields.css'
import './theme/tape.css'
import './theme/library.css'
import './theme/print.css'
import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from './App.vue'
import { Refusal } from './api/client'
import { useFooting } from './book/footing'
import { anythingTyped } from './book/leaving'
import { makeRouter } from './router'
import { makeVuetify } from './theme/vuetify'

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 5_000,
      retry: (count, error) => count < 2 && !(error instanceof Refusal && error.status < 500),
    },
  },
})

const pinia = createPinia()

/** An upgrade took the chunk away that a sheet is in: the page is loaded again, unless something typed would be lost. */
let missing = -Infinity
addEventListener('vite:preloadError', (event) => {
  event.preventDefault()
  missing = performance.now()
  const last = Number(sessionStorage.getItem('jarvo-reloaded') ?? 0)
  if (anythingTyped() || Date.now() - last < 20_000)
    useFooting(pinia).notSaved('Jarvo has been updated. Save what you typed, then reload this page.', 'upgrade')
  else {
    sessionStorage.setItem('jarvo-reloaded', String(Date.now()))
    location.reload()
  }
})
/** What nobody expected is said, not swallowed. */
addEventListener('unhandledrejection', (event) => {
  if (performance.now() - missing < 2_000) return // the way to the sheet that is missing: that is said already
  const why = event.reason instanceof Error ? event.reason.message : String(event.reason)
  useFooting(pinia).notSaved(`Something went wrong: ${why}`)
})

createApp(App)
  .use(pinia)
  .use(VueQueryPlugin, { queryClient: queries })
  .use(makeRouter())
  .use(makeVuetify())
  .mount('#app')
