import { ref, watch } from 'vue'

/** Whether the form for a new record is open: where the address asks for it, and where there is none yet. */
export function useAdding(asked: () => boolean, none: () => boolean) {
  const open = ref(asked() || none())
  watch(asked, (is) => is && (open.value = true))
  return open
}
