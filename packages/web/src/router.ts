import { createRouter, createWebHistory } from 'vue-router'

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'projects', component: () => import('./pages/ProjectsPage.vue') },
    { path: '/designs/:id/:stage?', name: 'design', component: () => import('./pages/DesignPage.vue'), props: true },
    { path: '/:rest(.*)*', name: 'lost', component: () => import('./pages/LostPage.vue') },
  ],
})
