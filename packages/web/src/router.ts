import { createRouter, createWebHistory } from 'vue-router'
import { prefetchDesign } from './api/client'
import { board } from './engine/board'
import { lanes } from './engine/lanes'
import { lastResult } from './engine/lastResult'
import { stageList } from './stages/list'

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'projects', component: () => import('./pages/ProjectsPage.vue') },
    {
      path: '/designs/:id/:stage?',
      name: 'design',
      component: () => import('./pages/DesignPage.vue'),
      props: true,
      beforeEnter: ({ params }) => ahead(String(params.id), String(params.stage)),
    },
    { path: '/:rest(.*)*', name: 'lost', component: () => import('./pages/LostPage.vue') },
  ],
})

/** Fetches a design, starts what computes it, and fetches its stage's code, while the page's own code is still coming. */
function ahead(design: string, stage: string): void {
  lanes.live.warm()
  void stageList.find((s) => s.id === stage)?.load()
  void prefetchDesign(design).then((answer) => {
    if (!answer.ok) return
    board.ask(answer.value.document, design)
    void lastResult(design).then((last) => last && board.recall(last, design))
  })
}
