<script setup lang="ts">
import { ref, watch } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { useForm } from '@/book/form'
import FormCard from '@/parts/FormCard.vue'
import FormField from '@/parts/FormField.vue'
import { figure, longDay } from '@/parts/figures'
import { paymentMethods } from './parts'

/** What was paid of the invoice that is open, a payment of it, or credit of the customer that is set against it. */
const props = defineProps<{ invoice: Schema['InvoiceView']; today: string }>()
const form = useForm({
  blank: () => ({ amount: props.invoice.balance, date: props.today, method: '', reference: '' }),
  keep: ['date', 'method'],
  change: 'invoices',
  send: (body) => answered(client.POST('/api/payments', { body: { ...body, on: [{ invoiceId: props.invoice.id }] } })),
  done: (taken) => {
    if (Number(taken.credit)) became.value = taken.credit
  },
})
watch(
  () => props.invoice.balance,
  () => {
    if (!form.dirty) form.reset({ date: form.model.date, method: form.model.method })
  },
)
/** What of the last payment became credit. */
const became = ref('')
const applying = ref(false)
const credit = useForm({
  blank: () => ({ amount: props.invoice.credit ?? '', date: props.today }),
  change: 'invoices',
  send: (body) => answered(client.POST('/api/credit', { body: { ...body, invoiceId: props.invoice.id } })),
  done: () => (applying.value = false),
})
function apply() {
  applying.value = !applying.value
  credit.reset()
}
</script>

<template>
  <div class="payment">
    <p v-for="(r, i) in invoice.received" :key="i" class="strip">
      <span>{{ longDay(r.date) }}</span><span
        >{{ Number(r.amount) < 0 ? 'taken off: ' : '' }}{{ r.text
        }}<span v-if="r.why" class="warnword">, taken back: {{ r.why }}</span></span
      ><b class="num">{{ figure(r.amount) }}</b>
    </p>
    <p v-if="became" class="strip" role="status">
      <span>{{ figure(became) }} of it became the customer’s credit.</span
      ><router-link class="lnk" to="/bill?list=payments&span=all">See credit</router-link>
    </p>
    <template v-if="Number(invoice.balance) > 0">
      <p v-if="invoice.credit && !applying" class="strip">
        <span>This customer has credit.</span
        ><button class="lnk" @click="apply">Set {{ figure(invoice.credit) }} against this invoice</button>
      </p>
      <FormCard
        v-if="applying"
        :form="credit"
        label="Apply credit"
        submit="Apply credit"
        cancel="Cancel"
        @cancel="applying = false"
      >
        <FormField
          label="Credit to apply"
          name="amount"
          kind="money"
          :wrong="credit.wrong.amount ?? credit.wrong.invoiceId"
          focus
        />
        <FormField label="On" name="date" kind="date" />
      </FormCard>
      <FormCard v-else :form="form" label="Record payment" submit="Record payment">
        <FormField
          label="Amount"
          name="amount"
          kind="money"
          :wrong="form.wrong.amount ?? form.wrong['on[0].invoiceId'] ?? form.wrong['on[0].amount']"
        />
        <FormField label="Received on" name="date" kind="date" />
        <FormField label="Method" name="method" size="short" :list="paymentMethods()" />
        <FormField label="Reference" name="reference" size="short" />
      </FormCard>
    </template>
  </div>
</template>

<style scoped>
.payment {
  align-self: stretch;
}
.payment > form {
  background: none;
  padding: 12px 0;
}
.strip {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
  padding: 6px 0;
  border-bottom: 1px solid var(--rule-strong);
}
.strip > :last-child {
  margin-left: auto;
}
</style>
