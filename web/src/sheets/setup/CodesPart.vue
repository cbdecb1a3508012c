<script setup lang="ts">
import { ref } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import { useForm } from '@/book/form'
import FormCard from '@/parts/FormCard.vue'
import FormField from '@/parts/FormField.vue'
import Ledger from '@/parts/Ledger.vue'
import { kindNames } from '@/parts/figures'
import type { Column } from '@/parts/ledger'
import { useEdit } from '@/parts/edit'
import EditCard from '@/parts/EditCard.vue'
import TaxFields from './TaxFields.vue'
import { taxKindNames } from './taxes'
import TradeList from './TradeList.vue'
import UnitList from './UnitList.vue'

/** Cost codes, trades, units and taxes. */
const props = defineProps<{ setup: Schema['SetupSheet'] }>()
const form = useForm({
  blank: () => ({ code: '', name: '' }),
  send: (body) => answered(client.POST('/api/cost-codes', { body })),
})
type Code = Schema['CodeRow']
const edit = useEdit({
  typed: (c: Code) => ({ code: c.code, name: c.name, active: c.active }),
  put: (c, body, query) =>
    answered(client.PUT('/api/cost-codes/{id}', { params: { path: { id: c.id }, query }, body })),
  remove: (c, body) => answered(client.POST('/api/cost-codes/{id}/delete', { params: { path: { id: c.id } }, body })),
})
const codes: Column<Code>[] = [
  { id: 'code', label: 'Code', width: 120, value: (c) => c.code, tone: 'strong' },
  { id: 'name', label: 'Description', value: (c) => c.name },
  { id: 'acts', label: 'Change', width: 90, value: () => '', acts: true },
]
type Tax = Schema['TaxRow']
/** A tax code with all of its components. */
const allOf = (t: Tax) => props.setup.taxCodes?.filter((x) => x.codeId === t.codeId) ?? []
const componentsOf = (t: Tax) => allOf(t).filter((x) => x.component)
/** What is sent of a tax code: one that is not taxed has no components. */
const taxBody = <T extends { kind?: string; components: unknown[] }>(body: T): T =>
  body.kind === 'standard' ? body : { ...body, components: [] }
const blankTax = () => ({
  code: '',
  kind: 'standard' as Schema['TaxCode']['kind'],
  note: '',
  onRelease: false,
  components: [
    {
      component: '',
      effectiveFrom: '',
      percent: '',
      appliesTo: Object.keys(kindNames) as Schema['TaxPart']['appliesTo'],
      scheme: '',
    },
  ],
})
const adding = ref(false)
const newTax = useForm({
  blank: blankTax,
  send: (body) => answered(client.POST('/api/tax-codes', { body: taxBody(body) })),
  done: () => (adding.value = false),
})
const taxEdit = useEdit({
  typed: (t: Tax) => ({
    code: t.code,
    kind: t.kind,
    note: t.note ?? '',
    onRelease: t.onRelease ?? false,
    components: componentsOf(t).map((x) => ({
      component: x.component,
      effectiveFrom: x.effectiveFrom ?? '',
      percent: x.percent,
      appliesTo: x.appliesTo.split(' ') as Schema['TaxPart']['appliesTo'],
      scheme: x.scheme ?? '',
    })),
  }),
  put: (t, body, query) =>
    answered(client.PUT('/api/tax-codes/{id}', { params: { path: { id: t.codeId }, query }, body: taxBody(body) })),
  remove: (t, body) =>
    answered(client.POST('/api/tax-codes/{id}/delete', { params: { path: { id: t.codeId } }, body })),
})
const keyOf = (t: Tax) => `${t.code} ${t.component} ${t.effectiveFrom ?? ''}`
const taxes: Column<Tax>[] = [
  { id: 'code', label: 'Tax code', width: 120, value: (t) => t.code, tone: 'strong' },
  { id: 'component', label: 'Component', value: (t) => t.component || taxKindNames[t.kind] },
  { id: 'from', label: 'From', kind: 'date', width: 110, value: (t) => t.effectiveFrom, tone: 'soft' },
  { id: 'percent', label: 'Percent', kind: 'percent', width: 100, value: (t) => t.percent },
  { id: 'on', label: 'On', width: 150, value: (t) => t.appliesTo, tone: 'soft' },
  { id: 'acts', label: 'Change', width: 80, value: () => '', acts: true },
]
</script>

<template>
  <div class="split two-parts">
    <section>
      <FormCard :form="form" label="New cost code" submit="Add cost code">
        <FormField label="Code" name="code" size="short" />
        <FormField label="Description" name="name" size="wide" />
      </FormCard>
      <Ledger
        name="codes"
        label="Cost codes"
        of="cost code"
        :columns="codes"
        :rows="setup.costCodes ?? []"
        :row-key="(c) => c.id"
        :opened="edit.row.value?.id"
      >
        <template #name="{ row }">{{ row.name }}<span v-if="!row.active" class="soft"> retired</span></template>
        <template #acts="{ row }"><button class="lnk" @click="edit.open(row)">Change</button></template>
        <template #below="{ row }">
          <EditCard :edit="edit" :now="row" :label="`Change cost code ${row.code}`">
            <FormField label="Code" name="code" size="short" />
            <FormField label="Description" name="name" size="wide" />
            <FormField label="Offered" name="active" kind="check" />
          </EditCard>
        </template>
        <template #empty>No cost codes. They say what kind of work was done.</template>
      </Ledger>
    </section>
    <section>
      <FormCard
        v-if="adding"
        :form="newTax"
        label="New tax code"
        submit="Add tax code"
        cancel="Close"
        @cancel="adding = false"
        ><TaxFields
      /></FormCard>
      <Ledger
        name="taxes"
        label="Taxes"
        of="tax"
        :columns="taxes"
        :rows="setup.taxCodes ?? []"
        :row-key="keyOf"
        :opened="taxEdit.row.value && keyOf(taxEdit.row.value)"
      >
        <template #tools><v-btn v-if="!adding" class="small go" @click="adding = true">New tax code</v-btn></template>
        <template #acts="{ row }"
          ><button v-if="row === allOf(row)[0]" class="lnk" @click="taxEdit.open(row)">Change</button></template
        >
        <template #below="{ row }">
          <EditCard :edit="taxEdit" :now="row" :label="`Change tax code ${row.code}`"><TaxFields /></EditCard>
        </template>
        <template #empty
          >No taxes yet. A code can have parts, such as a state's and a city's, each on some kinds of cost.</template
        >
      </Ledger>
      <TradeList :trades="setup.trades ?? []" />
      <UnitList :units="setup.units ?? []" />
    </section>
  </div>
</template>

<style scoped>
.two-parts {
  grid-template-columns: 1fr 1fr;
}
/* Three lists and a form that grows share the right half: what has no room is scrolled to. */
.two-parts > section {
  overflow-y: auto;
}
.two-parts > section > :deep(*) {
  flex: none;
}
</style>
