<script setup lang="ts">
import { useScope } from '@/book/scope'
import { ref } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { useForm } from '@/book/form'
import Amount from '@/parts/Amount.vue'
import FormCard from '@/parts/FormCard.vue'
import FormField from '@/parts/FormField.vue'
import Ledger from '@/parts/Ledger.vue'
import type { Column } from '@/parts/ledger'
import { useAdding } from './adding'

/** Workers with what an hour of each costs and is charged at. */
const props = defineProps<{ setup: Schema['SetupSheet']; choices: Schema['Choices']; adding: boolean; asOf: string }>()
const open = useAdding(
  () => props.adding,
  () => !props.setup.workers?.length,
)
const form = useForm({
  blank: () => ({
    name: '',
    trade: '',
    crew: '',
    burdenClass: props.choices.burdenClasses?.[0]?.name ?? '',
    kind: 'employee' as Schema['NewWorker']['kind'],
    exempt: false,
    wage: '',
    wageFrom: props.asOf,
  }),
  keep: ['crew', 'burdenClass', 'wageFrom'],
  send: (body) => answered(client.POST('/api/workers', { body })),
})
type Row = NonNullable<Schema['SetupSheet']['workers']>[number]
const wageOf = ref<number>()
const raise = useForm({
  blank: () => ({ rate: '', effectiveFrom: props.asOf }),
  send: (body) => answered(client.POST('/api/wages', { body: { workerId: wageOf.value!, ...body } })),
  done: () => (wageOf.value = undefined),
})
function change(w: Row) {
  wageOf.value = w.id
  raise.reset({ rate: w.wage ?? '' })
}
const columns: Column<Row>[] = [
  { id: 'name', label: 'Worker', value: (w) => w.name, tone: 'strong' },
  { id: 'trade', label: 'Trade', width: 150, value: (w) => w.trade },
  { id: 'crew', label: 'Crew', width: 130, value: (w) => w.crew },
  {
    id: 'class',
    label: 'Burden class',
    width: 130,
    value: (w) => w.burdenClass || 'none',
    tone: 'soft',
    hideBelow: 1100,
  },
  { id: 'wage', label: 'Wage', kind: 'money', width: 90, value: (w) => w.wage, rule: true },
  { id: 'since', label: 'Since', kind: 'date', width: 120, value: (w) => w.since, tone: 'soft', hideBelow: 1100 },
  { id: 'burdened', label: 'Burdened', kind: 'money', width: 100, value: (w) => w.burdened },
  { id: 'charge', label: 'Charge', kind: 'money', width: 100, value: (w) => w.charge },
  { id: 'margin', label: 'Margin', kind: 'percent', width: 90, value: (w) => w.margin },
  { id: 'acts', label: 'Change', width: 110, value: () => '', acts: true },
]
const scope = useScope()
</script>

<template>
  <section class="listing">
    <FormCard v-if="open" :form="form" label="New worker" submit="Add worker" cancel="Close" @cancel="open = false">
      <FormField label="Name" name="name" size="wide" />
      <FormField label="Trade" name="trade" :list="choices.trades?.map((t) => t.name)" />
      <FormField label="Crew" name="crew" :list="choices.crews ?? []" />
      <FormField label="Wage an hour" name="wage" kind="money" size="short" />
      <FormField label="From" name="wageFrom" kind="date" />
      <FormField label="Burden class" name="burdenClass" :list="choices.burdenClasses?.map((c) => c.name)" />
      <FormField
        label="Kind"
        name="kind"
        kind="choice"
        :options="[
          ['employee', 'employee'],
          ['hired', 'hired'],
        ]"
      />
    </FormCard>
    <Ledger
      name="workers"
      label="Workers"
      of="worker"
      :columns="columns"
      :rows="setup.workers ?? []"
      :row-key="(w) => w.id"
      :find="scope.text('find')"
      :opened="wageOf"
    >
      <template #tools><v-btn v-if="!open" class="small go" @click="open = true">New worker</v-btn></template>
      <template #name="{ row }">{{ row.name }}<span v-if="row.kind === 'hired'" class="soft"> hired</span></template>
      <template #wage="{ row }"
        ><Amount v-if="row.wage" :of="row.wage" /><span v-else class="warnword">no wage</span></template
      >
      <template #burdened="{ row }"
        ><router-link class="lnk" :to="`/setup?part=burden&worker=${row.id}`"><Amount :of="row.burdened" /></router-link
      ></template>
      <template #charge="{ row }"
        ><Amount v-if="row.charge" :of="row.charge" /><span v-else class="warnword">no rate</span></template
      >
      <template #acts="{ row }"><button class="lnk" @click="change(row)">New wage</button></template>
      <template #below="{ row }">
        <FormCard
          :form="raise"
          :label="`New wage of ${row.name}`"
          submit="Save wage"
          cancel="Cancel"
          @cancel="wageOf = undefined"
        >
          <FormField :label="`Wage of ${row.name} an hour`" name="rate" kind="money" />
          <FormField label="From" name="effectiveFrom" kind="date" />
          <template #after><span class="soft">Work before that day keeps the wage it had.</span></template>
        </FormCard>
      </template>
      <template #empty>No workers yet. Add the first above: a name, a trade and a wage are enough.</template>
    </Ledger>
  </section>
</template>
