<script setup lang="ts">
import { watchDebounced } from '@vueuse/core'
import { ref, watch } from 'vue'
import { answered, client } from '@/api/client'
import { figure } from '@/parts/figures'

/** What is typed into a cell, as the book understands it, with the overtime it would be. */
const props = defineProps<{ text: string; worker: number; date: string; entry?: number }>()
const reading = ref<{ hours: string; reading: string; overtime?: string }>()
const asked = () => props.text.trim()
watch(asked, () => (reading.value = undefined))
watchDebounced(
  asked,
  async (text) => {
    if (!text) return
    const query = { worker: props.worker, date: props.date, text, entry: props.entry ?? 0 }
    try {
      const answer = await answered(client.GET('/api/time/reading', { params: { query } }))
      if (asked() === text) reading.value = answer
    } catch {
      reading.value = undefined // no hours yet: it is said when they are taken
    }
  },
  { debounce: 120 },
)
</script>

<template>
  <output v-if="reading"
    ><b>{{ figure(reading.hours) }} h</b
    >{{ reading.overtime ? `${figure(reading.overtime)} over` : reading.reading.split(',')[0] }}</output
  >
</template>

<style scoped>
output {
  position: absolute;
  z-index: 3;
  left: 100%;
  top: -1px;
  height: 2.0625rem;
  min-width: 3.5rem;
  padding: 3px 8px 0;
  background: var(--paper);
  border: 2px solid var(--denim);
  border-left: 1px solid var(--rule);
  font-size: var(--t-sub);
  line-height: 0.75rem;
  color: var(--ink-soft);
  white-space: nowrap;
  pointer-events: none;
  text-align: left;
}
output b {
  display: block;
  font-size: 0.75rem;
  font-weight: 640;
  color: var(--ink);
}
</style>
