<script setup lang="ts">
import { computed } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { useForm } from '@/book/form'
import FormCard from '@/parts/FormCard.vue'
import FormField from '@/parts/FormField.vue'
import Pick from '@/parts/Pick.vue'
import { contractOf } from './stages'

/** A new job, opened in place. */
const props = defineProps<{ choices: Schema['Choices'] }>()
const emit = defineEmits<{ done: [] }>()
const customers = computed(() =>
  (props.choices.customers ?? []).map((c) => ({ id: c.id, title: c.name, sub: c.code, retired: c.retired })),
)
const form = useForm({
  blank: () => ({
    number: props.choices.company.nextJobNumber,
    name: '',
    basis: 'tm' as Schema['NewJob']['basis'],
    customerId: undefined as number | undefined,
    contract: '',
    orderNumber: '',
    retainage: '',
    card: '',
    needsCostCode: false,
  }),
  send: (body) => answered(client.POST('/api/jobs', { body: { ...body, customerId: body.customerId ?? undefined } })),
  done: () => emit('done'),
})
</script>

<template>
  <FormCard :form="form" label="New job" submit="Add job" cancel="Cancel" @cancel="emit('done')">
    <FormField label="Number" name="number" size="short" />
    <FormField label="Name" name="name" size="wide" />
    <Pick
      v-model="form.model.customerId"
      label="Customer"
      :items="customers"
      :said="form.wrong.customerId"
      class="wide"
      :placeholder="customers.length ? '' : 'add one in Setup first'"
    />
    <FormField
      label="Billed by"
      name="basis"
      kind="choice"
      :options="[
        ['tm', 'time and materials'],
        ['fixed', 'fixed price'],
        ['none', 'never billed'],
      ]"
    />
    <FormField v-if="form.model.basis !== 'none'" :label="contractOf(form.model.basis)" name="contract" kind="money" />
    <FormField v-if="form.model.basis !== 'none'" label="Their order number" name="orderNumber" />
    <FormField label="Retainage" name="retainage" kind="percent" unit="%" size="short" />
    <FormField label="Rate card of its own" name="card" :list="choices.cards?.map((c) => c.code)" />
    <FormField label="Cost code required" name="needsCostCode" kind="check" />
    <template #after>
      <router-link v-if="!customers.length" class="lnk" to="/setup?part=customers&add=yes">Add a customer</router-link>
    </template>
  </FormCard>
</template>
