<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { useAct } from '@/book/act'
import { useFooting } from '@/book/footing'
import { useScope } from '@/book/scope'
import Await from '@/parts/Await.vue'
import FormField from '@/parts/FormField.vue'
import Ledger from '@/parts/Ledger.vue'
import SureButton from '@/parts/SureButton.vue'
import { counted, day, figure, sumOf } from '@/parts/figures'
import type { Column } from '@/parts/ledger'

/** Whom the company owes what they laid out, and what was reimbursed. */
const scope = useScope()
const footing = useFooting()
const queries = useQueryClient()
const asked = useQuery({ queryKey: ['costs', 'owed'], queryFn: () => answered(client.GET('/api/owed')) })
const { data } = asked
const on = ref('')
const done = ref('')
const { busy, said, act, once } = useAct('papers')
watch(scope.today, (today) => (on.value ||= today), { immediate: true })
watch(
  data,
  (d) =>
    d &&
    footing.show('To reimburse', [
      { label: 'Owed', value: d.total },
      { label: 'People', value: String(d.people?.length ?? 0) },
    ]),
  { immediate: true },
)
type Paper = NonNullable<Schema['OwedTo']['papers']>[number] & { to: Schema['OwedTo'] }
const papers = computed<Paper[]>(() =>
  (data.value?.people ?? []).flatMap((to) => (to.papers ?? []).map((p) => ({ ...p, to }))),
)
/** All that is approved is chosen, until something is left out. */
const chosen = ref<(string | number)[]>([])
watch(papers, (all) => (chosen.value = all.filter((p) => p.ready).map((p) => p.id)), { immediate: true })
const of = (rows: Paper[]) => rows.filter((p) => p.ready && chosen.value.includes(p.id)).map((p) => p.id)

function told(owed: Schema['Owed'] | undefined, words: string) {
  if (owed === undefined) return
  queries.setQueryData(['costs', 'owed'], owed)
  done.value = words
}
async function pay(rows: Paper[]) {
  const { workerId, worker } = rows[0]!.to
  const documentIds = of(rows)
  const amount = sumOf(rows.filter((p) => documentIds.includes(p.id)).map((p) => p.amount))
  const payment = { workerId, documentIds, amount, date: on.value }
  const owed = await once(payment, (body) => answered(client.POST('/api/owed', { body })))
  told(owed, `${worker} has been reimbursed`)
}
const undo = async (id: number) =>
  told(
    await act(() => answered(client.DELETE('/api/owed/{id}', { params: { path: { id } } }))),
    'The reimbursement was undone; it is owed again',
  )
const columns: Column<Paper>[] = [
  { id: 'title', label: 'Paper', value: (p) => p.title },
  { id: 'date', label: 'Date', kind: 'date', width: 150, value: (p) => p.date, text: (p) => day(p.date) },
  {
    id: 'waiting',
    label: 'Not approved',
    kind: 'money',
    width: 130,
    value: (p) => (p.ready ? '' : p.amount),
    total: true,
  },
  {
    id: 'owed',
    label: 'Owed',
    kind: 'money',
    width: 130,
    rule: true,
    value: (p) => (p.ready ? p.amount : ''),
    total: true,
  },
  { id: 'acts', label: 'Reimburse', width: 190, value: () => '', acts: true },
]
type Paid = NonNullable<Schema['Owed']['paid']>[number]
const paid: Column<Paid>[] = [
  { id: 'worker', label: 'Person', value: (r) => r.worker, tone: 'strong' },
  { id: 'date', label: 'Date', kind: 'date', width: 150, value: (r) => r.date },
  {
    id: 'papers',
    label: 'Papers',
    width: 220,
    value: (r) => counted(r.papers, 'paper') + (r.note ? `, ${r.note}` : ''),
  },
  { id: 'amount', label: 'Amount', kind: 'money', width: 130, value: (r) => r.amount },
  { id: 'acts', label: 'Undo', width: 330, value: () => '', acts: true },
]
const inGroup = (title: string) => papers.value.filter((p) => p.to.worker === title)
</script>

<template>
  <section class="listing">
    <div class="form-row">
      <FormField v-model="on" label="Reimbursed on" kind="date" />
      <span class="said" role="alert">{{ said }}</span>
      <span class="told" role="status">{{ done }}</span>
    </div>
    <Await v-slot="{ data: owed }" :of="asked" what="what is owed">
      <Ledger
        v-model:chosen="chosen"
        name="owed"
        label="To reimburse"
        of="paper"
        :columns="columns"
        :rows="papers"
        :row-key="(p) => p.id"
        :row-name="(p) => `${p.title} of ${p.to.worker}`"
        :group-by="(p) => p.to.worker"
        chooses
      >
        <template #title="{ row }"
          ><router-link class="lnk" :to="`/costs?span=all&open=${row.id}`">{{ row.title }}</router-link></template
        >
        <template #group-acts="{ title }"
          ><v-btn class="small go" :disabled="!of(inGroup(title)).length || busy" @click="pay(inGroup(title))"
            >Reimburse {{ counted(of(inGroup(title)).length, 'paper') }}</v-btn
          ></template
        >
        <template #empty>Nobody is owed anything.</template>
        <template #key
          ><p class="key">
            What somebody laid out, on a claim, a receipt or a mileage log with their name, is owed to them once it is
            approved.
          </p></template
        >
      </Ledger>
      <Ledger
        v-if="owed.paid?.length"
        name="paid-back"
        label="Paid back"
        of="reimbursement"
        :columns="paid"
        :rows="owed.paid"
        :row-key="(r) => r.id"
      >
        <template #tools><h2 class="strong">Reimbursed</h2></template>
        <template #acts="{ row }"
          ><SureButton
            label="Undo reimbursement"
            :sure="`${figure(row.amount)} is owed again.`"
            small
            :disabled="busy"
            @sure="undo(row.id)"
        /></template>
      </Ledger>
    </Await>
  </section>
</template>
