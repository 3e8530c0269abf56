import { VueQueryPlugin, QueryClient } from '@tanstack/vue-query'
import { createApp } from 'vue'
import { Refused } from './api/client'
import App from './App.vue'
import { router } from './router'
import './style.css'

const queryClient = new QueryClient({
  // What the server answers is looked at, never changed: nothing in it has to be watched.
  defaultOptions: {
    queries: { retry: (_, error) => !(error instanceof Refused), retryDelay: 1000, staleTime: 2000, shallow: true },
  },
})

createApp(App).use(router).use(VueQueryPlugin, { queryClient }).mount('#app')
