<script setup lang="ts">
import { computed } from 'vue'

/** A day's hours as a bar, a mark where the rest of the crew was, a dashed line at the usual day. Drawn, never summed. */
const props = defineProps<{ hours?: string; crew?: string; usual?: string }>()
const wide = (h?: string) => Math.min(Number(h || 0), 14) * 6
const words = computed(() =>
  [`${props.hours || 'no'} hours`, props.crew && `the crew ${props.crew}`, props.usual && `usually ${props.usual}`]
    .filter(Boolean)
    .join(', '),
)
</script>

<template>
  <svg width="86" height="20" viewBox="0 0 86 20" role="img" :aria-label="words">
    <title>{{ words }}</title>
    <rect v-if="crew" :x="wide(crew) - 5" y="2" width="10" height="16" class="crew" />
    <rect x="0" y="7" :width="wide(hours)" height="6" class="own" />
    <path v-if="usual" :d="`M${wide(usual)} 1v18`" class="usual" />
  </svg>
</template>

<style scoped>
.own {
  fill: var(--denim);
}
.crew {
  fill: var(--denim-line);
}
.usual {
  stroke: var(--ink);
  stroke-dasharray: 2 2;
}
</style>
