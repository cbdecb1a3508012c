<script setup lang="ts">
import { useMediaQuery } from '@vueuse/core'
import { computed, defineAsyncComponent } from 'vue'
import { useScope } from '@/book/scope'
import { viewOf } from './views'

/** Time: the same entries by week, by day and as a list; on a phone a crew's day. */
const scope = useScope()
const views = {
  week: defineAsyncComponent(() => import('./WeekView.vue')),
  day: defineAsyncComponent(() => import('./DayView.vue')),
  list: defineAsyncComponent(() => import('./ListView.vue')),
  import: defineAsyncComponent(() => import('./ImportHours.vue')),
  phone: defineAsyncComponent(() => import('./PhoneDay.vue')),
}
/** A phone has the crew's day, and nothing else squeezed in. */
const phone = useMediaQuery('(max-width: 720px)')
const view = computed(() => (phone.value ? 'phone' : viewOf(scope)))
</script>

<template>
  <component :is="views[view]" />
</template>
