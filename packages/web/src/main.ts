import '@fontsource-variable/source-sans-3/wght.css'
import './style/components'
import 'element-plus/theme-chalk/dark/css-vars.css'
import './style/tokens.css'
import './style/base.css'
import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from './App.vue'
import { router } from './router'

createApp(App).use(createPinia()).use(router).mount('#app')
