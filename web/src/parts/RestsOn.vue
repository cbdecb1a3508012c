<script setup lang="ts">
import type { Schema } from '@/api/client'
import { inWords } from './figures'
import HistoryList from './HistoryList.vue'

/** Under a tape: the records that its figures rest on, each a link, and what was done to the subject. */
export interface Rest {
  label: string
  value: string
  link: string
  text: string
}
defineProps<{ rests: Rest[]; history?: Schema['HistoryLine'][] | null }>()
</script>

<template>
  <ul class="rests">
    <li v-for="(r, i) in rests" :key="i">
      {{ r.label }} <router-link class="lnk" :to="r.link">{{ r.value }}</router-link>{{ inWords(r.text) }}
    </li>
  </ul>
  <HistoryList v-if="history?.length" class="rests" :lines="history" />
</template>

<style scoped>
.rests {
  padding-top: 14px;
  font-size: var(--t-small);
  line-height: 1.1875rem;
  color: var(--ink-soft);
}
</style>
