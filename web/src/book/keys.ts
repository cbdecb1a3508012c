import { useEventListener, useLocalStorage } from '@vueuse/core'

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

/**
 * Whether letters alone are commands. They are not until a person turns them on: a letter that was meant for a field
 * would do something to what is billed. With Alt held they always are.
 */
export const letterKeys = useLocalStorage('jarvo-letter-keys', false)

/** The letter or sign of a key: by its place on the keyboard where Alt makes another sign of it. */
function signOf(event: KeyboardEvent): string {
  const codes: Record<string, string> = { BracketLeft: '[', BracketRight: ']', Slash: '?' }
  return event.altKey ? (/^Key([A-Z])$/.exec(event.code)?.[1]?.toLowerCase() ?? codes[event.code] ?? '') : event.key
}

/** A letter that is a command, and not typed: with Alt, or alone where that is turned on and no cell has the focus. */
function commandOf(event: KeyboardEvent): string {
  if (event.ctrlKey || event.metaKey || event.defaultPrevented || typing(event)) return ''
  const inCell = (event.target as HTMLElement | null)?.closest?.('td[data-day]')
  return event.altKey || (letterKeys.value && !inCell) ? signOf(event) : ''
}

/** The letter that a key says to the sheet in hand, if it does: not that of a tab after `g`, whoever hears it first. */
export const forSheet = (event: KeyboardEvent): string => (going.now ? '' : commandOf(event))

/** What the keys that work everywhere do. */
export const keysEverywhere: [string, string][] = [
  ['Ctrl K', 'find or do anything'],
  ['Alt G', 'then the letter of a tab'],
  ['Alt J', 'Where'],
  ['Alt [  ]', 'When, earlier or later'],
  ['Ctrl Z  Y', 'undo, do it again'],
  ['F1', 'this card'],
  ['Esc', 'close without a change'],
]

/** The keys that work everywhere. */
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
      if (event.key.toLowerCase() === 'z' && !event.shiftKey) actions.undo()
      else actions.redo()
      return
    }
    if (event.key === 'F1') {
      event.preventDefault()
      actions.keys()
      return
    }
    if (going.now && event.key.length === 1 && !typing(event)) {
      going.now = false
      event.preventDefault()
      actions.go(event.altKey ? signOf(event) : event.key)
      return
    }
    const action = {
      g: () => (going.now = true),
      '[': actions.earlier,
      ']': actions.later,
      j: actions.where,
      '?': actions.keys,
    }[commandOf(event)]
    if (action) {
      event.preventDefault()
      action()
    }
  })
}
