<script setup lang="ts">
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { answered, client, type Schema } from '@/api/client'
import EditCard from '@/parts/EditCard.vue'
import FormField from '@/parts/FormField.vue'
import Pick from '@/parts/Pick.vue'
import { basisNames } from '@/parts/figures'
import { useEdit } from '@/parts/edit'
import { contractOf, stageNames } from './stages'

/** A job as it is typed: what it is called, whose it is, how it is billed, its phases. */
const props = defineProps<{ job: Schema['JobChange']; choices: Schema['Choices'] }>()
const emit = defineEmits<{ close: [] }>()
type Phase = Schema['NewPhase']
const router = useRouter()
const path = { number: props.job.number }
const edit = useEdit({
  typed: (j: Schema['JobChange']) => ({
    number: j.number,
    name: j.name,
    customerId: j.customerId,
    status: j.status,
    basis: j.basis,
    contract: j.contract ?? '',
    retainage: j.retainage ?? '',
    card: j.card ?? '',
    taxCode: j.taxCode ?? '',
    start: j.start ?? '',
    finish: j.finish ?? '',
    site: j.site ?? '',
    orderNumber: j.orderNumber ?? '',
    type: j.type ?? '',
    description: j.description ?? '',
    needsCostCode: j.needsCostCode ?? false,
    phases: (j.phases ?? []).map((p) => ({
      ...p,
      basis: p.basis ?? ('' as Phase['basis']),
      contract: p.contract ?? '',
      done: p.done ?? false,
    })),
  }),
  put: async (_, body, query) => {
    const sent = { ...body, customerId: body.customerId ?? undefined }
    const answer = await answered(client.PUT('/api/jobs/{number}', { params: { path, query }, body: sent }))
    if (!query.try && body.number !== path.number) void router.replace(`/jobs/${encodeURIComponent(body.number)}`)
    return answer
  },
  remove: async (_, body) => {
    const answer = await answered(client.POST('/api/jobs/{number}/delete', { params: { path }, body }))
    void router.push('/jobs')
    return answer
  },
  closed: () => emit('close'),
})
edit.open(props.job)
const model = edit.form.model
const wrong = (i: number, field: string) => edit.form.wrong[`phases[${i}].${field}`] ?? ''
const customers = computed(() =>
  (props.choices.customers ?? []).map((c) => ({ id: c.id, title: c.name, sub: c.code, retired: c.retired })),
)
const bases = Object.entries(basisNames)
const stages = Object.entries(stageNames)
const phaseBases = computed(() => [['', "the job's"] as const, ...bases.map(([v, text]) => [v, text] as const)])
const taxes = computed(() => [
  ['', "the customer's"] as const,
  ...(props.choices.taxCodes ?? []).map((t) => [t.name, t.name] as const),
])
</script>

<template>
  <EditCard :edit="edit" :now="job" :label="`Change job ${job.number}`">
    <FormField label="Number" name="number" size="short" />
    <FormField label="Name" name="name" size="wide" />
    <Pick
      v-model="model.customerId"
      label="Customer"
      :items="customers"
      :said="edit.form.wrong.customerId"
      class="wide"
    />
    <FormField label="Stage" name="status" kind="choice" :options="stages" />
    <FormField label="Billed by" name="basis" kind="choice" :options="bases" />
    <FormField v-if="model.basis !== 'none'" :label="contractOf(model.basis)" name="contract" kind="money" />
    <FormField label="Retainage" name="retainage" kind="percent" unit="%" size="short" />
    <FormField label="Rate card of its own" name="card" :list="choices.cards?.map((c) => c.code)" />
    <FormField label="Tax code" name="taxCode" kind="choice" :options="taxes" />
    <FormField label="Start" name="start" kind="date" />
    <FormField label="Finish" name="finish" kind="date" />
    <FormField label="Site" name="site" size="wide" />
    <FormField v-if="model.basis !== 'none'" label="Their order number" name="orderNumber" />
    <FormField label="Type" name="type" />
    <FormField label="Cost code required" name="needsCostCode" kind="check" />
    <fieldset class="phases">
      <legend>Phases</legend>
      <div v-for="(p, i) in model.phases" :key="i" class="phase">
        <FormField v-model="p.code" label="Code" size="short" :hide-label="i > 0" :wrong="wrong(i, 'code')" />
        <FormField v-model="p.name" label="Name" :hide-label="i > 0" :wrong="wrong(i, 'name')" />
        <FormField
          v-model="p.basis"
          label="Billed by"
          kind="choice"
          :options="phaseBases"
          :hide-label="i > 0"
          :wrong="wrong(i, 'basis')"
        />
        <FormField
          v-model="p.contract"
          label="Contract or limit"
          kind="money"
          :hide-label="i > 0"
          :wrong="wrong(i, 'contract')"
        />
        <FormField v-model="p.done" :label="`Done, no more cost on it`" kind="check" />
        <button type="button" class="soft" :aria-label="`Delete phase ${p.code}`" @click="model.phases.splice(i, 1)">
          ×
        </button>
      </div>
      <button
        type="button"
        class="lnk"
        @click="model.phases.push({ code: '', name: '', basis: '', contract: '', done: false })"
      >
        Add a phase
      </button>
    </fieldset>
  </EditCard>
</template>

<style scoped>
.phases {
  flex-basis: 100%;
  border: 0;
  padding: 0;
}
legend {
  font-weight: 640;
}
.phase {
  display: flex;
  align-items: flex-end;
  gap: 12px;
  padding: 2px 0;
}
.phase > button {
  min-width: 1.5rem;
  height: 1.625rem;
}
</style>
