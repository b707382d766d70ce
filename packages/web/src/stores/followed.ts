import { defineStore } from 'pinia'
import { ref, shallowRef, watch } from 'vue'
import type { Topic } from '../engine/Job'
import { amplifiersTopic } from '../engine/jobs/amplifiers'
import { expectedTopic } from '../engine/jobs/expected'
import { influenceTopic } from '../engine/jobs/influence'
import { lanes } from '../engine/lanes'
import { useDesignStore } from './design'
import type { Design } from '@voskel/core'

/**
 * An answer that follows the open design while somebody looks at it. Several may look at once: it is asked for all of them,
 * since of one topic only the newest question counts.
 */
const followed = <A>(name: string, topic: Topic<Design, A>) =>
  defineStore(name, () => {
    const design = useDesignStore()
    const answer = shallowRef<A | null>(null)
    /** Why there is none. */
    const failure = ref<string | null>(null)
    const looking = ref(0)
    watch([() => looking.value > 0, () => design.document], async ([isLookedAt, document]) => {
      if (!isLookedAt || !document) return
      const outcome = await lanes.trace.ask(topic, document)
      if (document !== design.document || outcome.kind === 'superseded' || outcome.kind === 'stopped') return
      answer.value = outcome.kind === 'done' ? outcome.answer : null
      failure.value = outcome.kind === 'failed' ? `${outcome.failure.message} ${outcome.failure.remedy}` : null
    })

    // Of another design nothing is shown.
    watch(
      () => design.id,
      () => (answer.value = failure.value = null),
    )

    /** Looks at it, until what is returned is called. */
    function look(): () => void {
      looking.value++
      let isOver = false
      return () => {
        if (!isOver) looking.value--
        isOver = true
      }
    }
    return { answer, failure, look }
  })

/** What each part does to each requirement. */
export const useInfluenceStore = followed('influence', influenceTopic)
/** What the circuit has for what was found by hand. */
export const useExpectedStore = followed('expected', expectedTopic)
/** What amplifiers are for, and what they have to be. */
export const useAmplifiersStore = followed('amplifiers', amplifiersTopic)
