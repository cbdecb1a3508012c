import { useEventListener } from '@vueuse/core'

const unsaved = new Set<() => boolean>()

/** Has the browser ask before the window is closed while something typed has not been saved. The result ends that. */
export function leaving(typed: () => boolean): () => void {
  unsaved.add(typed)
  return () => void unsaved.delete(typed)
}

/** Whether anything that was typed in this window has not been saved. */
export const anythingTyped = () => [...unsaved].some((typed) => typed())

/** Asks before the window is closed, for as long as the window is there. */
export function useLeaving() {
  useEventListener(window, 'beforeunload', (event) => {
    if (anythingTyped()) event.preventDefault()
  })
}
