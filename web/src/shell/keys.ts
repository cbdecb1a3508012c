import { useEventListener } from '@vueuse/core'

interface Actions {
  find: () => void
  keys: () => void
  go: (letter: string) => void
  earlier: () => void
  later: () => void
  where: () => void
  escape: () => void
}

/** Whether the key goes into a field rather than to the sheet. */
export function typing(event: KeyboardEvent): boolean {
  const on = event.target as HTMLElement | null
  return !!on?.closest('input:not([type=checkbox]), textarea, select, [contenteditable], [role=combobox], .v-overlay')
}

/** The keys that work everywhere; letters only while nothing is typed into. */
export function useKeys(actions: Actions) {
  let going = false
  useEventListener(window, 'keydown', (event: KeyboardEvent) => {
    if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'k') {
      event.preventDefault()
      actions.find()
      return
    }
    if (event.key === 'Escape') actions.escape()
    if (event.ctrlKey || event.metaKey || event.altKey || typing(event)) return
    if (going) {
      going = false
      actions.go(event.key)
      return
    }
    const action = {
      g: () => (going = true),
      '[': actions.earlier,
      ']': actions.later,
      j: actions.where,
      '?': actions.keys,
    }[event.key]
    if (action) {
      event.preventDefault()
      action()
    }
  })
}
