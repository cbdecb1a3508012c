import { useLocalStorage } from '@vueuse/core'
import { watchEffect } from 'vue'
import { useTheme } from 'vuetify'

/** The light or the dark theme, remembered on this machine. */
export function useLook() {
  const theme = useTheme()
  const look = useLocalStorage<'light' | 'dark'>('jarvo-look', 'light')
  watchEffect(() => {
    document.documentElement.dataset.theme = look.value
    void theme.change(look.value)
  })
  return look
}
