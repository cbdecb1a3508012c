import { useEventListener } from '@vueuse/core'
import { ref } from 'vue'
import { useLetters } from '@/book/help'
import { typing } from '@/book/keys'

/** What the Workings are of: an entry, a cost line or an invoice by its id, a job by its number. */
export type Subject = { kind: 'entry' | 'line' | 'invoice'; id: number } | { kind: 'job'; number: string }

/** Whether the Workings are open beside a sheet; Alt W and Escape open and close them. */
export function useWorkings(allowed: () => boolean) {
  const open = ref(false)
  useLetters('Workings', {
    w: { does: 'workings of this figure', act: () => (open.value = !open.value), when: allowed },
  })
  useEventListener(window, 'keydown', (event: KeyboardEvent) => {
    if (event.key === 'Escape' && open.value && !typing(event)) open.value = false
  })
  return open
}
