import { defineStore } from 'pinia'
import { computed, ref } from 'vue'

/** One step that can be taken back: undo and redo say how far they got where they could not do all of it. */
export interface Step {
  what: string
  undo: () => Said
  redo: () => Said
}

type Said = string | undefined | Promise<string | undefined>

const mostSteps = 100

/** What was done on the sheet in hand and can be taken back, the last one first. */
export const useUndo = defineStore('undo', () => {
  const past = ref<Step[]>([])
  const future = ref<Step[]>([])
  const said = ref('')
  /** The book has not answered yet: the next step waits to be asked for again. */
  let underWay = false

  function did(step: Step) {
    past.value = [...past.value.slice(1 - mostSteps), step]
    future.value = []
    said.value = ''
  }
  /** Says how far it got, at once or when the book has answered. */
  function say(how: Said, done: string) {
    if (how instanceof Promise) {
      underWay = true
      void how.then((got) => (said.value = got ?? done)).finally(() => (underWay = false))
    } else said.value = how ?? done
  }
  function undo() {
    const step = past.value.at(-1)
    if (!step || underWay) return
    past.value = past.value.slice(0, -1)
    future.value = [...future.value, step]
    say(step.undo(), `Taken back: ${step.what}`)
  }
  function redo() {
    const step = future.value.at(-1)
    if (!step || underWay) return
    future.value = future.value.slice(0, -1)
    past.value = [...past.value, step]
    say(step.redo(), `Done again: ${step.what}`)
  }
  /** Another sheet is in hand: what was done on the one before stays done. */
  function forget() {
    past.value = []
    future.value = []
    said.value = ''
  }
  return {
    said,
    last: computed(() => past.value.at(-1)?.what),
    did,
    undo,
    redo,
    forget,
  }
})
