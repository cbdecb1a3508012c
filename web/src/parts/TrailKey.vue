<script setup lang="ts">
import Trail from './Trail.vue'

/** The key of the trail, under each sheet that shows it. */
const stages = [
  ['captured', 'captured'],
  ['submitted', 'handed in'],
  ['approved', 'approved'],
  ['drafted', 'on a draft'],
  ['billed', 'billed'],
  ['paid', 'paid'],
] as const
</script>

<template>
  <span v-for="[stage, text] in stages" :key="stage"
    ><Trail :trail="{ stage, billable: true, text }" aria-hidden="true" tabindex="-1" /> {{ text }}</span
  >
  <span
    ><Trail :trail="{ stage: 'approved', billable: false, text: 'not billable' }" aria-hidden="true" tabindex="-1" />
    not billable</span
  >
</template>
