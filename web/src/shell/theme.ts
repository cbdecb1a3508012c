import { useEventListener, useLocalStorage, usePreferredDark } from '@vueuse/core'
import { computed, ref, watchEffect } from 'vue'
import { useTheme } from 'vuetify'

/** The light or the dark theme: as the system has it, until one is chosen, which is remembered on this machine. */
export function useLook() {
  const theme = useTheme()
  const chosen = useLocalStorage<'system' | 'light' | 'dark'>('jarvo-look', 'system')
  const prefersDark = usePreferredDark()
  const look = computed({
    get: () => (chosen.value !== 'system' ? chosen.value : prefersDark.value ? 'dark' : 'light'),
    set: (to: 'light' | 'dark') => (chosen.value = to),
  })
  /** Paper is white, whatever the window is. */
  const printing = ref(false)
  useEventListener(window, 'beforeprint', () => (printing.value = true))
  useEventListener(window, 'afterprint', () => (printing.value = false))
  watchEffect(
    () => {
      const now = printing.value ? 'light' : look.value
      document.documentElement.dataset.theme = now
      void theme.change(now)
    },
    { flush: 'sync' },
  )
  return look
}
