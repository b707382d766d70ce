import { approximation, formatQuantity, type Recognised, RESPONSES, type WhatItIs } from '@voskel/core'
import { defineStore } from 'pinia'
import { ref, shallowRef } from 'vue'
import { whatItIsTopic } from '../engine/jobs/whatItIs'
import { lanes } from '../engine/lanes'
import { useDesignStore } from './design'

/** Kinds of response that no specification has, in words. */
const OTHERS: Readonly<Record<string, string>> = {
  peaking: 'peaking response',
  'low-shelf': 'low shelf',
  'high-shelf': 'high shelf',
  integrator: 'integrator',
  differentiator: 'differentiator',
}

/** What a circuit is, in a line. */
export function whatItIsText({
  response,
  order,
  approximation: family,
  rippleDb,
  attenuationDb,
  cutoffs,
  q,
  gainDb,
}: Recognised): string {
  if (response === null)
    return order === 0 ? 'the same at every frequency' : `no filter that has a name, of order ${order}`
  const kind = (RESPONSES.find((r) => r.id === response)?.name ?? OTHERS[response]!).toLowerCase()
  const named = family === null ? kind : `${approximation(family).name} ${kind}`
  return [
    `${named} of order ${order}`,
    rippleDb !== null && `ripple ${formatQuantity(rippleDb, 'dB', 3)}`,
    attenuationDb !== null && `attenuation ${formatQuantity(attenuationDb, 'dB', 3)}`,
    cutoffs.length > 0 && `cutoff ${cutoffs.map((f) => formatQuantity(f, 'Hz')).join(' and ')}`,
    q !== null && `Q ${formatQuantity(q, '', 3)}`,
    // Rounding is no gain.
    gainDb !== null && `gain ${formatQuantity(Number(gainDb.toFixed(6)) || 0, 'dB', 3)}`,
  ]
    .filter(Boolean)
    .join(', ')
}

/** What the open circuit is, asked when somebody wants to know. */
export const useWhatItIsStore = defineStore('whatItIs', () => {
  const design = useDesignStore()
  const answer = shallowRef<WhatItIs | null>(null)
  /** Why it cannot be said. */
  const failure = ref<string | null>(null)

  /** @returns whether what is known now belongs to the circuit as it stood when it was asked */
  async function ask(): Promise<boolean> {
    const { document } = design
    if (!document) return false
    const outcome = await lanes.trace.ask(whatItIsTopic, document)
    if (outcome.kind === 'superseded' || outcome.kind === 'stopped' || document !== design.document) return false
    answer.value = outcome.kind === 'done' ? outcome.answer : null
    failure.value = outcome.kind === 'failed' ? `${outcome.failure.message} ${outcome.failure.remedy}` : null
    return true
  }

  return { answer, failure, ask }
})
