<script setup lang="ts">
import { useScope } from '@/book/scope'
import { computed, ref } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { useForm } from '@/book/form'
import Amount from '@/parts/Amount.vue'
import FormCard from '@/parts/FormCard.vue'
import FormField from '@/parts/FormField.vue'
import Ledger from '@/parts/Ledger.vue'
import { addressOf } from '@/parts/addresses'
import { counted } from '@/parts/figures'
import type { Column } from '@/parts/ledger'
import { offered, useAdding } from './adding'
import { useEdit } from '@/parts/edit'
import EditCard from '@/parts/EditCard.vue'
import { wagePer } from './wages'
import WageList from './WageList.vue'

/** Workers with what an hour of each costs and is charged at. */
const props = defineProps<{ setup: Schema['SetupSheet']; choices: Schema['Choices']; adding: boolean; asOf: string }>()
const scope = useScope()
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
    wagePer: 'hour' as Schema['NewWorker']['wagePer'],
    wageFrom: scope.weekOf(props.asOf), // a week begun without a wage would have hours without a cost
  }),
  keep: ['crew', 'burdenClass', 'wageFrom'],
  send: (body) => answered(client.POST('/api/workers', { body })),
})
type Row = Schema['WorkerRow']
/** Whose wages are open. */
const wageOf = ref<number>()
const edit = useEdit({
  typed: (w: Row) => ({
    name: w.name,
    trade: w.trade,
    crew: w.crew,
    burdenClass: w.burdenClass,
    kind: w.kind as Schema['WorkerChange']['kind'],
    exempt: w.exempt,
    active: w.active,
  }),
  put: (w, body, query) => answered(client.PUT('/api/workers/{id}', { params: { path: { id: w.id }, query }, body })),
  remove: (w, body) => answered(client.POST('/api/workers/{id}/delete', { params: { path: { id: w.id } }, body })),
})
function wages(w: Row) {
  edit.close()
  wageOf.value = wageOf.value === w.id ? undefined : w.id
}
function change(w: Row) {
  wageOf.value = undefined
  edit.open(w)
}
const gone = computed(() => props.setup.workers?.filter((w) => !w.active).length ?? 0)
const showGone = ref(false)
const rows = computed(() => (props.setup.workers ?? []).filter((w) => w.active || showGone.value))
const kinds = [
  ['employee', 'employee'],
  ['hired', 'hired'],
] as const
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
  { id: 'wage', label: 'Wage', kind: 'money', width: 110, value: (w) => w.wage, rule: true },
  { id: 'since', label: 'Since', kind: 'date', width: 120, value: (w) => w.since, tone: 'soft', hideBelow: 1100 },
  { id: 'burdened', label: 'Burdened', kind: 'money', width: 90, value: (w) => w.burdened },
  { id: 'charge', label: 'Charge', kind: 'money', width: 90, value: (w) => w.charge },
  { id: 'margin', label: 'Margin', kind: 'percent', width: 90, value: (w) => w.margin },
  { id: 'acts', label: 'Change', width: 140, value: () => '', acts: true },
]
</script>

<template>
  <section class="listing">
    <FormCard v-if="open" :form="form" label="New worker" submit="Add worker" cancel="Close" @cancel="open = false">
      <FormField label="Name" name="name" size="wide" />
      <FormField label="Trade" name="trade" :list="offered(choices.trades)" />
      <FormField label="Crew" name="crew" :list="choices.crews ?? []" />
      <FormField label="Wage" name="wage" kind="money" size="short" />
      <FormField label="Paid" name="wagePer" kind="choice" :options="wagePer" />
      <FormField label="From" name="wageFrom" kind="date" />
      <FormField label="Burden class" name="burdenClass" :list="choices.burdenClasses?.map((c) => c.name)" />
      <FormField label="Kind" name="kind" kind="choice" :options="kinds" />
    </FormCard>
    <Ledger
      name="workers"
      label="Workers"
      of="worker"
      :columns="columns"
      :rows="rows"
      :row-key="(w) => w.id"
      :find="scope.text('find')"
      :opened="wageOf ?? edit.row.value?.id"
    >
      <template #tools
        ><v-btn v-if="!open" class="small go" @click="open = true">New worker</v-btn
        ><button v-if="gone" class="lnk" @click="showGone = !showGone">
          {{ showGone ? 'Hide who has left' : `Show ${counted(gone, 'worker')} who have left` }}
        </button></template
      >
      <template #name="{ row }"
        ><router-link :to="addressOf({ kind: 'worker', id: row.id })">{{ row.name }}</router-link
        ><span v-if="!row.active" class="soft"> has left</span
        ><span v-else-if="row.kind === 'hired'" class="soft"> hired</span></template
      >
      <template #wage="{ row }"
        ><template v-if="row.wage"
          ><Amount :of="row.wage" /><small v-if="row.per === 'week'" class="soft"> a week</small></template
        ><span v-else class="warnword">no wage</span></template
      >
      <template #burdened="{ row }"
        ><router-link class="lnk" :to="`/setup?part=burden&worker=${row.id}`"><Amount :of="row.burdened" /></router-link
      ></template>
      <template #charge="{ row }"
        ><Amount v-if="row.charge" :of="row.charge" /><span v-else class="warnword">no rate</span></template
      >
      <template #acts="{ row }"
        ><span class="acts-of"
          ><button class="lnk" @click="wages(row)">Wages</button
          ><button class="lnk" @click="change(row)">Change</button></span
        ></template
      >
      <template #below="{ row }">
        <WageList v-if="wageOf" :worker="row" :as-of="asOf" @close="wageOf = undefined" />
        <EditCard v-else :edit="edit" :now="row" :label="`Change ${row.name}`">
          <FormField label="Name" name="name" size="wide" />
          <FormField label="Trade" name="trade" :list="offered(choices.trades)" />
          <FormField label="Crew" name="crew" :list="choices.crews ?? []" />
          <FormField label="Burden class" name="burdenClass" :list="choices.burdenClasses?.map((c) => c.name)" />
          <FormField label="Kind" name="kind" kind="choice" :options="kinds" />
          <FormField label="Paid no overtime" name="exempt" kind="check" />
          <FormField label="Works here" name="active" kind="check" />
        </EditCard>
      </template>
      <template #empty>No workers yet. Add the first above: a name, a trade and a wage are enough.</template>
    </Ledger>
  </section>
</template>
