<script setup lang="ts">
import { inWords, longDay } from '@/parts/figures'
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import Amount from '@/parts/Amount.vue'
import FormField from '@/parts/FormField.vue'
import Pick from '@/parts/Pick.vue'
import type { Document } from './document'

/** The head of a paper: whose it is, its date and number, and what it says in all. A log of mileage or plant has less of it. */
const typed = defineModel<Document>({ required: true })
const props = defineProps<{
  shown?: Document
  wrong: Record<string, string>
  choices: Schema['Choices']
  suppliers: string[]
  locked: string
}>()
const emit = defineEmits<{ edited: []; kind: []; supplier: [] }>()

const kinds = [
  ['supplier_invoice', "Supplier's invoice"],
  ['receipt', 'Receipt'],
  ['claim', 'Claim'],
  ['mileage', 'Mileage'],
  ['plant', 'Plant log'],
] as const
const paidBack = {
  claim: 'To reimburse',
  mileage: 'Driven by, to reimburse',
  receipt: 'Paid by, to reimburse',
}
const log = computed(() => typed.value.kind === 'mileage' || typed.value.kind === 'plant')
const has = (field: 'supplier' | 'number' | 'freight' | 'tax') => !log.value || Number(typed.value[field]) !== 0
const workers = computed(() => (props.choices.workers ?? []).map((w) => ({ id: w.id, title: w.name, sub: w.sub })))
/** A date chosen in the calendar is no typing: it is told. */
function dated(date: string) {
  typed.value.date = date
  emit('edited')
}
</script>

<template>
  <div>
    <div class="head-fields">
      <FormField
        v-model="typed.kind"
        label="Kind"
        kind="choice"
        :options="kinds"
        :wrong="wrong.kind"
        class="kind"
        @change="emit('kind')"
      />
      <FormField
        v-if="has('supplier')"
        v-model="typed.supplier"
        label="Supplier"
        :wrong="wrong.supplier"
        :list="suppliers"
        class="supplier"
        @change="emit('supplier')"
      />
      <Pick
        v-if="typed.kind in paidBack"
        v-model="typed.workerId"
        :label="paidBack[typed.kind as keyof typeof paidBack]"
        class="supplier"
        :items="workers"
        :said="wrong.workerId"
        @update:model-value="emit('edited')"
      />
      <FormField
        :model-value="typed.date"
        label="Date"
        kind="date"
        :wrong="wrong.date"
        @update:model-value="dated(String($event))"
      />
      <FormField v-if="has('number')" v-model="typed.number" label="Invoice no." :wrong="wrong.number" />
      <FormField
        v-if="has('freight')"
        v-model="typed.freight"
        label="Freight"
        kind="money"
        :wrong="wrong.freight"
        class="amount"
      />
      <FormField v-if="has('tax')" v-model="typed.tax" label="Tax" kind="money" :wrong="wrong.tax" class="amount" />
      <div v-if="shown?.due" class="field">
        <span>Due</span><span class="due">{{ longDay(shown.due) }}</span>
      </div>
      <div class="field total">
        <span>Total</span><b><Amount :of="shown?.total" /></b>
      </div>
    </div>
    <p v-for="w in shown?.warnings" :key="w" class="warnword note"><i class="flag"></i>{{ inWords(w) }}</p>
    <p v-if="locked" class="soft note">{{ locked }}</p>
  </div>
</template>

<style scoped>
.head-fields {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 14px;
  padding: 12px 16px 13px;
  border-bottom: 1px solid var(--ink);
}
.head-fields > .field {
  width: 7.25rem;
}
.head-fields > .supplier {
  width: 10.375rem;
}
.head-fields > .kind {
  width: 8.5rem;
}
.head-fields > .amount {
  width: 4.75rem;
}
.due {
  line-height: 1.625rem;
}
.total b {
  height: 1.625rem;
  border-bottom: 3px double var(--ink);
  font-size: 1.0625rem;
  line-height: 1.5rem;
  text-align: right;
  color: var(--ink);
}
.note {
  padding: 6px 16px;
}
</style>
