<script setup lang="ts">
import { ref } from 'vue'
import type { Schema } from '@/api/client'
import { useForm } from '@/book/form'
import FormCard from '@/parts/FormCard.vue'
import FormField from '@/parts/FormField.vue'
import { figure, shortDay } from '@/parts/figures'
import type { useDraft } from './draft'

/** Deposits of the customer that are open: how much of each is set against the draft. */
const props = defineProps<{ invoice: Schema['InvoiceView']; draft: ReturnType<typeof useDraft> }>()
type Deposit = Schema['DepositRow']
const opened = ref(0)
const of = () => props.invoice.deposits?.find((d) => d.id === opened.value)
const form = useForm({
  blank: () => ({ amount: of()?.here ?? of()?.proposed ?? '' }),
  change: 'invoices',
  send: ({ amount }) => props.draft.deposit(opened.value, amount),
  done: (view, { amount }) => did(view, of()!, amount),
})
function did(view: Schema['InvoiceView'], deposit: Deposit, amount: string) {
  const { id, here = '' } = deposit
  props.draft.did(view, {
    what: `deposit ${deposit.number}`,
    send: () => props.draft.deposit(id, amount),
    back: () => props.draft.deposit(id, here),
  })
  opened.value = 0
}
async function apply(deposit: Deposit, amount: string) {
  const view = await props.draft.act(() => props.draft.deposit(deposit.id, amount))
  if (view) did(view, deposit, amount)
}
function open(deposit: Deposit) {
  opened.value = opened.value === deposit.id ? 0 : deposit.id
  form.reset({ amount: deposit.here ?? deposit.proposed ?? '' })
}
const why = () => form.wrong['deposits[0].amount'] ?? form.wrong['deposits[0].id'] ?? ''
</script>

<template>
  <div v-for="d in invoice.deposits" :key="d.id" class="deposit">
    <p>
      <b class="strong">Deposit {{ d.number }}</b> of {{ shortDay(d.date) }}, job {{ d.job }}:
      {{ figure(d.open) }} open<template v-if="Number(d.paid)">, {{ figure(d.paid) }} paid with tax</template
      ><template v-else>, <span class="warnword">not paid yet</span></template
      ><template v-if="d.here">; {{ figure(d.here) }} applied here</template>
    </p>
    <button v-if="!d.here && d.proposed" class="lnk" :disabled="draft.busy.value" @click="apply(d, d.proposed)">
      Apply {{ figure(d.proposed) }}
    </button>
    <button v-if="d.here" class="lnk" :disabled="draft.busy.value" @click="apply(d, '')">Remove</button>
    <button class="lnk" :aria-expanded="opened === d.id" @click="open(d)">
      {{ d.here ? 'Change' : 'Another amount' }}<span class="sr"> of deposit {{ d.number }}</span>
    </button>
    <FormCard
      v-if="opened === d.id"
      :form="form"
      :label="`Apply deposit ${d.number}`"
      submit="Apply"
      cancel="Close"
      @cancel="opened = 0"
    >
      <FormField label="Amount" name="amount" kind="money" :wrong="why()" hint="before tax" focus />
    </FormCard>
  </div>
</template>

<style scoped>
.deposit {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  align-items: baseline;
  padding: 6px 16px;
  border-bottom: 1px solid var(--rule);
}
.deposit > form {
  flex: 1 1 100%;
}
</style>
