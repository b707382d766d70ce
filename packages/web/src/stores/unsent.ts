import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { api } from '../api/client'
import { device } from '../document/device'
import type { SetAside } from '../document/keeping'
import { Outbox, type Unsent } from '../document/outbox'

/** What is kept on this device of designs that are not open, on its way to the server. */
export const useUnsentStore = defineStore('unsent', () => {
  const here = device()
  const unsent = shallowRef<readonly Unsent[]>([])
  /** The design that is open: its own saver looks after it. */
  const open = ref<string | null>(null)
  const outbox = new Outbox({
    save: (design, seen, document) => api.saveDesign(design, seen, document),
    read: (design) => api.readDesign(design),
    keeping: here.keeping,
    openTabs: () => here.openTabs(),
    tab: here.tab,
    openDesign: () => open.value,
    announce: (design, revision) => here.tell({ design, revision }),
    changed: (list) => (unsent.value = list),
  })
  /** Why a design's newest state is not on the server, by the design's id. */
  const reasons = computed(() => new Map(unsent.value.map(({ kept, why }) => [kept.design, why])))

  /** Makes a design of its own of what is kept. Returns its id, or why there is none. */
  async function rescue({ kept }: Unsent, project: string) {
    const made = await api.createDesign(project, kept.document!)
    if (made.ok) await drop(kept)
    return made
  }

  /** What was kept on this device and does not read. */
  const aside = shallowRef<readonly SetAside[]>([])

  async function lookAside() {
    aside.value = await here.keeping.aside()
  }

  /** Makes a design of its own of what was set aside. Returns it, or why there is none. */
  async function takeUp(set: SetAside, project: string) {
    const made = await api.createDesign(project, set.design!)
    if (made.ok) await letGo(set)
    return made
  }

  async function letGo(set: SetAside) {
    await here.keeping.letGo(set)
    await lookAside()
  }

  async function drop(kept: Unsent['kept']) {
    await here.keeping.remove(kept)
    await outbox.sweep()
  }

  return {
    unsent,
    reasons,
    open,
    sweep: () => outbox.sweep(),
    leftOf: (design: string) => outbox.leftOf(design),
    rescue,
    drop,
    aside,
    lookAside,
    takeUp,
    letGo,
  }
})
