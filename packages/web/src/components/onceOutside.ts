import { onBeforeUnmount, onMounted, useTemplateRef } from 'vue'

/** Tells when something outside of an element is pressed. @param name the element's ref in the template */
export function onceOutside(name: string, pressed: () => void): void {
  const root = useTemplateRef<HTMLElement>(name)
  const heard = (event: PointerEvent) => {
    if (root.value && !root.value.contains(event.target as Node)) pressed()
  }
  onMounted(() => document.addEventListener('pointerdown', heard, true))
  onBeforeUnmount(() => document.removeEventListener('pointerdown', heard, true))
}
