<script setup lang="ts">
import { computed } from 'vue'
import Amount from '@/parts/Amount.vue'
import FormField from '@/parts/FormField.vue'
import { figure, isNegative, percent, sumOf } from '@/parts/figures'
import { readNumber } from '@/parts/reading'
import type { Document } from './document'

/** Under the lines of a paper: whether it foots, and what was bought for each job against what is charged; beside it, its scan. */
const props = defineProps<{ shown?: Document; narrow: boolean; locked: string }>()
/** The total that stands on the paper itself, held against the sum of what was typed. */
const printed = defineModel<string>({ required: true })
const off = computed(() => {
  const total = props.shown?.total
  if (!printed.value || !total || readNumber(printed.value, 'en') === undefined) return undefined
  return sumOf([total, printed.value.startsWith('-') ? printed.value.slice(1) : `-${printed.value}`])
})
</script>

<template>
  <div class="under" :class="{ narrow }">
    <div>
      <h2>In balance?</h2>
      <table class="sum-table">
        <tbody>
          <tr>
            <td>Lines</td>
            <td><Amount :of="shown?.goods" /></td>
          </tr>
          <tr>
            <td>Freight</td>
            <td><Amount :of="shown?.freight" /></td>
          </tr>
          <tr>
            <td>Tax{{ shown?.recovered ? ', recovered' : '' }}</td>
            <td><Amount :of="shown?.tax" /></td>
          </tr>
          <tr class="sum">
            <td>Total</td>
            <td><Amount :of="shown?.total" /></td>
          </tr>
        </tbody>
      </table>
      <FormField v-if="!locked" v-model="printed" label="Total printed on the paper" kind="money" class="printed" />
      <p v-if="off !== undefined" role="status" :class="Number(off) ? 'warnword' : 'strong'">
        {{
          Number(off)
            ? `${figure(isNegative(off) ? off.slice(1) : off)} ${isNegative(off) ? 'is missing here' : 'too much here'}`
            : 'In balance with the paper'
        }}
      </p>
    </div>
    <div>
      <h2>Bought against charged</h2>
      <table class="sum-table">
        <thead>
          <tr>
            <th scope="col">Job</th>
            <th scope="col">Bought</th>
            <th scope="col">Charged</th>
            <th scope="col">Margin</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="j in shown?.byJob" :key="j.job">
            <td>{{ j.job }}</td>
            <td><Amount :of="j.bought" /></td>
            <td><Amount :of="j.charged" /></td>
            <td>{{ percent(j.margin) }}</td>
          </tr>
          <tr class="sum">
            <td>Total</td>
            <td><Amount :of="shown?.landed" /></td>
            <td><Amount :of="shown?.charge" /></td>
            <td></td>
          </tr>
        </tbody>
      </table>
      <p class="soft">
        Freight and tax are spread over the lines by size. Markup is on cost, margin on price: 20 % on top is 16.67 % of
        the price.
      </p>
    </div>
    <slot />
  </div>
</template>

<style scoped>
.under {
  display: grid;
  grid-template-columns: 200px minmax(0, 1fr) 240px;
  gap: 24px 32px;
  padding: 14px 16px;
}
.under h2 {
  font-weight: 660;
  font-size: 14px;
  padding-bottom: 5px;
}
.under p {
  padding-top: 10px;
  font-size: var(--t-small);
}
.under.narrow {
  grid-template-columns: 200px minmax(0, 1fr);
}
@media (max-width: 1180px) {
  .under {
    grid-template-columns: 200px minmax(0, 1fr);
  }
}
.printed {
  padding-top: 10px;
}
</style>
