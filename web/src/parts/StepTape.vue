<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schema } from '@/api/client'
import Amount from './Amount.vue'
import { figure } from './figures'

/** A figure and what it is the sum of, as rows of the tape; a long sum within it is opened when asked. */
const props = defineProps<{ step: Schema['Step']; depth?: number }>()
const many = 8
const steps = computed(() => props.step.steps ?? [])
const depth = computed(() => props.depth ?? 0)
const open = ref(depth.value < 2 || steps.value.length <= many)
/** Formulas come with plain decimals and an x; people read them with a times sign and their own separators. */
const read = (formula: string) => formula.replace(/ x /g, ' × ').replace(/-?\d+\.\d+/g, (n) => figure(n))
</script>

<template>
  <template v-if="steps.length">
    <tr v-if="depth" class="of">
      <th scope="row" :style="{ paddingLeft: `${(depth - 1) * 10}px` }">
        {{ step.label }}
        <button v-if="steps.length > many" class="lnk" @click="open = !open">
          {{ open ? 'fold' : `open its ${steps.length}` }}
        </button>
      </th>
      <td><Amount v-if="!open" :of="step.result.text" /></td>
    </tr>
    <template v-if="open">
      <StepTape v-for="(s, i) in steps" :key="i" :step="s" :depth="depth + 1" />
      <tr :class="depth ? 'bar' : 'sum'">
        <th scope="row" :style="{ paddingLeft: `${Math.max(0, depth - 1) * 10}px` }">{{ step.label }}</th>
        <td><Amount :of="step.result.text" /></td>
      </tr>
    </template>
  </template>
  <tr v-else :class="{ sum: !depth }">
    <th scope="row" :style="{ paddingLeft: `${Math.max(0, depth - 1) * 10}px` }">
      {{ step.label }}<small v-if="step.formula">{{ read(step.formula) }}</small>
    </th>
    <td><Amount :of="step.result.text" /></td>
  </tr>
</template>

<style scoped>
.of th {
  padding-top: 5px;
}
</style>
