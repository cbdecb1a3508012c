import { useEventListener } from '@vueuse/core'
import { shallowRef } from 'vue'

const unsaved = new Set<() => boolean>()

/** Has the browser ask before the window is closed while something typed has not been saved. The result ends that. */
export function leaving(typed: () => boolean): () => void {
  unsaved.add(typed)
  return () => void unsaved.delete(typed)
}

/** Whether anything that was typed in this window has not been saved. */
export const anythingTyped = () => [...unsaved].some((typed) => typed())

/** Answers the question whether what was typed may be discarded, while it is asked. */
export const asked = shallowRef<(discard: boolean) => void>()

/** Whether to go on: at once where nothing that was typed would be lost, else as the person decides. */
export function mayDiscard(typed: () => boolean = anythingTyped): Promise<boolean> {
  asked.value?.(false)
  if (!typed()) return Promise.resolve(true)
  return new Promise((decided) => {
    asked.value = (discard) => {
      asked.value = undefined
      decided(discard)
    }
  })
}

/** Asks before the window is closed, for as long as the window is there. */
export function useLeaving() {
  useEventListener(window, 'beforeunload', (event) => {
    if (anythingTyped()) event.preventDefault()
  })
}
