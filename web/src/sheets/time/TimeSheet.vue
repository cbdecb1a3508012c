<script setup lang="ts">
import { computed, defineAsyncComponent } from 'vue'
import { useScope } from '@/book/scope'
import { viewOf } from './views'

/** Time: the same entries by week, by day and as a list. */
const scope = useScope()
const views = {
  week: defineAsyncComponent(() => import('./WeekView.vue')),
  day: defineAsyncComponent(() => import('./DayView.vue')),
  list: defineAsyncComponent(() => import('./ListView.vue')),
  import: defineAsyncComponent(() => import('./ImportHours.vue')),
}
const view = computed(() => viewOf(scope))
</script>

<template>
  <component :is="views[view]" />
</template>
