import '@fontsource-variable/source-sans-3/wght.css'
import './style/components'
import 'element-plus/theme-chalk/dark/css-vars.css'
import './style/tokens.css'
import './style/base.css'
import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from './App.vue'
import { router } from './router'

// Asked for before anything on the page is there to want it: diagrams would be drawn twice.
void document.fonts.load("13px 'Source Sans 3 Variable'")

createApp(App).use(createPinia()).use(router).mount('#app')
