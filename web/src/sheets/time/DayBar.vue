<script setup lang="ts">
import { computed } from 'vue'

/** A day from six to six: what was worked, with what of it is over. */
const props = defineProps<{ from: number; minutes: number; pause: number; over: number; pencilled?: boolean }>()
const [first, span] = [6 * 60, 12 * 60]
const x = (minute: number) => Math.max(0, Math.min(100, ((minute - first) / span) * 100))
const bars = computed(() => {
  const end = props.from + props.minutes + props.pause
  const noon = props.from + Math.min(props.minutes / 2, 5 * 60)
  const parts = [
    { from: props.from, to: noon, over: false },
    { from: noon + props.pause, to: end - props.over, over: false },
    { from: end - props.over, to: end, over: true },
  ]
  return parts.map((p) => ({ left: x(p.from), width: Math.max(0, x(p.to) - x(p.from)), over: p.over }))
})
</script>

<template>
  <span class="bar" aria-hidden="true">
    <i
      v-for="(b, i) in minutes ? bars : []"
      :key="i"
      :class="{ over: b.over, pencilled }"
      :style="{ left: `${b.left}%`, width: `${b.width}%` }"
    ></i>
  </span>
</template>

<style scoped>
.bar {
  position: relative;
  display: block;
  height: 1.9375rem;
  background: linear-gradient(to right, var(--rule-faint) 1px, transparent 1px) 0 0 / 16.66% 100%;
}
i {
  position: absolute;
  top: 11px;
  height: 0.625rem;
  background: var(--denim);
}
i.over {
  background: var(--ochre);
}
i.pencilled {
  opacity: 0.45;
}
</style>
