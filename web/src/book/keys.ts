import { useEventListener } from '@vueuse/core'

interface Actions {
  find: () => void
  keys: () => void
  go: (letter: string) => void
  earlier: () => void
  later: () => void
  where: () => void
  escape: () => void
  undo: () => void
  redo: () => void
}

/** Whether the key goes into a field rather than to the sheet. */
export function typing(event: KeyboardEvent): boolean {
  const on = event.target as HTMLElement | null
  return !!on?.closest('input:not([type=checkbox]), textarea, select, [contenteditable], [role=combobox], .v-overlay')
}

/** `g` was pressed, and the next letter names a tab. */
export const going = { now: false }

/** Whether a key is meant for the sheet: alone, into no field, and not the letter of a tab after `g`, whoever hears it first. */
export function forSheet(event: KeyboardEvent): boolean {
  const alone = !event.ctrlKey && !event.metaKey && !event.altKey
  return alone && !event.defaultPrevented && !going.now && !typing(event)
}

/** The keys that work everywhere; letters only while nothing is typed into. */
export function useKeys(actions: Actions) {
  useEventListener(window, 'keydown', (event: KeyboardEvent) => {
    if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'k') {
      event.preventDefault()
      actions.find()
      return
    }
    if (event.key === 'Escape') actions.escape()
    if ((event.ctrlKey || event.metaKey) && !typing(event) && ['z', 'y'].includes(event.key.toLowerCase())) {
      event.preventDefault()
      if (event.key === 'z') actions.undo()
      else actions.redo()
      return
    }
    if (event.ctrlKey || event.metaKey || event.altKey || typing(event)) return
    if (going.now) {
      going.now = false
      event.preventDefault()
      actions.go(event.key)
      return
    }
    const action = {
      g: () => (going.now = true),
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
