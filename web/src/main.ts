import { PiniaColada } from '@pinia/colada'
import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from './App.vue'
import { router } from './router'
import './shell/theme'
import './styles/main.scss'

createApp(App)
  .use(createPinia())
  .use(PiniaColada, { queryOptions: { staleTime: 30_000 } })
  .use(router)
  .mount('#app')
