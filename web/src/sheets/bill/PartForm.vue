<script setup lang="ts">
import { computed } from 'vue'
import type { Schema } from '@/api/client'
import { useForm } from '@/book/form'
import FormCard from '@/parts/FormCard.vue'
import FormField from '@/parts/FormField.vue'
import { counted } from '@/parts/figures'
import { partOf, type DraftRow, type Part } from './parts'

/** How much of some work a draft bills, and what becomes of the rest. */
const props = defineProps<{
  rows: DraftRow[]
  send: (parts: Part[], together: string) => Promise<Schema['InvoiceView']>
}>()
const emit = defineEmits<{ done: [view: Schema['InvoiceView'], parts: Part[], together: string]; close: [] }>()

type Model = {
  way: string
  value: string
  rest: string
  reason: string
}
const one = computed(() => (props.rows.length === 1 ? props.rows[0] : undefined))
const ways = computed<[string, string][]>(() => [
  ['rest', 'all that is left'],
  ...((one.value?.kind === 'time_entry' ? [['hours', 'some of the hours']] : []) as [string, string][]),
  ...((one.value?.kind === 'cost_line' ? [['quantity', 'some of the quantity']] : []) as [string, string][]),
  ['percent', 'a percentage'],
  ['amount', one.value ? 'an amount' : 'an amount for all of them'],
  ...((props.rows.every((r) => r.kind === 'time_entry') ? [['rate', 'at a rate an hour']] : []) as [string, string][]),
  ['off', 'nothing: write it off'],
  ['hold', 'nothing: hold it for later'],
  ['none', 'nothing: it stays ready'],
])
const rests: [string, string][] = [
  ['later', 'waits for a later invoice'],
  ['down', 'is written down'],
]
const form = useForm<Model, Schema['InvoiceView']>({
  blank: (): Model => {
    const was = one.value ? partOf(one.value) : undefined
    const off = was?.way === 'amount' && was.rest === 'down' && !Number(was.value)
    return {
      way: off ? 'off' : !one.value || (was!.way === 'none' && !one.value.on) ? 'rest' : was!.way,
      value: was?.value ?? '',
      rest: was?.rest || 'later',
      reason: was?.reason ?? '',
    }
  },
  send: (body) => props.send(partsOf(body), together(body)),
  change: 'invoices',
  done: (view, sent) => emit('done', view, partsOf(sent), together(sent)),
})
/** An amount for many is shared out by what there is to bill of each. */
const together = (m: Model) => (!one.value && m.way === 'amount' ? m.value : '')
const partsOf = (m: Model): Part[] =>
  props.rows.map(({ kind, id }) =>
    m.way === 'off'
      ? { kind, id, way: 'amount', value: '0', rest: 'down', reason: m.reason }
      : {
          kind,
          id,
          way: m.way as Part['way'],
          value: valued(m) && !together(m) ? m.value : '',
          rest: (rested(m) ? m.rest : 'later') as Part['rest'],
          reason: m.reason,
        },
  )
const valued = (m: Model) => ['hours', 'quantity', 'percent', 'amount', 'rate'].includes(m.way)
const rested = (m: Model) => valued(m)
const valueLabel = computed(
  () =>
    ({ hours: 'Hours', quantity: 'Quantity', percent: 'Percent', amount: 'Amount', rate: 'An hour' })[form.model.way] ??
    '',
)
const valueKind = computed(() => {
  if (form.model.way === 'percent') return 'percent'
  if (form.model.way === 'amount' || form.model.way === 'rate') return 'money'
  return form.model.way === 'quantity' ? 'number' : 'text'
})
const why = (field: string) =>
  Object.entries(form.wrong).find(([path]) => path.startsWith('parts[') && path.endsWith(`].${field}`))?.[1] ?? ''
</script>

<template>
  <FormCard
    :form="form"
    :label="one ? `Bill ${one.text}` : `Bill ${counted(rows.length, 'source')}`"
    submit="Save"
    cancel="Close"
    @cancel="emit('close')"
  >
    <FormField label="Bill" name="way" kind="choice" size="wide" :options="ways" :wrong="why('way')" focus />
    <FormField
      v-if="valued(form.model)"
      :label="valueLabel"
      name="value"
      :kind="valueKind"
      size="short"
      :wrong="why('value') || form.wrong.together"
    />
    <FormField
      v-if="rested(form.model)"
      label="What is left"
      name="rest"
      kind="choice"
      size="wide"
      :options="rests"
      :wrong="why('rest') || why('down')"
    />
    <FormField
      v-if="!['rest', 'none'].includes(form.model.way)"
      label="Why"
      name="reason"
      size="wide"
      :wrong="why('reason')"
    />
  </FormCard>
</template>
