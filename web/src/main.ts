import { PiniaColada, PiniaColadaQueryHooksPlugin } from '@pinia/colada'
import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from './App.vue'
import { showUnanswered } from './api/save'
import { router } from './router'
import './shell/parts'
import './shell/theme'
import './styles/main.scss'

createApp(App)
  .use(createPinia())
  .use(PiniaColada, {
    queryOptions: { staleTime: 30_000 },
    plugins: [PiniaColadaQueryHooksPlugin({ onError: showUnanswered })],
  })
  .use(router)
  .mount('#app')
