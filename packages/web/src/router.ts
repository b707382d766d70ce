import { createRouter, createWebHistory } from 'vue-router'
import { prefetchDesign } from './api/client'

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'projects', component: () => import('./pages/ProjectsPage.vue') },
    {
      path: '/designs/:id/:stage?',
      name: 'design',
      component: () => import('./pages/DesignPage.vue'),
      props: true,
      // The design is fetched while the page's code is.
      beforeEnter: (to) => prefetchDesign(String(to.params.id)),
    },
    { path: '/:rest(.*)*', name: 'lost', component: () => import('./pages/LostPage.vue') },
  ],
})
