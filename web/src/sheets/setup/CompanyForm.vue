<script setup lang="ts">
import { computed, watch } from 'vue'
import { answered, client, type Schema } from '@/api/client'
import EditCard from '@/parts/EditCard.vue'
import FormField from '@/parts/FormField.vue'
import { countries } from '@/parts/countries'
import { useEdit } from '@/parts/edit'
import LogoField from './LogoField.vue'

/** The company's settings as a form: what a change of overtime, holidays or taxes alters is said while it is typed. */
const props = defineProps<{
  settings: Schema['Settings']
  choices: Schema['Choices']
  again: () => Promise<Schema['Settings'] | undefined>
}>()
const emit = defineEmits<{ alters: [altered?: Schema['Altered']] }>()
const here = Intl.DateTimeFormat().resolvedOptions().timeZone
const edit = useEdit({
  typed: (s: Schema['Settings']) => ({
    ...s,
    timeZone: s.timeZone || here,
    overtimeDays: [...(s.overtimeDays ?? [])],
    doubleDays: [...(s.doubleDays ?? [])],
    holidays: (s.holidays ?? []).map((h) => ({ ...h })),
  }),
  put: (_, body, query) => answered(client.PUT('/api/company', { params: { query }, body })),
  closed: open,
  again: () => props.again(),
})
/** The form is always open. */
function open(): void {
  edit.open(props.settings)
}
open()
// What is typed stays where somebody else has changed the settings: saving it says so.
watch(
  () => props.settings,
  () => edit.form.dirty || open(),
)
watch(edit.altered, (altered) => emit('alters', altered))
const model = edit.form.model
const wrong = (i: number, field: string) => edit.form.wrong[`holidays[${i}].${field}`] ?? ''
/** The logo is set at once, on a version of its own: what is typed beside it stays. */
async function marked() {
  const now = await props.again()
  if (!now) return
  edit.row.value = now
  edit.met(now)
  edit.form.keepMine()
}
const zones = Intl.supportedValuesOf('timeZone')
const names = new Intl.DateTimeFormat(undefined, { weekday: 'long', timeZone: 'UTC' })
const days = ['monday', 'tuesday', 'wednesday', 'thursday', 'friday', 'saturday', 'sunday'] as const
const dayNames = days.map((d, i) => [d, names.format(Date.UTC(2024, 0, 1 + i))] as const)
const taxes = computed(() => [
  ['', 'none'] as const,
  ...(props.choices.taxCodes ?? []).map((t) => [t.name, t.name] as const),
])
/** How the hours of a weekday are paid. */
const paid = (day: string) =>
  model.doubleDays?.includes(day) ? 'double' : model.overtimeDays?.includes(day) ? 'overtime' : ''
function pay(day: string, as: string) {
  model.overtimeDays = model.overtimeDays.filter((d) => d !== day)
  model.doubleDays = model.doubleDays.filter((d) => d !== day)
  if (as === 'overtime') model.overtimeDays.push(day)
  if (as === 'double') model.doubleDays.push(day)
}
/** What hours on a holiday are paid; what the weekday says stays beside it. */
const onHolidays = [
  ['double', 'double'],
  ['overtime', 'overtime'],
  ['regular', 'as on any day'],
] as const
const asPaid = [
  ['', 'as any day'],
  ['overtime', 'overtime'],
  ['double', 'double'],
] as const
</script>

<template>
  <EditCard :edit="edit" :now="settings" label="The company" class="whole">
    <h2>Who</h2>
    <FormField label="Name, as it stands on every paper" name="name" size="wide" />
    <FormField label="Street, lines above the city" name="address" kind="lines" size="wide" />
    <FormField label="Post code" name="postCode" size="short" />
    <FormField label="City" name="city" />
    <FormField label="State or region" name="region" />
    <FormField label="Country" name="country" kind="choice" :options="countries" />
    <FormField label="E-mail" name="email" kind="email" size="wide" />
    <FormField label="Phone" name="phone" />
    <FormField label="Tax number, on invoices" name="taxNumber" />
    <FormField label="Number in the register" name="registration" />
    <FormField label="E-invoices reach us at" name="endpoint" />
    <FormField label="Kind of that address, EAS" name="endpointScheme" size="short" hint="0088, EM" />
    <FormField label="Licence number, on invoices" name="licence" />
    <LogoField :settings="edit.row.value" @set="marked" />

    <h2>How customers pay</h2>
    <FormField label="Bank" name="bank" size="wide" />
    <FormField label="Payee, if not the company" name="payee" size="wide" />
    <FormField label="Account, or IBAN" name="account" size="wide" />
    <FormField label="Bank code: BIC, routing or sort code" name="bankCode" />
    <FormField label="Or how else" name="payNote" size="wide" />
    <FormField
      label="Papers are printed on"
      name="paperSize"
      kind="choice"
      :options="[
        ['', 'as in its country'],
        ['a4', 'A4'],
        ['letter', 'Letter'],
      ]"
    />
    <FormField label="Colour of papers" name="accent" size="short" hint="#1e2f55" />

    <h2>When</h2>
    <FormField label="Time zone, says what day today is" name="timeZone" :list="zones" size="wide" />
    <FormField label="Weeks start on" name="weekStart" kind="choice" :options="dayNames" />
    <FormField label="Dated ahead at most" name="daysAhead" kind="number" unit="days" size="short" />
    <FormField label="Missing days are asked about for" name="missingDays" kind="number" unit="days" size="short" />

    <h2>Terms and numbers</h2>
    <FormField label="An invoice is due after" name="termsDays" kind="number" unit="days" size="short" />
    <FormField label="Unbilled is late after" name="unbilledAlertDays" kind="number" unit="days" size="short" />
    <FormField label="Invoice prefix" name="invoicePrefix" size="short" />
    <FormField label="Next invoice" name="nextInvoiceNumber" size="short" />
    <FormField label="Next job" name="nextJobNumber" size="short" />
    <FormField label="Rate card, asked last" name="card" :list="choices.cards?.map((c) => c.name)" />
    <FormField label="Tax code" name="taxCode" kind="choice" :options="taxes" />
    <FormField
      label="Tax on purchases"
      name="purchaseTax"
      kind="choice"
      :options="[
        ['cost', 'is a cost'],
        ['recovered', 'is recovered'],
      ]"
    />
    <FormField
      label="Distances in"
      name="distanceUnit"
      kind="choice"
      :options="[
        ['mi', 'miles'],
        ['km', 'kilometres'],
      ]"
    />

    <h2>Overtime</h2>
    <FormField label="Beyond, a day" name="overtimeDaily" hint="no limit" unit="h" size="short" />
    <FormField label="Beyond, a week" name="overtimeWeekly" hint="no limit" unit="h" size="short" />
    <FormField label="it is paid" name="overtimeFactor" kind="number" unit="times" size="short" />
    <FormField label="Double beyond, a day" name="doubleDaily" hint="never" unit="h" size="short" />
    <FormField label="it is paid" name="doubleFactor" kind="number" unit="times" size="short" />
    <span class="row"
      ><FormField
        v-for="[d, text] in dayNames"
        :key="d"
        :model-value="paid(d)"
        :label="text"
        kind="choice"
        :options="asPaid"
        @update:model-value="pay(d, String($event))"
    /></span>

    <h2>Holidays</h2>
    <FormField label="Hours worked on a holiday are" name="holidayClass" kind="choice" :options="onHolidays" />
    <div class="row days">
      <span v-for="(h, i) in model.holidays" :key="i" class="holiday">
        <FormField v-model="h.date" label="Date" kind="date" :hide-label="i > 0" :wrong="wrong(i, 'date')" />
        <FormField v-model="h.name" label="Holiday" :hide-label="i > 0" :wrong="wrong(i, 'name')" />
        <button
          type="button"
          class="soft"
          :aria-label="`Delete holiday ${h.name || h.date}`"
          @click="model.holidays.splice(i, 1)"
        >
          ×
        </button>
      </span>
      <button type="button" class="lnk" @click="model.holidays.push({ date: '', name: '' })">Add a holiday</button>
    </div>
  </EditCard>
</template>

<style scoped>
.whole {
  background: none;
}
h2,
.row {
  flex-basis: 100%;
}
h2 {
  font-size: 0.875rem;
  font-weight: 660;
  padding-top: 6px;
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
}
.days {
  flex-direction: column;
  align-items: flex-start;
  gap: 4px;
}
.holiday {
  display: flex;
  align-items: flex-end;
  gap: 12px;
}
.holiday > button {
  min-width: 1.5rem;
  height: 1.625rem;
}
</style>
