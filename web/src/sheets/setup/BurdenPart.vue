<script setup lang="ts">
import { computed } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { useForm } from '@/book/form'
import { useScope } from '@/book/scope'
import FormCard from '@/parts/FormCard.vue'
import FormField from '@/parts/FormField.vue'
import Ledger from '@/parts/Ledger.vue'
import Pick from '@/parts/Pick.vue'
import { figure, percent } from '@/parts/figures'
import type { Column } from '@/parts/ledger'
import { useAdding } from './adding'
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
  { id: 'of', label: 'Basis', width: 112, value: (p) => p.of, tone: 'soft' },
  { id: 'cap', label: 'Cap a year', kind: 'money', width: 96, value: (p) => p.cap, tone: 'soft', hideBelow: 1181 },
  { id: 'since', label: 'Since', kind: 'date', width: 104, value: (p) => p.since, tone: 'soft', hideBelow: 1181 },
  { id: 'regular', label: 'Regular', kind: 'money', width: 82, value: (p) => p.regular, rule: true, total: true },
  { id: 'overtime', label: 'Overtime', kind: 'money', width: 82, value: (p) => p.overtime, total: true },
  { id: 'double', label: 'Double', kind: 'money', width: 82, value: (p) => p.double, total: true },
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
        <FormField label="Burden class" name="burdenClass" :list="choices.burdenClasses?.map((c) => c.name)" />
        <FormField label="Component" name="component" size="wide" />
        <FormField
          label="Basis"
          name="basis"
          kind="choice"
          :options="[
            ['gross', '% of gross pay'],
            ['straight', '% of straight pay'],
            ['hour', 'money an hour'],
          ]"
        />
        <FormField label="Value" name="value" :kind="form.model.basis === 'hour' ? 'money' : 'percent'" size="short" />
        <FormField
          v-if="form.model.basis !== 'hour'"
          label="Cap a year"
          name="annualWageCap"
          kind="money"
          size="short"
        />
        <FormField label="From" name="effectiveFrom" kind="date" />
      </FormCard>
      <div class="title-row">
        <Pick v-if="workers.length" v-model="whose" label="Whose hour" :items="workers" hide-label class="whose" />
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
        bare
      >
        <template #component="{ row }"
          ><span :class="{ strong: row.id === 'wage' }"
            ><i class="swatch" :class="shade(place(row))"></i>{{ row.component }}</span
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
