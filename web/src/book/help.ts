import { onBeforeUnmount, shallowReactive } from 'vue'
import { useEventListener } from '@vueuse/core'
import { forSheet } from './keys'

/** A key, and what it does. */
export type Key = [key: string, does: string]

/** The keys there are, by where they work: the card of keys is made of them. */
export const keysThere = shallowReactive(new Map<symbol, { title: string; keys: Key[] }>())

/** Tells of keys that work as long as what calls this is on the screen. */
export function useHelp(title: string, keys: Key[]) {
  const mine = Symbol(title)
  keysThere.set(mine, { title, keys })
  onBeforeUnmount(() => keysThere.delete(mine))
}

/** A letter that the sheet in hand takes: with Alt, or alone where a person turned that on. */
export interface Letter {
  does: string
  act: (event: KeyboardEvent) => unknown
  /** Whether there is anything for it to be done to; without it the key is left to others. */
  when?: () => boolean
}

/** Takes letters for the sheet in hand, and tells of them. A key that is held down does it once. */
export function useLetters(title: string, letters: Record<string, Letter>) {
  useHelp(
    title,
    Object.entries(letters).map(([letter, l]): Key => [`Alt ${letter.toUpperCase()}`, l.does]),
  )
  useEventListener(window, 'keydown', (event: KeyboardEvent) => {
    const letter = letters[forSheet(event)]
    if (!letter || event.repeat || letter.when?.() === false) return
    event.preventDefault()
    letter.act(event)
  })
}
