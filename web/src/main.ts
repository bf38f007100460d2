import { notifyManager, QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { createApp } from 'vue'
import App from './App.vue'
import { startUpdates } from './composables/useUpdate'
import { startNews } from './outbox/news'
import { startOutbox } from './outbox/useOutbox'
import { router } from './router'
import './style.css'

// What has come is shown at once, not after a timer.
notifyManager.setScheduler(queueMicrotask)
const queryClient = new QueryClient({ defaultOptions: { queries: { retry: false, networkMode: 'always' } } })
startNews(queryClient)
startOutbox()

createApp(App).use(router).use(VueQueryPlugin, { queryClient }).mount('#app')

if (import.meta.env.PROD) startUpdates()
