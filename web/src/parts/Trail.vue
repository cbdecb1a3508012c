<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'

/** How far a thing has come, as a tally: strokes for captured, approved, billed, struck through when paid. */
const props = defineProps<{ trail: Schema['Trail'] }>()
const reached = computed(() =>
  ['captured', 'submitted', 'approved', 'drafted', 'billed', 'paid'].indexOf(props.trail.stage),
)
const strokes = computed(() => [
  true,
  reached.value >= 2,
  reached.value >= 4 ? true : reached.value === 3 ? 'dashed' : false,
])
const x = (i: number) => 3 + i * 6
</script>

<template>
  <span class="trail-box" tabindex="0" role="img" :aria-label="trail.text" :title="trail.text">
    <svg class="trail" viewBox="0 0 26 16" aria-hidden="true">
      <template v-for="(s, i) in strokes" :key="i">
        <path
          v-if="s"
          :d="`M${x(i)} 2v12`"
          :stroke-dasharray="s === 'dashed' ? '2.6 3' : undefined"
          :class="{ waits: s === 'dashed' }"
        />
        <path v-else-if="i === 2 && !trail.billable" d="M13 8h6" class="not" />
        <path v-else :d="`M${x(i)} 13v.2`" class="open" />
      </template>
      <path v-if="reached === 5" d="M0 12 20 4" />
      <path v-else-if="trail.billable" d="M21 13v.2" class="open" />
    </svg>
  </span>
</template>

<style scoped>
.trail {
  display: block;
  width: 26px;
  height: 16px;
  overflow: visible;
  stroke: var(--ink);
  stroke-width: 2.2;
  stroke-linecap: round;
  fill: none;
}
.open {
  stroke: var(--mark);
  stroke-width: 2.6;
}
.waits {
  stroke: var(--ochre-ink);
}
.not {
  stroke: var(--mark);
}
</style>
