import '@fontsource-variable/archivo/wdth.css'
import '@fontsource-variable/bricolage-grotesque/wdth.css'
import 'vuetify/styles'
import './theme/tokens.css'
import './theme/base.css'
import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from './App.vue'
import { Refusal } from './api/client'
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

createApp(App)
  .use(createPinia())
  .use(VueQueryPlugin, { queryClient: queries })
  .use(makeRouter())
  .use(makeVuetify())
  .mount('#app')
