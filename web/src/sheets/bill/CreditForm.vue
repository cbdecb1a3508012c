<script setup lang="ts">
import { useForm } from '@/book/form'
import FormCard from '@/parts/FormCard.vue'
import FormField from '@/parts/FormField.vue'
import { figure } from '@/parts/figures'
import { becomesNames, type Creditable, type Line } from './credit'

/** How much of one line of an invoice is credited, and what becomes of it. */
const props = defineProps<{
  row: Creditable
  line?: Line
  /** Of a deposit and of a release nothing was billed, so nothing becomes of it. */
  nothing?: boolean
  tried: (line: Line) => Promise<unknown>
}>()
const emit = defineEmits<{ done: [line: Line]; clear: []; close: [] }>()
const form = useForm({
  blank: () => ({
    amount: props.line?.amount || props.row.left,
    becomes: (props.line?.becomes ??
      (props.nothing && props.row.kind !== 'release' ? 'allowed' : 'again')) as Line['becomes'],
    reason: props.line?.reason ?? '',
  }),
  change: 'nothing',
  send: (model) => props.tried(lineOf(model)),
  done: (_, model) => emit('done', lineOf(model)),
})
const lineOf = ({ amount, becomes, reason }: { amount: string; becomes: Line['becomes']; reason: string }): Line => ({
  kind: props.row.kind,
  id: props.row.id,
  amount,
  becomes,
  reason,
})
const options = Object.entries(becomesNames)
const why = (field: string) =>
  Object.entries(form.wrong).find(([path]) => path.startsWith('lines[') && path.endsWith(`].${field}`))?.[1] ?? ''
</script>

<template>
  <FormCard :form="form" :label="`Credit ${row.text}`" submit="Credit it" cancel="Close" @cancel="emit('close')">
    <FormField label="Amount" name="amount" kind="money" size="short" :wrong="why('amount')" focus />
    <FormField v-if="!nothing" label="What becomes of it" name="becomes" kind="choice" :options="options" />
    <FormField v-if="row.kind !== 'release'" label="Why" name="reason" size="wide" :wrong="why('reason')" />
    <template #after
      ><span class="soft">{{ figure(row.left) }} can be credited</span
      ><button v-if="line" type="button" class="lnk" @click="emit('clear')">Do not credit it</button></template
    >
  </FormCard>
</template>
