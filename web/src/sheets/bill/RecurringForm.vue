<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { useForm } from '@/book/form'
import { useChoices } from '@/book/scope'
import FormCard from '@/parts/FormCard.vue'
import FormField from '@/parts/FormField.vue'
import FormRows from '@/parts/FormRows.vue'
import { billedNames, counted } from '@/parts/figures'
import type { RowField } from '@/parts/formRows'
import { typedKinds, type Typed } from './parts'

/** An invoice that comes again: its dates and its lines. Once it has begun its first date and its step stay. */
const props = defineProps<{ row?: Schema['RecurringRow']; today: string }>()
const emit = defineEmits<{ done: [rows: Schema['RecurringRow'][]]; close: [] }>()
const { data: choices } = useChoices()
const blank = (): Typed => ({ kind: 'line', job: '', category: 'other', text: '', quantity: '', unit: '', amount: '' })
const form = useForm({
  blank: () => ({
    text: props.row?.text ?? '',
    first: props.row?.first ?? props.today,
    every: props.row?.every ?? '1',
    step: props.row?.step ?? ('months' as const),
    until: props.row?.until ?? '',
    lines: (props.row?.lines ?? [blank()]).map((l): Typed => ({ ...blank(), ...l })),
  }),
  change: 'everything',
  version: () => props.row?.version,
  send: (body, version) =>
    answered(
      client.PUT('/api/bill/recurring', {
        body: { ...body, id: props.row?.id, version: version || undefined, overdue: overdue.value || undefined },
      }),
    ),
  done: (rows) => emit('done', rows ?? []),
})
/** How many drafts saving makes at once, where the book has said so. */
const overdue = ref(0)
watch(
  () => form.current,
  (due) => typeof due === 'number' && (overdue.value = due),
)
watch(
  () => [form.model.first, form.model.every, form.model.step, form.model.until],
  () => (overdue.value = 0),
)
const jobs = computed(() =>
  (choices.value?.jobs ?? []).filter((j) => j.customer).map((j) => [j.number, `${j.number} ${j.name}`] as const),
)
const fields = computed<RowField<Typed>[]>(() => [
  { id: 'job', label: 'Job', kind: 'choice', width: 210, options: [['', ''], ...jobs.value] },
  {
    id: 'category',
    label: 'Kind',
    kind: 'choice',
    width: 120,
    options: typedKinds.map((k) => [k, billedNames[k] ?? k] as const),
  },
  { id: 'text', label: 'Text' },
  { id: 'quantity', label: 'Quantity', kind: 'figure' },
  { id: 'unit', label: 'Unit', width: 70 },
  { id: 'amount', label: 'Amount', kind: 'figure' },
])
const steps = ['days', 'weeks', 'months', 'quarters', 'years'].map((s) => [s, s] as const)
</script>

<template>
  <FormCard
    :form="form as never"
    :label="row ? `Change ${row.text}` : 'New recurring invoice'"
    :submit="overdue ? `Save and make ${counted(overdue, 'draft')}` : 'Save'"
    cancel="Close"
    @cancel="emit('close')"
  >
    <FormField label="What it is for" name="text" size="wide" focus />
    <FormField label="First on" name="first" kind="date" />
    <FormField label="Every" name="every" kind="number" size="short" />
    <FormField label="Step" name="step" kind="choice" :options="steps" />
    <FormField label="Last on, if it ends" name="until" kind="date" />
    <FormRows
      v-model="form.model.lines"
      label="Lines of each invoice"
      name="lines"
      :fields="fields"
      :blank="blank"
      :wrong="form.wrong"
    />
    <template #after>
      <span v-if="form.model.first < today && !row?.made" class="warnword"
        >Those since its first date are made at once, each with its own date.</span
      >
      <slot />
    </template>
  </FormCard>
</template>
