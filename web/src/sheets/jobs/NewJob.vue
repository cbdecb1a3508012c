<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { computed, reactive, ref } from 'vue'
import { answered, client, retryKey, Refusal, type Schema } from '@/api/client'
import Choose from '@/parts/Choose.vue'
import Field from '@/parts/Field.vue'
import Pick from '@/parts/Pick.vue'

/** A new job, opened in place. */
const props = defineProps<{ choices: Schema['Choices'] }>()
const emit = defineEmits<{ done: [] }>()
const queries = useQueryClient()
const job = reactive({
  number: props.choices.company.nextJobNumber,
  name: '',
  basis: 'tm' as Schema['NewJob']['basis'],
  contract: '',
  retainage: '',
  card: '',
  needsCostCode: false,
})
const customer = ref<number>()
const wrong = ref<Record<string, string>>({})
const said = ref('')
const busy = ref(false)
const retry = retryKey()
const customers = computed(() => (props.choices.customers ?? []).map((c) => ({ id: c.id, title: c.name, sub: c.code })))
const bases = [
  ['tm', 'time and materials'],
  ['fixed', 'fixed price'],
  ['none', 'never billed'],
] as const

async function open() {
  busy.value = true
  said.value = ''
  try {
    const body = { ...job, customerId: customer.value ?? undefined }
    await answered(client.POST('/api/jobs', { body: { ...body, key: retry.for(body) } }))
    retry.done()
    await queries.invalidateQueries()
    emit('done')
  } catch (refused) {
    wrong.value = refused instanceof Refusal ? refused.fields() : {}
    said.value = (refused as Error).message
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <form class="form-row" aria-label="New job" @submit.prevent="open">
    <Field v-model="job.number" label="Number" :said="wrong.number" class="short" />
    <Field v-model="job.name" label="Name" :said="wrong.name" class="wide" />
    <Pick
      v-model="customer"
      label="Customer"
      :items="customers"
      :said="wrong.customerId"
      class="wide"
      :placeholder="customers.length ? '' : 'add one in Setup first'"
    />
    <Choose v-model="job.basis" label="Billed by" :options="bases" :said="wrong.basis" />
    <Field v-if="job.basis === 'fixed'" v-model="job.contract" label="Agreed price" num :said="wrong.contract" />
    <Field v-model="job.retainage" label="Retainage, %" num :said="wrong.retainage" class="short" />
    <Field
      v-model="job.card"
      label="Rate card of its own"
      :said="wrong.card"
      :list="choices.cards?.map((c) => c.code)"
    />
    <label class="asks"><input v-model="job.needsCostCode" type="checkbox" class="box" /> asks for a cost code</label>
    <v-btn class="go" type="submit" :loading="busy">Open the job</v-btn>
    <v-btn @click="$emit('done')">Leave it</v-btn>
    <span v-if="said" class="said" role="alert">{{ said }}</span>
    <router-link v-if="!customers.length" class="lnk" to="/setup?part=customers&add=yes">Add a customer</router-link>
  </form>
</template>

<style scoped>
.asks {
  align-self: center;
  display: flex;
  gap: 6px;
}
</style>
