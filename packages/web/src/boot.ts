import { prefetchDesign } from './api/client'
import { lastResult } from './engine/lastResult'
import { startAhead } from './engine/workers'
import { stageList } from './stages/list'

/**
 * Asks at once for all that the first picture needs: the worker that computes, the design, what was last computed of it,
 * and the code of the page and its stage. Whoever wants one of them finds it on its way.
 */
const [, design, stage] = /^\/designs\/([^/]+)(?:\/([^/]+))?/.exec(location.pathname) ?? []
const id = design && decodeURIComponent(design)
if (id) {
  void prefetchDesign(id)
  void lastResult(id)
}
void import('./main')
if (id) {
  void import('./pages/DesignPage.vue')
  void stageList.find((s) => s.id === (stage ?? 'specify'))?.load()
  // Last: it evaluates beside the page's code, which is not to wait for it on the line.
  startAhead('live')
}
