<script setup lang="ts">
import { computed } from 'vue'
import FormField from '@/parts/FormField.vue'
import SumTable from '@/parts/SumTable.vue'
import { figure, isNegative, percent, sumOf } from '@/parts/figures'
import { readNumber } from '@/parts/reading'
import type { Document } from './document'

/** Under the lines of a paper: whether it foots, and what was bought for each job against what is charged; beside it, its scan. */
const props = defineProps<{ shown?: Document; narrow: boolean; locked: string; wrong?: string }>()
const emit = defineEmits<{ edited: [] }>()
/** The total that stands on the paper itself, held against the sum of what was typed. */
const printed = defineModel<string>()
const off = computed(() => {
  const total = props.shown?.total
  if (!printed.value || !total || readNumber(printed.value, 'en') === undefined) return undefined
  return sumOf([total, printed.value.startsWith('-') ? printed.value.slice(1) : `-${printed.value}`])
})
const balance = computed(() => {
  if (off.value === undefined) return ''
  if (!Number(off.value)) return 'In balance with the paper'
  const much = figure(isNegative(off.value) ? off.value.slice(1) : off.value)
  return `${much} ${isNegative(off.value) ? 'is missing here' : 'too much here'}`
})
const total = computed(() => [
  { what: 'Lines', texts: [figure(props.shown?.goods)] },
  { what: 'Freight', texts: [figure(props.shown?.freight)] },
  { what: props.shown?.recovered ? 'Tax, recovered' : 'Tax', texts: [figure(props.shown?.tax)] },
  { what: 'Total', texts: [figure(props.shown?.total)], sum: true },
  ...(props.locked && printed.value ? [{ what: 'Printed on it', texts: [figure(printed.value)] }] : []),
])
const byJob = computed(() => [
  ...(props.shown?.byJob ?? []).map((j) => ({
    what: j.job,
    texts: [figure(j.bought), figure(j.charged), percent(j.margin)],
  })),
  { what: 'Total', texts: [figure(props.shown?.landed), figure(props.shown?.charge), ''], sum: true },
])
</script>

<template>
  <div class="under" :class="{ narrow }">
    <div>
      <h2>In balance?</h2>
      <SumTable label="In balance?" :rows="total" />
      <FormField
        v-if="!locked"
        v-model="printed"
        label="Total printed on the paper"
        kind="money"
        class="printed"
        :wrong="wrong"
        @input="emit('edited')"
        @change="emit('edited')"
      />
      <p role="status" :class="Number(off) ? 'warnword' : 'strong'">
        {{ balance }}
      </p>
    </div>
    <div>
      <h2>Bought against charged</h2>
      <SumTable label="Bought against charged" :heads="['Job', 'Bought', 'Charged', 'Margin']" :rows="byJob" />
      <p class="soft">
        Freight goes over what was bought, tax over what is taxed, a return carrying its share back. Markup is on cost,
        margin on price: 20 % on top is 16.67 % of the price.
      </p>
    </div>
    <slot />
  </div>
</template>

<style scoped>
.under {
  display: grid;
  grid-template-columns: 12.5rem minmax(0, 1fr) 15rem;
  gap: 24px 32px;
  padding: 14px 16px;
}
.under h2 {
  font-weight: 660;
  font-size: 0.875rem;
  padding-bottom: 5px;
}
.under p {
  padding-top: 10px;
  font-size: var(--t-small);
}
.under.narrow {
  grid-template-columns: 12.5rem minmax(0, 1fr);
}
@media (max-width: 1180px) {
  .under {
    grid-template-columns: 12.5rem minmax(0, 1fr);
  }
}
.printed {
  padding-top: 10px;
}
</style>
