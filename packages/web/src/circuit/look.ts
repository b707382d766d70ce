import type { ResistorLook } from '@voskel/core'
import { ref } from 'vue'

/** How every drawing shows a resistance; who remembers it sets it. */
export const resistorLook = ref<ResistorLook>('box')
