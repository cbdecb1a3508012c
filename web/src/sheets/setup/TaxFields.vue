<script setup lang="ts">
import type { Schema } from '@/api/client'
import { formAround, type Form } from '@/book/form'
import FormField from '@/parts/FormField.vue'
import { kindNames } from '@/parts/figures'
import { taxKinds, taxSchemes } from './taxes'

/** The fields of a tax code with its components, in the form around them. */
const form = formAround() as unknown as Form<Schema['TaxCode'] & { components: Schema['TaxPart'][] }>
const kinds = [...Object.entries(kindNames), ['fixed', 'Fixed price'], ['other', 'Other'], ['deposit', 'Deposit']] as [
  string,
  string,
][]
const wrong = (i: number, field: string) => form.wrong[`components[${i}].${field}`] ?? ''
/** The next row of the components is like the last one: mostly it is its next percentage. */
function more(): Schema['TaxPart'] {
  const last = form.model.components.at(-1)
  return {
    component: last?.component ?? '',
    effectiveFrom: '',
    percent: '',
    appliesTo: [...(last?.appliesTo ?? [])],
    scheme: last?.scheme ?? '',
  }
}
function on(part: Schema['TaxPart'], kind: string, is: boolean) {
  part.appliesTo = (part.appliesTo ?? []).filter((k) => k !== kind)
  if (is) part.appliesTo.push(kind as NonNullable<typeof part.appliesTo>[number])
}
</script>

<template>
  <FormField label="Code" name="code" size="short" />
  <FormField label="Kind" name="kind" kind="choice" :options="taxKinds" />
  <FormField label="Note, printed on invoices" name="note" size="wide" />
  <FormField
    v-if="form.model.kind === 'standard'"
    label="Tax on what is retained is due when released"
    name="onRelease"
    kind="check"
    size="wide"
  />
  <fieldset v-if="form.model.kind === 'standard'">
    <legend class="sr">Components</legend>
    <div v-for="(part, i) in form.model.components" :key="i" class="part">
      <FormField v-model="part.component" label="Component, on invoices" :wrong="wrong(i, 'component')" />
      <FormField
        v-model="part.effectiveFrom"
        label="From"
        kind="date"
        hint="always"
        :wrong="wrong(i, 'effectiveFrom')"
      />
      <FormField
        v-model="part.percent"
        label="Percent"
        kind="percent"
        unit="%"
        size="short"
        :wrong="wrong(i, 'percent')"
      />
      <FormField
        v-model="part.scheme"
        label="Kind of tax"
        kind="choice"
        :options="taxSchemes"
        :wrong="wrong(i, 'scheme')"
      />
      <span class="on"
        ><span class="soft">on</span
        ><FormField
          v-for="[kind, text] in kinds"
          :key="kind"
          :model-value="part.appliesTo?.includes(kind as never)"
          :label="text"
          kind="check"
          @update:model-value="on(part, kind, !!$event)"
        /><span class="said" role="alert">{{ wrong(i, 'appliesTo') }}</span></span
      >
      <button
        v-if="form.model.components.length > 1"
        type="button"
        class="soft"
        :aria-label="`Delete component ${part.component}`"
        @click="form.model.components.splice(i, 1)"
      >
        ×
      </button>
    </div>
    <button type="button" class="lnk" @click="form.model.components.push(more())">
      Add a component, or the next percentage of one
    </button>
    <span class="said" role="alert">{{ form.wrong.components }}</span>
  </fieldset>
</template>

<style scoped>
fieldset {
  flex-basis: 100%;
  border: 0;
  padding: 0;
}
.part {
  display: flex;
  flex-wrap: wrap;
  align-items: flex-end;
  gap: 8px 12px;
  padding-bottom: 8px;
}
.part > .field {
  width: 8.75rem;
}
.part > .short {
  width: 6rem;
}
.on {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 2px 12px;
}
.part > button {
  min-width: 1.5rem;
  height: 1.625rem;
}
</style>
