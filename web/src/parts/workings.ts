import { useEventListener } from '@vueuse/core'
import { ref } from 'vue'
import { forSheet, typing } from '@/shell/keys'

/** What the Workings are of: an entry, a cost line or an invoice by its id, a job by its number. */
export type Subject = { kind: 'entry' | 'line' | 'invoice'; id: number } | { kind: 'job'; number: string }

/** Where a record that a figure rests on is kept. */
export function linkOf(kind: string, id?: number): string {
  switch (kind) {
    case 'labour_rate':
      return '/setup?part=rates'
    case 'wage':
      return '/setup?part=workers'
    case 'burden':
      return '/setup?part=burden'
    case 'markup':
      return '/setup?part=markups'
    case 'tax_code':
      return '/setup?part=codes'
    case 'cost_document':
      return `/costs?span=all&open=${id}`
    default:
      return kind === 'time_entry' ? '/time' : '/jobs'
  }
}

/** Whether the Workings are open beside a sheet; `w`, Alt W and Escape open and close them. */
export function useWorkings(allowed: () => boolean) {
  const open = ref(false)
  useEventListener(window, 'keydown', (event: KeyboardEvent) => {
    const plain = event.key === 'w' && forSheet(event)
    if ((event.altKey && event.code === 'KeyW') || plain) {
      event.preventDefault()
      open.value = allowed() && !open.value
    } else if (event.key === 'Escape' && open.value && !typing(event)) open.value = false
  })
  return open
}
