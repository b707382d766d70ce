import type { ResistorLook } from '@voskel/core'
import { defineStore } from 'pinia'
import { ref, watch } from 'vue'
import { resistorLook } from '../circuit/look'

export type Appearance = 'light' | 'dark' | 'print'

const KEY = 'voskel.view'

interface Kept {
  appearance?: Appearance
  beside?: string | null
  split?: number
  resistors?: ResistorLook
  reads?: { frequency?: boolean; time?: boolean }
  pinMatches?: Record<string, Record<string, string>>
  compared?: 'responses' | 'circuits'
}

/** What is open and how it looks, remembered on this device. */
export const useViewStore = defineStore('view', () => {
  const kept = read()
  const dark = typeof matchMedia === 'function' && matchMedia('(prefers-color-scheme: dark)').matches
  const appearance = ref<Appearance>(kept.appearance ?? (dark ? 'dark' : 'light'))
  const beside = ref<string | null>(kept.beside ?? null)
  /** Width of the first stage, percent. */
  const split = ref(kept.split ?? 50)
  /** How drawings show a resistance. */
  const resistors = resistorLook
  resistors.value = kept.resistors ?? 'box'
  /** How the pins of blocks were matched with those of the parts that they stand for. */
  const pinMatches = ref(kept.pinMatches ?? {})
  /** Whether what is read off the curves stands beside them. */
  const reads = ref({ frequency: false, time: false, ...kept.reads })
  /** Approximations and orders made by the present family, or all families with the least order of each approximation. */
  const compared = ref(kept.compared ?? 'responses')
  /** Where the cursor of the diagrams stands: Hz or s. */
  const cursor = ref<{ unit: 'Hz' | 's'; at: number } | null>(null)

  const all = [appearance, beside, split, resistors, pinMatches, reads, compared]
  watch(all, () => {
    const value: Kept = {
      appearance: appearance.value,
      beside: beside.value,
      split: split.value,
      resistors: resistors.value,
      pinMatches: pinMatches.value,
      reads: reads.value,
      compared: compared.value,
    }
    try {
      localStorage.setItem(KEY, JSON.stringify(value))
    } catch {
      // Without storage (private windows) the view is simply not remembered.
    }
  })

  function followAppearance() {
    watch(
      appearance,
      (look) => {
        document.documentElement.classList.toggle('dark', look === 'dark')
        document.documentElement.classList.toggle('print-look', look === 'print')
      },
      { immediate: true, flush: 'sync' },
    )
  }

  function nextAppearance() {
    const order: Appearance[] = ['light', 'dark', 'print']
    appearance.value = order[(order.indexOf(appearance.value) + 1) % order.length]!
  }

  return { appearance, beside, split, resistors, pinMatches, reads, compared, cursor, followAppearance, nextAppearance }
})

function read(): Kept {
  try {
    return JSON.parse(localStorage.getItem(KEY) ?? '{}') as Kept
  } catch {
    return {}
  }
}
