import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from './App.vue'
import { keepAssets } from './local/assets'
import { router } from './router'
import './styles/fonts'
import './styles/base.css'
import './styles/grid.css'
import { applyTokens } from './styles/tokens'

applyTokens()
createApp(App).use(createPinia()).use(router).mount('#app')

// Fingers pull what stays pressed for a moment; a quick move scrolls.
if (matchMedia('(any-pointer: coarse)').matches)
  void import('@dragdroptouch/drag-drop-touch').then(({ enableDragDropTouch }) =>
    enableDragDropTouch(document, document, { isPressHoldMode: true }),
  )

// Without one, a reload while the server is away shows the browser's own error page.
if (import.meta.env.PROD && 'serviceWorker' in navigator) {
  void navigator.serviceWorker.register('/offline.js').catch(() => undefined)
  keepAssets()
}
