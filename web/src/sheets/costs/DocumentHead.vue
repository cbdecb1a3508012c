<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import Amount from '@/parts/Amount.vue'
import Choose from '@/parts/Choose.vue'
import Field from '@/parts/Field.vue'
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
  claim: 'To be paid back',
  mileage: 'Driven by, to be paid back',
  receipt: 'Paid by, to be paid back',
}
const log = computed(() => typed.value.kind === 'mileage' || typed.value.kind === 'plant')
const has = (field: 'supplier' | 'number' | 'freight' | 'tax') => !log.value || Number(typed.value[field]) !== 0
const workers = computed(() => (props.choices.workers ?? []).map((w) => ({ id: w.id, title: w.name, sub: w.sub })))
</script>

<template>
  <div>
    <div class="head-fields">
      <Choose
        v-model="typed.kind"
        label="Kind"
        :options="kinds"
        :said="wrong.kind"
        class="kind"
        @change="emit('kind')"
      />
      <Field
        v-if="has('supplier')"
        v-model="typed.supplier"
        label="Supplier"
        :said="wrong.supplier"
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
      <Field v-model="typed.date" label="Date" type="date" :said="wrong.date" />
      <Field v-if="has('number')" v-model="typed.number" label="Their number" :said="wrong.number" />
      <Field v-if="has('freight')" v-model="typed.freight" label="Freight" num :said="wrong.freight" class="amount" />
      <Field v-if="has('tax')" v-model="typed.tax" label="Tax" num :said="wrong.tax" class="amount" />
      <div class="field total">
        <span>Total</span><b><Amount :of="shown?.total" /></b>
      </div>
    </div>
    <p v-for="w in shown?.warnings" :key="w" class="warnword note"><i class="flag"></i>{{ w }}</p>
    <p v-if="locked" class="soft note">{{ locked }}</p>
  </div>
</template>

<style scoped>
.head-fields {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 16px;
  padding: 12px 16px 13px;
  border-bottom: 1px solid var(--ink);
}
.head-fields > .field {
  width: 108px;
}
.head-fields > .supplier {
  width: 180px;
}
.head-fields > .kind {
  width: 140px;
}
.head-fields > .amount {
  width: 78px;
}
.total b {
  height: 26px;
  border-bottom: 3px double var(--ink);
  font-size: 17px;
  line-height: 24px;
  text-align: right;
  color: var(--ink);
}
.note {
  padding: 6px 16px;
}
</style>
