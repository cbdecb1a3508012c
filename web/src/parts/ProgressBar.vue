<script setup lang="ts">
import { computed } from 'vue'

/** How far something has come: billed before solid, now hatched, left outlined. What is more than all of it is cut, and has its figures beside it. */
const props = defineProps<{ before: string; now: string; all: string }>()
const share = (part: number) => (Number(props.all) ? Math.min(100, Math.max(0, (part / Number(props.all)) * 100)) : 0)
const before = computed(() => share(Math.min(Number(props.before), Number(props.before) + Number(props.now))))
const now = computed(() => share(Math.max(Number(props.before), Number(props.before) + Number(props.now))))
</script>

<template>
  <svg class="progress" viewBox="0 0 100 12" preserveAspectRatio="none" aria-hidden="true">
    <defs>
      <pattern id="hatch-now" width="4" height="4" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <line x1="0" y1="0" x2="0" y2="4" class="stroke" />
      </pattern>
    </defs>
    <rect x="0" y="0" :width="now" height="12" fill="url(#hatch-now)" />
    <rect x="0" y="0" :width="before" height="12" class="solid" />
    <rect x="0" y="0" width="100" height="12" class="edge" vector-effect="non-scaling-stroke" />
  </svg>
</template>

<style scoped>
.progress {
  display: block;
  width: 100%;
  height: 0.75rem;
}
.solid {
  fill: var(--denim);
}
.stroke {
  stroke: var(--denim);
  stroke-width: 2.4;
}
.edge {
  fill: none;
  stroke: var(--rule-strong);
  stroke-width: 1.5;
}
</style>
