<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import { figure } from '@/parts/figures'

/** The sum of an hour drawn downwards, with the charge as the outline around it. Drawn from the server's figures, never summed. */
const props = defineProps<{ build: Schema['BurdenBuild'] }>()
const classes = ['regular', 'overtime', 'double'] as const
const titles = { regular: 'Regular hour', overtime: 'Overtime', double: 'Double' }
const top = computed(() =>
  Math.max(...classes.map((c) => Math.max(Number(props.build.charge?.[c] ?? 0), Number(props.build.total[c] ?? 0))), 1),
)
const tall = (text?: string) => (Number(text ?? 0) / top.value) * 470
const stacks = computed(() =>
  classes.map((c, n) => {
    let y = 30
    const parts = [props.build.wage, ...(props.build.parts ?? [])].map((p, i) => {
      const height = tall(p[c])
      const part = { y, height, opacity: i === 0 ? 1 : Math.max(0.17, 0.82 - (i - 1) * 0.14), text: p.component }
      y += height
      return part
    })
    return {
      x: 20 + n * 136,
      title: titles[c],
      parts,
      total: props.build.total[c],
      end: y,
      charge: props.build.charge?.[c],
      chargeEnd: 30 + tall(props.build.charge?.[c]),
    }
  }),
)
</script>

<template>
  <svg
    class="stack"
    viewBox="0 0 430 540"
    role="img"
    :aria-label="`A regular hour of ${build.worker.name} costs ${build.total.regular}`"
  >
    <g v-for="s in stacks" :key="s.title" :transform="`translate(${s.x} 0)`">
      <text x="52" y="20" text-anchor="middle" class="t">{{ s.title }}</text>
      <rect v-if="s.charge" x="-4" y="30" width="112" :height="s.chargeEnd - 30" class="charge" />
      <rect
        v-for="p in s.parts"
        :key="p.text"
        :y="p.y"
        width="104"
        :height="p.height"
        :fill-opacity="p.opacity"
        class="part"
      />
      <text x="52" :y="s.end + 16" text-anchor="middle" class="t">{{ figure(s.total) }}</text>
      <text v-if="s.charge && s.chargeEnd > s.end + 34" x="52" :y="s.chargeEnd - 6" text-anchor="middle">
        charged {{ figure(s.charge) }}
      </text>
    </g>
  </svg>
</template>

<style scoped>
.stack {
  width: 100%;
  max-height: 35rem;
  padding: 6px 8px;
  font: 400 0.6875rem var(--face);
  font-variant-numeric: tabular-nums;
}
.stack text {
  fill: var(--ink-soft);
}
.stack .t {
  fill: var(--ink);
  font-weight: 640;
  font-size: 0.75rem;
}
.part {
  fill: var(--denim);
  stroke: var(--paper);
}
.charge {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.5;
}
</style>
