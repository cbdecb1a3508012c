<script setup lang="ts">
import { nextTick, onBeforeUnmount, onMounted, ref } from 'vue'

/**
 * A panel at the side: it takes the focus when it opens, unless it only stands by, and gives it back to where it was when it
 * closes. Escape closes it.
 */
const props = defineProps<{ title: string; standsBy?: boolean }>()
const emit = defineEmits<{ close: [] }>()
const panel = ref<HTMLElement>()
const before = document.activeElement as HTMLElement | null
onMounted(async () => {
  await nextTick()
  if (props.standsBy || panel.value?.contains(document.activeElement)) return
  const first = panel.value?.querySelector<HTMLElement>('input:not([type=checkbox]), select, textarea')
  ;(first ?? panel.value)?.focus()
})
onBeforeUnmount(() => {
  const inside = panel.value?.contains(document.activeElement)
  if (inside) void nextTick(() => before?.isConnected && before.focus())
})
</script>

<template>
  <aside ref="panel" tabindex="-1" :aria-label="title" @keydown.esc.stop="emit('close')">
    <header>
      <h2>{{ title }}</h2>
      <slot name="head" />
      <button type="button" class="soft" @click="emit('close')">close <kbd>Esc</kbd></button>
    </header>
    <slot />
  </aside>
</template>

<style scoped>
aside {
  outline: 0;
  min-height: 0;
}
header {
  display: flex;
  align-items: baseline;
  gap: 14px;
}
h2 {
  font-size: var(--t-head);
  font-weight: 680;
  font-stretch: 108%;
}
header > button {
  margin-left: auto;
  min-height: 1.5rem;
  white-space: nowrap;
}
</style>
