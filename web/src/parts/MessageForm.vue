<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { reactive, watch } from 'vue'
import { answered, client } from '@/api/client'
import { useForm } from '@/book/form'
import Await from '@/parts/Await.vue'
import FormCard from '@/parts/FormCard.vue'
import FormField from '@/parts/FormField.vue'
import { inWords } from '@/parts/figures'
import SentMessages from './SentMessages.vue'

/** A message about an invoice, or with a customer's statement of account: as it is proposed, to be changed, and sent. */
const props = defineProps<{ invoice?: number; customer?: number }>()
const emit = defineEmits<{ done: []; close: [] }>()
const asked = useQuery({
  queryKey: ['messages', 'proposal', () => props.invoice, () => props.customer],
  queryFn: () =>
    answered(
      client.GET('/api/messages/proposal', {
        params: { query: { invoice: props.invoice, customer: props.customer } },
      }),
    ),
  refetchOnWindowFocus: false,
  staleTime: Infinity,
  gcTime: 0,
})
/** What is attached. */
const put = reactive<Record<string, boolean>>({})
const form = useForm({
  blank: () => ({
    to: asked.data.value?.to ?? '',
    keep: false,
    subject: asked.data.value?.subject ?? '',
    body: asked.data.value?.body ?? '',
  }),
  change: 'messages',
  send: (body) =>
    answered(
      client.POST('/api/messages', {
        body: {
          ...body,
          keepOver: body.keep ? asked.data.value?.to : undefined,
          invoiceId: asked.data.value?.invoiceId,
          customerId: asked.data.value?.customerId,
          open: asked.data.value?.open,
          with: Object.keys(put).filter((what) => put[what] && what !== 'statement'),
        },
      }),
    ),
  done: () => emit('done'),
})
watch(
  asked.data,
  (p) => {
    if (!p || form.dirty) return
    form.reset()
    for (const w of p.with ?? []) put[w.what] = w.chosen
  },
  { immediate: true },
)
</script>

<template>
  <Await v-slot="{ data }" :of="asked" what="the message">
    <FormCard
      :form="form"
      class="letter-form"
      :label="`Send ${data.what}`"
      submit="Send"
      cancel="Cancel"
      @cancel="emit('close')"
    >
      <SentMessages :invoice="invoice" :customer="customer" />
      <p class="from">
        <span class="soft">From</span> <b>{{ data.from || 'no mail address' }}</b>
        <span class="said" role="alert">{{ form.wrong.from }}</span>
      </p>
      <FormField label="To" name="to" size="wide" hint="name@firm.example" focus />
      <FormField v-if="form.model.to !== data.to" name="keep" kind="check" :label="`keep this for ${data.customer}`" />
      <FormField label="Subject" name="subject" size="wide" />
      <FormField label="Text" name="body" kind="lines" :rows="12" size="wide" />
      <fieldset class="put">
        <legend class="soft">Attached</legend>
        <label v-for="w in data.with" :key="w.what" class="check" :class="{ soft: w.whyNone }">
          <input v-model="put[w.what]" type="checkbox" class="box" :disabled="!!w.whyNone || w.what === 'statement'" />
          <span
            >{{ w.name }}<small v-if="w.whyNone">: {{ inWords(w.whyNone) }}</small></span
          >
        </label>
        <span class="said" role="alert">{{ form.wrong.with }}</span>
      </fieldset>
    </FormCard>
  </Await>
</template>

<style scoped>
.letter-form {
  margin: 14px 0;
}
.from {
  display: flex;
  gap: 12px;
}
.put {
  border: 0;
  padding: 0;
  display: flex;
  flex-direction: column;
}
.check {
  display: flex;
  align-items: center;
  gap: 8px;
  min-height: 1.75rem;
}
</style>
