import { defineStore } from 'pinia'
import { ref } from 'vue'

/** One figure of the Footing: what it is, how much, and what the current edit changes in it. */
export interface FootingFigure {
  label: string
  value: string
  change?: string
  /** It is shown as it is, no figure to format. */
  asIs?: boolean
}

/** What the sheet in hand shows at the foot of the window, and whether what was typed is saved. */
export const useFooting = defineStore('footing', () => {
  const what = ref('')
  const title = ref('Footing')
  const figures = ref<FootingFigure[]>([])
  const looseEnds = ref(0)
  const state = ref('')
  const unsaved = ref(false)

  function show(scope: string, shown: FootingFigure[], heading = 'Footing') {
    what.value = scope
    figures.value = shown
    title.value = heading
  }
  function saved() {
    unsaved.value = false
    state.value = `Saved ${new Date().toLocaleTimeString(undefined, { hour: 'numeric', minute: '2-digit' })}`
  }
  function saving() {
    unsaved.value = true
    state.value = 'Saving…'
  }
  function notSaved(why: string) {
    unsaved.value = true
    state.value = why
  }
  return { what, title, figures, looseEnds, state, unsaved, show, saved, saving, notSaved }
})
