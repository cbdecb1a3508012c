<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import { useForm } from '@/book/form'
import { useChoices } from '@/book/scope'
import FormCard from '@/parts/FormCard.vue'
import FormField from '@/parts/FormField.vue'
import { billedNames } from '@/parts/figures'
import { typedKinds, type Typed } from './parts'

/** A line that no work stands behind, a discount, or a deposit that is asked for, on a draft or to begin one with. */
const props = defineProps<{
  typed: Typed
  /** The numbers of the jobs that are on the draft, and whose they are; none: any job. */
  jobs?: string[]
  customer?: string
  submit: string
  send: (typed: Typed, key: string) => Promise<Schema['InvoiceView']>
}>()
const emit = defineEmits<{ done: [view: Schema['InvoiceView'], typed: Typed]; close: [] }>()
const { data: choices } = useChoices()
const deposit = computed(() => props.typed.kind === 'deposit')
const discount = computed(() => props.typed.kind === 'discount')
const jobs = computed<[string, string][]>(() => {
  const there = (choices.value?.jobs ?? []).filter(
    (j) => j.customer && (!props.customer || j.customer === props.customer || props.jobs?.includes(j.number)),
  )
  const named = there.map((j): [string, string] => [j.number, `${j.number} ${j.name}`])
  return discount.value ? [['', 'all jobs'], ...named] : named
})
const names: Record<string, string> = { discount: 'Discount', deposit: 'Deposit' }
const kinds = computed<[string, string][]>(() => {
  const named = typedKinds.map((k): [string, string] => [k, billedNames[k] ?? k])
  return discount.value ? [['', 'all kinds'], ...named] : named
})
const form = useForm<Model, Schema['InvoiceView']>({
  blank: (): Model => {
    const { kind, ...typed } = { ...blankTyped, ...props.typed }
    delete typed.total
    return { kind, ...typed, by: props.typed.amount ? 'amount' : 'percent' }
  },
  send: ({ key, ...model }) => props.send(typedOf(model), key),
  change: 'invoices',
  done: (view, { by, ...model }) => emit('done', view, typedOf({ by, ...model })),
})
function typedOf({ by, ...model }: Model): Typed {
  if (!discount.value) return { ...model, percent: '' }
  return { ...model, quantity: '', unit: '', [by === 'amount' ? 'percent' : 'amount']: '' }
}
const why = (field: string) =>
  Object.entries(form.wrong).find(([path]) => path.startsWith('lines[') && path.endsWith(`].${field}`))?.[1] ?? ''
</script>

<script lang="ts">
type Model = Required<Omit<Typed, 'total'>> & { by: string }
const blankTyped = {
  job: '',
  phase: '',
  category: '' as Typed['category'] & string,
  text: '',
  quantity: '',
  unit: '',
  percent: '',
  amount: '',
}
</script>

<template>
  <FormCard
    :form="form"
    :label="names[typed.kind] ?? 'A line of your own'"
    :submit="submit"
    cancel="Close"
    @cancel="emit('close')"
  >
    <FormField :label="discount ? 'What it says' : 'Text'" name="text" size="wide" :wrong="why('text')" focus />
    <FormField
      :label="discount ? 'On' : 'Job'"
      name="job"
      kind="choice"
      size="wide"
      :options="jobs"
      :wrong="why('job')"
    />
    <FormField
      v-if="!deposit"
      :label="discount ? 'On kind' : 'Kind'"
      name="category"
      kind="choice"
      :options="kinds"
      :wrong="why('category')"
    />
    <template v-if="discount">
      <FormField
        label="By"
        name="by"
        kind="choice"
        size="short"
        :options="[
          ['percent', 'percent'],
          ['amount', 'amount'],
        ]"
      />
      <FormField
        v-if="form.model.by === 'percent'"
        label="Percent"
        name="percent"
        kind="percent"
        size="short"
        :wrong="why('percent')"
      />
      <FormField v-else label="Amount" name="amount" kind="money" size="short" :wrong="why('amount')" />
    </template>
    <template v-else>
      <FormField v-if="!deposit" label="Quantity" name="quantity" kind="number" size="short" :wrong="why('quantity')" />
      <FormField v-if="!deposit" label="Unit" name="unit" size="short" :wrong="why('unit')" />
      <FormField
        label="Amount"
        name="amount"
        kind="money"
        size="short"
        :wrong="why('amount') || why('kind')"
        :hint="deposit ? 'before tax' : ''"
      />
    </template>
  </FormCard>
</template>
