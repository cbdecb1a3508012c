import { ref, watch } from 'vue'
import type { Schema } from '@/api/client'

/** The names that a field offers: of what is not retired. */
export const offered = (named?: Schema['Named'][] | null) => named?.filter((n) => !n.retired).map((n) => n.name)

/** Whether the form for a new record is open: where the address asks for it, and where there is none yet. */
export function useAdding(asked: () => boolean, none: () => boolean) {
  const open = ref(asked() || none())
  watch(asked, (is) => is && (open.value = true))
  return open
}
