<script setup lang="ts">
import { reactive, ref, watch } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import Choose from '@/parts/Choose.vue'
import Field from '@/parts/Field.vue'
import { useAdd } from './add'

/** Customers: who pays, on which terms, and how their invoices are made. */
const props = defineProps<{ setup: Schema['SetupSheet']; choices: Schema['Choices']; adding: boolean }>()
const { busy, said, wrong, once } = useAdd()
const open = ref(props.adding || !props.setup.customers?.length)
watch(
  () => props.adding,
  (is) => is && (open.value = true),
)
const customer = reactive({ name: '', email: '', address: '', termsDays: '', invoicePer: 'job', card: '' })
async function save() {
  if (!(await once({ ...customer }, (body) => answered(client.POST('/api/customers', { body }))))) return
  Object.assign(customer, { name: '', email: '', address: '', card: '' })
}
</script>

<template>
  <div class="scroll">
    <form v-if="open" class="form-row" aria-label="New customer" @submit.prevent="save">
      <Field v-model="customer.name" label="Name" :said="wrong.name" class="wide" />
      <Field v-model="customer.address" label="Address" :said="wrong.address" class="wide" />
      <Field v-model="customer.email" label="E-mail" :said="wrong.email" class="wide" />
      <Field v-model="customer.termsDays" label="Pays in, days" hint="30" num :said="wrong.termsDays" class="short" />
      <Choose
        v-model="customer.invoicePer"
        label="One invoice"
        :options="[
          ['job', 'a job'],
          ['customer', 'for all jobs'],
        ]"
      />
      <Field
        v-model="customer.card"
        label="Rate card of its own"
        :said="wrong.card"
        :list="choices.cards?.map((c) => c.name)"
      />
      <v-btn class="go" type="submit" :loading="busy">Add the customer</v-btn><v-btn @click="open = false">Close</v-btn>
      <span v-if="said" class="said" role="alert">{{ said }}</span>
    </form>
    <table class="ledger" aria-label="Customers">
      <colgroup>
        <col style="width: 240px" />
        <col />
        <col style="width: 90px" />
        <col style="width: 120px" />
        <col style="width: 150px" />
        <col style="width: 170px" />
      </colgroup>
      <thead>
        <tr>
          <th scope="col">Customer</th>
          <th scope="col">Address</th>
          <th scope="col" class="num">Terms</th>
          <th scope="col">Invoice</th>
          <th scope="col">Rate card</th>
          <th scope="col" class="num">
            Jobs <v-btn v-if="!open" class="small go" @click="open = true">New customer</v-btn>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="c in setup.customers" :key="c.id">
          <td class="strong">{{ c.name }}</td>
          <td class="soft">{{ c.address }}</td>
          <td class="num">{{ c.terms ? `${c.terms} days` : '' }}</td>
          <td>one a {{ c.invoicePer }}</td>
          <td class="soft">{{ c.card || "the company's" }}</td>
          <td class="num">{{ c.jobs }}</td>
        </tr>
      </tbody>
    </table>
    <p v-if="!setup.customers?.length" class="empty soft">No customer yet. A name is enough to open the first job.</p>
  </div>
</template>
