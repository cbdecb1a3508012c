import { useLocalStorage, usePreferredDark } from '@vueuse/core'
import { computed, watchEffect } from 'vue'
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
  watchEffect(() => {
    document.documentElement.dataset.theme = look.value
    void theme.change(look.value)
  })
  return look
}
