<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import { figure } from '@/parts/figures'

/** A crew's day: a tooth a worker, as tall as the hours; a missing tooth is a hole. */
const props = defineProps<{ day: Schema['CrewDay']; limit?: string }>()
const usual = computed(() => Number(props.limit ?? 8) * 60)
const unit = 18
const tall = (minutes: number) => (minutes / usual.value) * unit
/** The teeth of a large crew stand closer. */
const widest = 56
const wide = computed(() => (props.day.workers?.length ?? 0) * 8)
</script>

<template>
  <span class="day">
    <b>{{ figure(day.hours) }}</b>
    <svg
      :width="Math.min(wide, widest)"
      height="27"
      :viewBox="`0 0 ${wide} 27`"
      preserveAspectRatio="none"
      aria-hidden="true"
    >
      <template v-for="(m, i) in day.workers" :key="i">
        <path v-if="m < 0" :d="`M${i * 8 + 3} ${27 - unit}v${unit}`" class="off" />
        <rect v-else-if="!m" :x="i * 8 + 0.75" :y="27 - unit" width="5" :height="unit - 0.75" class="hole" />
        <rect
          v-else
          :x="i * 8"
          :y="27 - Math.min(tall(m), unit)"
          width="6"
          :height="Math.min(tall(m), unit)"
          class="usual"
        />
        <rect
          v-if="m > usual"
          :x="i * 8"
          :y="Math.max(0, 27 - tall(m))"
          width="6"
          :height="Math.min(tall(m), 27) - unit"
          class="over"
        />
      </template>
      <path :d="`M0 ${27 - unit}h${wide}`" class="line" />
    </svg>
  </span>
</template>

<style scoped>
b {
  display: block;
  font-weight: 560;
  line-height: 0.9375rem;
}
svg {
  display: block;
  max-width: 100%;
}
.usual {
  fill: var(--denim);
}
.over {
  fill: var(--ochre);
}
.hole {
  fill: none;
  stroke: var(--ochre-line);
  stroke-dasharray: 2 2;
}
.line {
  stroke: var(--rule-strong);
}
.off {
  stroke: var(--rule-strong);
  stroke-dasharray: 1 3;
}
.dense .hole {
  stroke: none;
  fill: var(--ochre-wash);
}
</style>
