<script setup lang="ts">
import type { Schema } from '@/api/client'
import { moment } from './figures'

/** What was done to a record: who, when, what before and what after. */
defineProps<{ lines: Schema['HistoryLine'][] }>()
</script>

<template>
  <ol class="history" aria-label="History">
    <li v-for="(line, i) in lines" :key="i">
      <b>{{ line.who }}</b> {{ line.action }} <span class="soft">{{ moment(line.at) }}</span>
      <template v-if="line.reason">: {{ line.reason }}</template>
      <span v-for="c in line.changes" :key="c.what" class="change"
        >{{ c.what }}
        <template v-if="c.before"
          ><s>{{ c.before }}</s> → </template
        >{{ c.after || 'none' }}</span
      >
    </li>
  </ol>
</template>

<style scoped>
.history {
  font-size: var(--t-small);
  line-height: 1.1875rem;
}
.change {
  margin-left: 10px;
}
</style>
