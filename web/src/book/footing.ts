import { defineStore } from 'pinia'
import { computed, ref } from 'vue'

/** One figure of the Footing: what it is, how much, and what the current edit changes in it. */
export interface FootingFigure {
  label: string
  value: string
  change?: string
  /** It is shown as it is, no figure to format. */
  asIs?: boolean
  /** What it is made of, to be opened. */
  of?: { label: string; value: string }[]
}

/** What the sheet in hand shows at the foot of the window, and whether what was typed is saved. */
export const useFooting = defineStore('footing', () => {
  const what = ref('')
  const title = ref('Footing')
  const figures = ref<FootingFigure[]>([])
  const looseEnds = ref(0)
  const state = ref('')
  /** What has not been saved, by who has it: the outbox, or what was done last. */
  const problems = ref<Record<string, string>>({})
  const unsaved = computed(() => Object.keys(problems.value).length > 0)

  function show(scope: string, shown: FootingFigure[], heading = 'Footing') {
    what.value = scope
    figures.value = shown
    title.value = heading
  }
  function saved(whose = 'act') {
    delete problems.value[whose]
    const left = Object.values(problems.value)[0]
    state.value = left ?? `Saved ${new Date().toLocaleTimeString(undefined, { hour: 'numeric', minute: '2-digit' })}`
  }
  function saving(whose = 'act') {
    problems.value[whose] = state.value = 'Saving…'
  }
  function notSaved(why: string, whose = 'act') {
    problems.value[whose] = state.value = why
  }
  return { what, title, figures, looseEnds, state, unsaved, show, saved, saving, notSaved }
})
