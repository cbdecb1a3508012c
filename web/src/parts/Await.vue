<script setup lang="ts" generic="T">
import { computed } from 'vue'
import { Refusal } from '@/api/client'
import { capital } from './figures'

/**
 * What the book is asked for: opening, there, or not to be had, with a way to try again. A failure is never an empty
 * list; what was there before stays, and says that it may be old.
 */
const props = defineProps<{
  of: {
    data: { value: T | undefined }
    error: { value: Error | null }
    isFetching: { value: boolean }
    refetch: () => unknown
  }
  what: string
  /** Nothing is said while it is opened: something else stands there. */
  quiet?: boolean
}>()
const data = computed(() => props.of.data.value)
const failed = computed(() => props.of.error.value)
const why = computed(() => {
  const error = failed.value
  if (error instanceof Refusal && error.status === 429) return 'Too much was asked for at once. Wait a moment.'
  return error ? capital(error.message) : ''
})
</script>

<template>
  <div v-if="failed" class="failed" role="alert">
    <b>{{
      data === undefined ? `Could not open ${what}.` : `This may be out of date: ${what} could not be read again.`
    }}</b>
    <span>{{ why }}</span>
    <v-btn class="small" :loading="of.isFetching.value" @click="of.refetch()">Try again</v-btn>
  </div>
  <slot v-if="data !== undefined" :data="data" />
  <p v-else-if="!failed && !quiet" class="empty soft" role="status">Opening {{ what }}…</p>
</template>

<style scoped>
.failed {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 12px;
  padding: 10px 16px;
  color: var(--rust);
  background: var(--paper-back);
  border-bottom: 1px solid var(--rule-strong);
}
</style>
