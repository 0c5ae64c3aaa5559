import '@fontsource/barlow/latin-400.css'
import '@fontsource/barlow/latin-500.css'
import '@fontsource/barlow/latin-600.css'
import '@fontsource/barlow-semi-condensed/latin-400.css'
import '@fontsource/barlow-semi-condensed/latin-500.css'
import '@fontsource/barlow-semi-condensed/latin-600.css'
import 'primeicons/primeicons.css'
import 'virtual:theme/select.css' // it stands there before its script has come; what is ours rules over it
import './app/theme/base.css'
import './app/theme/print.css'
import 'virtual:theme/common.css'
import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { createPinia } from 'pinia'
import PrimeVue from 'primevue/config'
import { createApp } from 'vue'
import { asks } from './api/signedIn'
import { askedAgain, sayUndone, watchAnswers, watchPage } from './api/unsaid'
import App from './app/App.vue'
import { router } from './app/router'
import { readJobAhead } from './job/reading'
import { cleanPastes } from './ui/pasted'
import { reachScrolled } from './ui/scrolled'
import { register } from './vehicle/signal'
import { readYardAhead } from './yard/reading'

/** A page drawn empty and then once more with its jobs takes a slow device longer than waiting for them. */
const LONGEST_MS = 200 // by then they come over a workshop's network, or somebody should see that they do not; our own estimate
let first: Promise<unknown> = Promise.resolve()
if (!asks) {
  const job = /^\/job\/(\d+)(?:\/[a-z]*)?$/.exec(window.location.pathname)?.[1]
  if (job !== undefined) readJobAhead(Number(job))
  else if (window.location.pathname === '/')
    first = Promise.race([readYardAhead(), new Promise((done) => setTimeout(done, LONGEST_MS))])
}
const nonce = document.querySelector<HTMLMetaElement>('meta[name="style-nonce"]')?.content
const queries = new QueryClient({
  defaultOptions: {
    queries: { retry: 1, refetchOnWindowFocus: false, networkMode: 'always', refetchInterval: askedAgain },
  },
})

watchAnswers(queries)
watchPage(window)
cleanPastes(document)
reachScrolled(document)
const app = createApp(App)
app.config.errorHandler = (error) => {
  if (!sayUndone(error)) console.error(error)
}
router.onError((error) => {
  sayUndone(error)
})
app
  .use(createPinia())
  .use(router)
  .use(VueQueryPlugin, { queryClient: queries })
  .use(PrimeVue, { theme: 'none', csp: { nonce } })
void first.then(() => app.mount('#app'))
void register()
