<script setup lang="ts">
import { computed } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { useForm } from '@/book/form'
import { useScope } from '@/book/scope'
import FormCard from '@/parts/FormCard.vue'
import Ledger from '@/parts/Ledger.vue'
import Pick from '@/parts/Pick.vue'
import { figure, longDay, percent } from '@/parts/figures'
import type { Column } from '@/parts/ledger'
import EditCard from '@/parts/EditCard.vue'
import { useEdit } from '@/parts/edit'
import { useAdding } from './adding'
import BurdenFields from './BurdenFields.vue'
import BurdenStack from './BurdenStack.vue'

/** A wage stacked up, component by component, to its burdened rate: as a sum, and as a picture. */
const props = defineProps<{ setup: Schema['SetupSheet']; choices: Schema['Choices']; adding: boolean; asOf: string }>()
const scope = useScope()
const build = computed(() => props.setup.build)
const open = useAdding(
  () => props.adding,
  () => !props.setup.burdens?.length,
)
const form = useForm({
  blank: () => ({
    burdenClass: props.choices.burdenClasses?.[0]?.name ?? 'Field',
    component: '',
    costCode: '',
    basis: 'gross' as Schema['NewBurden']['basis'],
    value: '',
    annualWageCap: '',
    effectiveFrom: props.asOf,
  }),
  keep: ['burdenClass', 'basis', 'effectiveFrom'],
  send: (body) => answered(client.POST('/api/burdens', { body })),
})
const basisText: Record<string, string> = { gross: 'of gross pay', straight: 'of straight pay', hour: 'an hour' }
const whose = computed({
  get: () => build.value?.worker.id,
  set: (id?: number) => id && void scope.change({ worker: String(id) }),
})
/** The work that the picture is of: cover may depend on it. */
const code = computed({
  get: () => Number(scope.text('code')) || 0,
  set: (id?: number) => void scope.change({ code: id ? String(id) : undefined }),
})
const codes = computed(() => [
  { id: 0, title: 'any work', sub: 'without rows of its own' },
  ...(props.choices.costCodes ?? []).map((c) => ({ id: c.id, title: c.code, sub: c.name })),
])
const ofCode = computed(() => (props.setup.burdens ?? []).filter((b) => b.costCode))
const workers = computed(() => (props.setup.workers ?? []).map((w) => ({ id: w.id, title: w.name, sub: w.trade })))
const shade = (i: number) => (i ? `shade-${Math.min(i - 1, 5)}` : 'wage')

type Part = Schema['BurdenBuild']['wage']
type Row = Omit<Part, 'id'> & { id: string; of?: string; cap?: string }
const rows = computed<Row[]>(() => {
  const b = build.value
  if (!b) return []
  const line = (p: Part, id: string, of?: string): Row => ({ ...p, id, of, cap: p.annualWageCap })
  return [
    { ...line(b.wage, 'wage', 'an hour'), component: 'Wage', basis: 'hour' as Part['basis'] },
    ...(b.parts ?? []).map((p) => line(p, String(p.id), basisText[p.basis])),
  ]
})
/** The dated rows behind the build-up, the latest of each component. */
type Dated = Schema['ClassRow']
const dated = (row: Row) => props.setup.burdens?.find((b) => String(b.id) === row.id)
const edit = useEdit({
  typed: (b: Dated) => ({
    burdenClass: b.burdenClass,
    component: b.component,
    costCode: b.costCode ?? '',
    basis: b.basis as Schema['NewBurden']['basis'],
    value: b.value,
    annualWageCap: b.annualWageCap ?? '',
    effectiveFrom: b.since,
  }),
  put: (b, body, query) => answered(client.PUT('/api/burdens/{id}', { params: { path: { id: b.id }, query }, body })),
  remove: (b, body) => answered(client.POST('/api/burdens/{id}/delete', { params: { path: { id: b.id } }, body })),
})
function change(row: Row) {
  const of = dated(row)
  if (of) edit.open(of)
}
const place = (row: Row) => rows.value.indexOf(row)
const columns: Column<Row>[] = [
  { id: 'component', label: 'Component', value: (p) => p.component },
  {
    id: 'value',
    label: 'Value',
    kind: 'money',
    width: 84,
    value: (p) => p.value,
    text: (p) => (p.basis === 'hour' ? figure(p.value) : percent(p.value)),
  },
  { id: 'of', label: 'Basis', width: 100, value: (p) => p.of, tone: 'soft' },
  { id: 'cap', label: 'Cap a year', kind: 'money', width: 84, value: (p) => p.cap, tone: 'soft', hideBelow: 1181 },
  { id: 'since', label: 'Since', kind: 'date', width: 98, value: (p) => p.since, tone: 'soft', hideBelow: 1181 },
  { id: 'regular', label: 'Regular', kind: 'money', width: 70, value: (p) => p.regular, rule: true, total: true },
  { id: 'overtime', label: 'Overtime', kind: 'money', width: 70, value: (p) => p.overtime, total: true },
  { id: 'double', label: 'Double', kind: 'money', width: 70, value: (p) => p.double, total: true },
  { id: 'acts', label: 'Change', width: 74, value: () => '', acts: true },
]
const classes = ['regular', 'overtime', 'double'] as const
</script>

<template>
  <div class="split burden">
    <section>
      <FormCard
        v-if="open"
        :form="form"
        label="New burden component"
        submit="Add component"
        cancel="Close"
        @cancel="open = false"
      >
        <BurdenFields :choices="choices" />
      </FormCard>
      <div class="title-row">
        <Pick v-if="workers.length" v-model="whose" label="Whose hour" :items="workers" hide-label class="whose" />
        <Pick v-if="ofCode.length" v-model="code" label="Work" :items="codes" hide-label class="whose" />
        <span class="soft">{{ build?.burdenClass || 'no burden class' }}</span>
        <v-btn v-if="!open" class="small end" @click="open = true">New component</v-btn>
      </div>
      <Ledger
        v-if="build"
        name="burden"
        label="Burden build-up"
        of="component"
        :columns="columns"
        :rows="rows"
        :row-key="(p) => p.id"
        :opened="edit.row.value && String(edit.row.value.id)"
        bare
      >
        <template #acts="{ row }"
          ><button v-if="dated(row)" class="lnk" @click="change(row)">Change</button
          ><router-link v-else class="lnk" to="/setup?part=workers">Wages</router-link></template
        >
        <template #below="{ row }">
          <EditCard :edit="edit" :label="`Change ${row.component}`"><BurdenFields :choices="choices" /></EditCard>
        </template>
        <template #component="{ row }"
          ><span :class="{ strong: row.id === 'wage' }"
            ><i class="swatch" :class="shade(place(row))"></i>{{ row.component }}</span
          ><small v-if="row.costCode" class="soft"> for {{ row.costCode }}</small
          ><small v-if="row.id === 'wage' && build.weekly" class="soft">
            a 40th of {{ figure(build.weekly) }} a week</small
          ></template
        >
        <template #key>
          <dl v-if="build.charge" class="sums">
            <div v-for="c in classes" :key="c">
              <dt>{{ c }} hour: burdened {{ figure(build.total[c]) }}, charged</dt>
              <dd>{{ figure(build.charge[c]) }}</dd>
              <dd class="soft">margin {{ percent(build.margins?.[c]) }}</dd>
            </div>
          </dl>
          <p v-if="ofCode.length" class="key">
            <span>Rows for a cost code hold for that work in place of the others:</span>
            <button v-for="b in ofCode" :key="b.id" class="lnk" @click="edit.open(b)">
              {{ b.burdenClass }} {{ b.component }} for {{ b.costCode }} since {{ longDay(b.since) }}
            </button>
          </p>
          <p class="key">
            The total is the burdened hour, before any cap is used up. It is charged by the company's card; margin is
            the part of the charge that is left over.
          </p>
        </template>
      </Ledger>
      <p v-else class="empty soft">
        Add a worker with a wage, and this is where it is stacked up to what an hour really costs.
      </p>
    </section>
    <section><BurdenStack v-if="build" :build="build" /></section>
  </div>
</template>

<style scoped>
.burden {
  grid-template-columns: minmax(0, 1fr) minmax(0, clamp(20rem, 36vw, 27.5rem));
}
.whose {
  width: 13.75rem;
  line-height: 1.125rem;
}
.wage {
  --kind: var(--denim);
}
.shade-0 {
  --kind: color-mix(in srgb, var(--denim) 82%, var(--paper));
}
.shade-1 {
  --kind: color-mix(in srgb, var(--denim) 66%, var(--paper));
}
.shade-2 {
  --kind: color-mix(in srgb, var(--denim) 50%, var(--paper));
}
.shade-3 {
  --kind: color-mix(in srgb, var(--denim) 38%, var(--paper));
}
.shade-4 {
  --kind: color-mix(in srgb, var(--denim) 27%, var(--paper));
}
.shade-5 {
  --kind: color-mix(in srgb, var(--denim) 17%, var(--paper));
}
.sums {
  padding: 8px 16px;
}
.sums > div {
  display: flex;
  gap: 10px;
  line-height: 1.375rem;
}
.sums dd {
  font-weight: 640;
}
.sums dd.soft {
  font-weight: 400;
}
</style>
