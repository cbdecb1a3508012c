<script setup lang="ts">
import { computed } from 'vue'

/** A week as a comb: a tooth a day, overtime above the line of the usual day. Drawn, never summed. */
const props = defineProps<{ days: string[]; limit?: string }>()
const usual = computed(() => Number(props.limit ?? 8))
const tall = (hours: string) => Math.min(Number(hours || 0), 16) * 1.6
</script>

<template>
  <svg
    width="56"
    height="26"
    viewBox="0 0 56 26"
    role="img"
    :aria-label="`hours by day: ${days.map((d) => d || '0').join(', ')}`"
  >
    <template v-for="(d, i) in days" :key="i">
      <rect
        :x="i * 8"
        :y="26 - Math.min(tall(d), usual * 1.6)"
        width="6"
        :height="Math.min(tall(d), usual * 1.6)"
        class="usual"
      />
      <rect
        v-if="Number(d) > usual"
        :x="i * 8"
        :y="26 - tall(d)"
        width="6"
        :height="tall(d) - usual * 1.6"
        class="over"
      />
    </template>
    <path :d="`M0 ${26 - usual * 1.6}h56`" class="line" />
  </svg>
</template>

<style scoped>
.usual {
  fill: var(--denim);
}
.over {
  fill: var(--ochre);
}
.line {
  stroke: var(--rule-strong);
}
</style>
