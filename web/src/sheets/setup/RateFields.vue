<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import { formAround, type Form } from '@/book/form'
import FormField from '@/parts/FormField.vue'
import Pick from '@/parts/Pick.vue'
import { offered } from './adding'

/** The fields of a labour rate, in the form around them. */
const props = defineProps<{ choices: Schema['Choices'] }>()
const form = formAround() as unknown as Form<Schema['NewLabourRate']>
const workers = computed(() => (props.choices.workers ?? []).map((w) => ({ id: w.id, title: w.name, sub: w.sub })))
const codes = computed(() =>
  (props.choices.costCodes ?? []).map((c) => ({ id: c.id, title: `${c.code} ${c.name}`, retired: c.retired })),
)
const companyCard = computed(
  () => props.choices.cards?.find((c) => c.id === props.choices.company.cardId)?.name ?? 'Company',
)
</script>

<template>
  <FormField label="Card" name="card" :hint="companyCard" :list="choices.cards?.map((c) => c.name)" />
  <FormField label="Trade, blank for any" name="trade" :list="offered(choices.trades)" />
  <Pick
    v-model="form.model.workerId"
    label="Worker, blank for any"
    :items="workers"
    :said="form.wrong.workerId"
    class="wide"
  />
  <Pick
    v-model="form.model.costCodeId"
    label="Cost code, blank for any"
    :items="codes"
    :said="form.wrong.costCodeId"
    class="wide"
  />
  <FormField
    label="Charged as"
    name="method"
    kind="choice"
    :options="[
      ['hourly', 'a price an hour'],
      ['markup', '% on cost'],
    ]"
  />
  <FormField
    :label="form.model.method === 'markup' ? 'Percent' : 'An hour'"
    name="value"
    :kind="form.model.method === 'markup' ? 'percent' : 'money'"
    size="short"
  />
  <FormField label="Overtime ×" name="overtimeFactor" kind="number" hint="as paid" size="short" />
  <FormField label="Double ×" name="doubleFactor" kind="number" hint="as paid" size="short" />
  <FormField label="From" name="effectiveFrom" kind="date" />
</template>
